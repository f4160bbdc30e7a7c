import type { CleanLog } from '../../logs/index.js';
import { proposeRiding } from '../index.js';

/** A minute and a half of riding at 6 m/s, once a second, with constant channels. */
const logOf = (channels: Record<string, number>): CleanLog => {
  const timeS = Float64Array.from({ length: 90 }, (_, k) => k);
  return {
    timeS,
    channels: Object.fromEntries(
      Object.entries({ speed: 6, ...channels }).map(([name, value]) => [name, timeS.map(() => value)]),
    ),
  } as unknown as CleanLog;
};
const codes = (channels: Record<string, number>): string[] => proposeRiding(logOf(channels)).map(({ code }) => code);

describe('how a log looks to have been ridden', () => {
  it.each<[string, Record<string, number>, string[]]>([
    ['throttle open, cranks still', { throttle: 0.7, cadence: 0, power: 240 }, ['looks-like-throttle']],
    ['cranks turning, by the watts of the rider', { cadence: 65, riderPower: 90, power: 150 }, ['looks-like-steady']],
    ['cranks turning hard', { cadence: 80, riderPower: 170, power: 150 }, ['looks-like-hard']],
    ['cranks turned without force', { cadence: 50, riderPower: 6, power: 250 }, ['looks-like-ghost']],
    ['no power from the motor', { cadence: 70, power: 1 }, ['looks-like-off']],
    [
      'a level held all the way',
      { cadence: 70, riderPower: 90, power: 150, assistLevel: 3 },
      ['looks-like-steady', 'level-held-3'],
    ],
  ])('is proposed from %s', (_what, channels, expected) => expect(codes(channels)).toEqual(expected));

  it('is not proposed where the log does not tell', () => {
    expect(codes({ power: 200 })).toEqual([]);
    expect(codes({ throttle: 0.7, power: 240 })).toEqual([]);
    expect(proposeRiding({ timeS: Float64Array.of(0, 1), channels: {} } as unknown as CleanLog)).toEqual([]);
  });

  it('says why, so that a person can judge it', () =>
    expect(proposeRiding(logOf({ throttle: 0.7, cadence: 0, power: 240 }))[0]!.message).toContain(
      'open in 100 % of the time in motion',
    ));
});
