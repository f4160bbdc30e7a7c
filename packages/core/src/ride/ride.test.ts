import fc from 'fast-check';
import {
  canBecome,
  graverOf,
  isOver,
  readingsFromMarks,
  RIDE_STATES,
  stopConditions,
  USUAL_LIMITS,
  type ManualMark,
} from './index.js';

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

describe('what was read by hand', () => {
  const mark = (kind: string, at: number, more: Partial<ManualMark> = {}): ManualMark => ({
    kind,
    at: new Date(at * 1000).toISOString(),
    place: null,
    value: null,
    ...more,
  });
  it('counts by the newest reading of each thing, in whatever order the marks come', () => {
    const marks = [
      mark('temperature', 30, { place: 'motor', value: 61 }),
      mark('temperature', 10, { place: 'motor', value: 97 }),
      mark('temperature', 12, { place: 'air', value: 99 }),
      mark('temperature', 12, { place: 'battery', value: 41 }),
      mark('voltage', 20, { value: 47.5 }),
      mark('note', 25),
    ];
    expect(readingsFromMarks(marks)).toEqual({ motorC: 61, batteryC: 41, packV: 47.5 });
    expect(readingsFromMarks([...marks].reverse())).toEqual(readingsFromMarks(marks));
  });
  it('leaves out what was undone', () =>
    expect(
      readingsFromMarks([
        mark('brake-trouble', 1, { isUndone: true }),
        mark('temperature', 2, { place: 'motor', value: 99, isUndone: true }),
      ]),
    ).toEqual({}));
  it('of logger and hand the graver one counts, stops first', () => {
    const logger = stopConditions(USUAL_LIMITS, { motorC: 90, batteryC: 45 });
    const handStops = stopConditions(USUAL_LIMITS, { motorC: 97, hasBrakeTrouble: true });
    expect(graverOf(logger, handStops).map(({ code, severity, value }) => [code, severity, value])).toEqual([
      ['motor-hot', 'stop', 97],
      ['brake-trouble', 'stop', null],
      ['battery-hot', 'caution', 45],
    ]);
    expect(graverOf(handStops, [])).toEqual(handStops);
  });
});
