import fc from 'fast-check';
import { manualFigures, type ManualReadings, type TestContext } from '../index.js';

const LENGTH_M = 5000;
const loop = { lengthM: LENGTH_M, startM: 0, finishM: LENGTH_M, isWhole: true, isLoop: true };
const press = (gate: 'finish' | 'lap' | 'start', elapsedS: number) => ({ gate, elapsedS, direction: 1 as const });
/** Gauge of a 600 Wh pack that went down by half. */
const energy: TestContext = {
  pack: {
    chemistry: 'li-ion-nmc',
    capacityAh: 13.6,
    nominalVoltageV: 46.8,
    measuredEnergyWh: 600,
    measuredEnergyUncertaintyWh: 6,
  },
  gauge: { startShare: 1, endShare: 0.5, stepShare: 0.1 },
};
function figuresOf(manualReadings: ManualReadings, context: TestContext) {
  const codes: string[] = [];
  const figures = manualFigures('range', manualReadings, { ...energy, ...context }, (code) => void codes.push(code));
  return { codes, get: (key: string) => figures.find((figure) => figure.key === key) };
}

describe('a ride over several laps by hand', () => {
  it('is as long as the laps that were said, however they were pressed', () => {
    const round = [press('start', 0), press('lap', 900), press('lap', 1800), press('lap', 2700), press('finish', 3600)];
    const ends = [press('start', 0), press('finish', 3600)];
    const each = [0, 1, 2, 3].flatMap((k) => [press('start', 900 * k), press('finish', 900 * (k + 1))]);
    for (const laps of [round, ends, each]) {
      const { get, codes } = figuresOf({ laps }, { course: loop, laps: 4 });
      expect(get('distance')!.value).toBeCloseTo(20, 9);
      expect(get('meanMovingSpeed')!.value).toBeCloseTo(20, 9);
      expect(get('netConsumption')!.value).toBeCloseTo(15, 9);
      expect(codes).not.toContain('laps-unclear');
    }
  });
  it('counts whole rounds where the gates lie closer together than a round', () => {
    const course = { ...loop, startM: 400, finishM: 4600, isWhole: false };
    const { get } = figuresOf({ laps: [press('start', 0), press('finish', 3600)] }, { course, laps: 3 });
    expect(get('distance')!.value).toBeCloseTo(2 * 5 + 4.2, 9);
  });
  it('counts the rest of each round between passes that are timed over a part of it', () => {
    const course = { ...loop, startM: 400, finishM: 4400, isWhole: false };
    const laps = [0, 1, 2].flatMap((k) => [press('start', 900 * k), press('finish', 900 * k + 720)]);
    const said = figuresOf({ laps }, { course, laps: 3 });
    expect(said.get('distance')!.value).toBeCloseTo(2 * 5 + 4, 9);
    expect(said.get('meanMovingSpeed')!.value).toBeCloseTo(20, 9);
    const unsaid = figuresOf({ laps }, { course });
    expect(unsaid.get('netConsumption')).toBeUndefined();
    expect(unsaid.codes).toContain('laps-unclear');
    expect(unsaid.get('meanMovingSpeed')!.value).toBeCloseTo(20, 9);
  });
  it('knows gates on the way by the course', () => {
    const laps = [press('start', 0), press('lap', 300), press('lap', 600), press('finish', 900)];
    const known = figuresOf({ laps }, { course: { ...loop, lapGates: 2 }, laps: 1 });
    expect(known.get('distance')!.value).toBe(5);
    const unknown = figuresOf({ laps }, { course: loop, laps: 1 });
    expect(unknown.get('distance')).toBeUndefined();
    expect(unknown.get('netConsumption')).toBeUndefined();
    expect(unknown.codes).toContain('laps-unclear');
  });
  it.each([
    ['fewer presses than laps', [press('start', 0), press('lap', 900), press('finish', 1800)], 4, true],
    [
      'fewer passes than laps',
      [press('start', 0), press('finish', 900), press('start', 900), press('finish', 1800)],
      4,
      true,
    ],
    ['laps of a way that does not come round', [press('start', 0), press('finish', 900)], 2, false],
  ])('gives no distance for %s, until the display says it', (_, laps, said, isLoop) => {
    const context = { course: { ...loop, isLoop }, laps: said };
    const { get, codes } = figuresOf({ laps }, context);
    expect(get('distance')).toBeUndefined();
    expect(get('netConsumption')).toBeUndefined();
    expect(codes).toContain('laps-unclear');
    const withTrip = figuresOf({ laps, tripDistanceKm: 10 }, context);
    expect(withTrip.get('netConsumption')!.value).toBeCloseTo(30, 9);
    expect(withTrip.get('meanMovingSpeed')!.value).toBeLessThan(41);
    expect(withTrip.codes).not.toContain('laps-unclear');
  });
});

describe('speed by hand is of one and the same way', () => {
  const pass = [press('start', 0), press('finish', 900)];
  it('never sets a longer way of the display against the time of passes', () => {
    const alone = figuresOf({ laps: pass, odometerStartKm: 100, odometerEndKm: 112 }, { course: loop });
    expect(alone.get('meanMovingSpeed')).toBeUndefined();
    expect(alone.codes).toContain('way-unclear');
    expect(alone.get('netConsumption')!.value).toBeCloseTo(25, 9);
    const timed = figuresOf({ laps: pass, tripDistanceKm: 12, durationS: 2700 }, { course: loop });
    expect(timed.get('meanMovingSpeed')!.value).toBeCloseTo(16, 9);
    // Between two passes somebody rides to their start: that is in the counter, not in their time.
    const passes = [...pass, press('start', 1500), press('finish', 2400)];
    expect(figuresOf({ laps: passes, tripDistanceKm: 14 }, { course: loop }).get('meanMovingSpeed')!.value).toBeCloseTo(
      20,
      9,
    );
  });
  it('rests nothing on a display that counted less than was timed', () => {
    const four = [0, 1, 2, 3].flatMap((k) => [press('start', 900 * k), press('finish', 900 * (k + 1))]);
    const { get, codes } = figuresOf({ laps: four, tripDistanceKm: 2.5 }, { course: loop, laps: 4 });
    expect(get('distance')).toBeUndefined();
    expect(get('netConsumption')).toBeUndefined();
    expect(codes).toContain('way-unclear');
    // Rounded to whole kilometres it may say 20 or 21 of 20.
    const coarse = figuresOf({ laps: pass, tripDistanceKm: 6, tripStepKm: 1 }, { course: loop });
    expect(coarse.get('meanMovingSpeed')!.value).toBeCloseTo(20, 9);
  });
  it('takes the ride from the first start to the last finish where the course has no length', () => {
    const passes = [...pass, press('start', 1500), press('finish', 2400)];
    expect(figuresOf({ laps: passes, tripDistanceKm: 12 }, {}).get('meanMovingSpeed')!.value).toBeCloseTo(18, 9);
  });
  it('gives no consumption where the energy is of more than was timed', () => {
    const { get, codes } = figuresOf({ laps: pass, durationS: 3600 }, { course: loop });
    expect(get('netConsumption')).toBeUndefined();
    expect(codes).toContain('energy-of-more');
  });
  it('holds the true speed and consumption of rides with rounds and ways between', () => {
    fc.assert(
      fc.property(
        fc.record({
          rounds: fc.integer({ min: 1, max: 6 }),
          kmh: fc.double({ min: 12, max: 35, noNaN: true }),
          betweenKm: fc.double({ min: 0, max: 6, noNaN: true }),
          how: fc.constantFrom('ends', 'laps', 'each'),
          counter: fc.boolean(),
        }),
        ({ rounds, kmh, betweenKm, how, counter }) => {
          const roundS = (3.6 * LENGTH_M) / kmh;
          const times = Array.from({ length: rounds + 1 }, (_, k) => 60 + k * roundS);
          const inner = times.slice(1, -1);
          const laps =
            how === 'each'
              ? times.slice(1).flatMap((at, k) => [press('start', times[k]!), press('finish', at)])
              : [
                  press('start', times[0]!),
                  ...(how === 'laps' ? inner : []).map((at) => press('lap', at)),
                  press('finish', times.at(-1)!),
                ];
          const trueKm = (rounds * LENGTH_M) / 1000 + (counter ? betweenKm : 0);
          const { get } = figuresOf(
            { laps, ...(counter && { tripDistanceKm: trueKm }) },
            { course: loop, laps: rounds },
          );
          const speed = get('meanMovingSpeed');
          if (speed) expect(Math.abs(speed.value - kmh)).toBeLessThan(0.06 * kmh);
          expect(get('netConsumption')!.value).toBeCloseTo(300 / trueKm, 6);
        },
      ),
    );
  });
});
