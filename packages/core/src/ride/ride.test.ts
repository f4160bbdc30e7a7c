import fc from 'fast-check';
import { canBecome, isOver, RIDE_STATES, stopConditions, USUAL_LIMITS } from './index.js';

describe('stop conditions', () => {
  it.each([
    [86.9, undefined],
    [87, 'caution'],
    [94.9, 'caution'],
    [95, 'stop'],
  ])('motor at %d °C: %s', (motorC, severity) =>
    expect(stopConditions(USUAL_LIMITS, { motorC })[0]?.severity).toBe(severity),
  );
  it('names brake trouble first and says how far to cool', () => {
    const found = stopConditions(
      { ...USUAL_LIMITS, packV: 39 },
      { motorC: 90, packV: 38.9, hasBrakeTrouble: true, batteryC: 51 },
    );
    expect(found.map(({ code, severity }) => `${code} ${severity}`)).toEqual([
      'brake-trouble stop',
      'battery-hot stop',
      'pack-low stop',
      'motor-hot caution',
    ]);
    expect(found.at(-1)!.coolToC).toBe(60);
  });
  it('says nothing of a limit that is not known', () => expect(stopConditions(USUAL_LIMITS, { packV: 1 })).toEqual([]));
  it('never gets milder as it gets hotter', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 150, noNaN: true }),
        fc.double({ min: 0, max: 30, noNaN: true }),
        (t, more) => {
          const rank = (motorC: number): number =>
            ['caution', 'stop'].indexOf(stopConditions(USUAL_LIMITS, { motorC })[0]?.severity ?? '');
          expect(rank(t + more)).toBeGreaterThanOrEqual(rank(t));
        },
      ),
    ));
});

describe('the states of a ride', () => {
  it('lead from preparing to an end, and an end stays one', () => {
    expect(canBecome('preparing', 'armed') && canBecome('armed', 'running') && canBecome('running', 'finished')).toBe(
      true,
    );
    expect(canBecome('running', 'kept')).toBe(false);
    for (const state of RIDE_STATES.filter(isOver))
      for (const to of RIDE_STATES) expect(canBecome(state, to)).toBe(false);
  });
});
