import fc from 'fast-check';
import { analyseTest, manualFigures, passesOf, type ManualReadings, type TestContext } from '../index.js';

const pack = {
  chemistry: 'li-ion-nmc',
  capacityAh: 13.6,
  nominalVoltageV: 46.8,
  measuredEnergyWh: 600,
  measuredEnergyUncertaintyWh: 6,
} as const;
const course = { lengthM: 5000, startM: 0, finishM: 5000, isWhole: true, isLoop: true };
const codes: string[] = [];
const run = (
  kind: Parameters<typeof manualFigures>[0],
  manualReadings: ManualReadings,
  context: TestContext = { pack, course },
) => {
  codes.length = 0;
  const figures = manualFigures(kind, manualReadings, context, (code) => void codes.push(code));
  return (key: string) => figures.find((figure) => figure.key === key);
};
const lap = (gate: 'finish' | 'start', elapsedS: number, direction: -1 | 1 = 1) => ({ gate, elapsedS, direction });

describe('a ride with display, gauge and notebook', () => {
  it('gives distance, speed and range, each as wide as its source', () => {
    const get = run(
      'range',
      { tripDistanceKm: 20, tripStepKm: 0.1, displayMeanKmh: 22 },
      { pack, course, gauge: { startShare: 1, endShare: 0.5, stepShare: 0.25 } },
    );
    expect(get('distance')!.value).toBe(20);
    // 1.5 % of 20 km and a step of 0.1 km: √(0.1732² + 0.0289²).
    expect(get('distance')!.standardUncertainty).toBeCloseTo(0.1756, 3);
    expect(get('energyOut')!.value).toBe(300);
    // Two quarter steps (√2·0.25/√12 of 600 Wh), unequal bars (0.1/√3 of 600 Wh), half of ±6 Wh.
    expect(get('energyOut')!.standardUncertainty).toBeCloseTo(Math.hypot(61.24, 34.64, 3), 1);
    expect(get('netConsumption')!.value).toBeCloseTo(15, 9);
    expect(get('rangeByGauge')!.value).toBe(40);
    expect(get('rangeToCutoff')!.value).toBeCloseTo(40, 6);
  });
  it('takes the source with the smallest uncertainty for the energy', () => {
    const manualReadings = {
      tripDistanceKm: 20,
      wallEnergyWh: 350,
      wallStepWh: 10,
      restVoltageStartV: 54.3,
      restVoltageEndV: 48,
    };
    const context = { pack, course, gauge: { startShare: 1, endShare: 0.5, stepShare: 0.25 } };
    const energy = run('range', manualReadings, context)('energyOut')!;
    expect(energy.derivation.inputs).toEqual(['socket meter', 'an ordinary charger']);
    expect(energy.value).toBeCloseTo(301, 6);
    const { wallEnergyWh: _, ...withoutMeter } = manualReadings;
    expect(run('range', withoutMeter, context)('energyOut')!.derivation.inputs[0]).toBe('rest voltages');
  });
  it('reads the charge off rest voltages', () => {
    // 13 cells: 54.34 V is full, 47.97 V (3.69 V a cell) half.
    const energy = run('range', { tripDistanceKm: 20, restVoltageStartV: 54.34, restVoltageEndV: 47.97 })('energyOut')!;
    // The upper half of the charge holds 1.962 of the 3.725 V·q of such a cell: 316 of 600 Wh.
    expect(energy.value).toBeCloseTo(316, 0);
    expect(energy.standardUncertainty).toBeGreaterThan(15);
  });
  it('says what is lacking instead of guessing', () => {
    run('range', { laps: [lap('start', 0), lap('finish', 800)] }, { course });
    expect(codes).toEqual(['no-energy']);
    run('range', {}, {});
    expect(codes).toEqual(['no-distance', 'nothing-by-hand']);
    run('range', { tripDistanceKm: 5, restVoltageStartV: 50, restVoltageEndV: 51 });
    expect(codes).toContain('voltage-did-not-fall');
  });
});

describe('a climb on the stopwatch', () => {
  const climb: TestContext = {
    pack,
    course: {
      lengthM: 1000,
      startM: 100,
      finishM: 900,
      isWhole: false,
      isLoop: false,
      gainM: 56,
      gainUncertaintyM: 0.8,
    },
  };
  it('gives time, speed, grade and energy per 100 m', () => {
    const get = run(
      'hill-climb',
      {
        laps: [lap('start', 10), lap('finish', 154)],
        wallEnergyWh: 50,
        wallStepWh: 1,
        heartRates: [{ elapsedS: 100, bpm: 150 }],
      },
      climb,
    );
    expect(get('climbTime')!.value).toBe(144);
    // Two presses within ± 0.3 s.
    expect(get('climbTime')!.standardUncertainty).toBeCloseTo((Math.SQRT2 * 0.3) / Math.sqrt(3), 9);
    expect(get('meanSpeed')!.value).toBeCloseTo(20, 9);
    expect(get('meanGrade')!.value).toBeCloseTo(7, 9);
    expect(get('verticalSpeed')!.value).toBeCloseTo(1400, 9);
    expect(get('energyPer100m')!.value).toBeCloseTo((100 * 43) / 56, 6);
    expect(get('meanHeartRate')!.value).toBe(150);
  });
  it('shares the energy out over all climbs of the ride', () => {
    const laps = [0, 1, 2, 3].flatMap((k) => [lap('start', 400 * k), lap('finish', 400 * k + 144)]);
    const get = run('hill-climb', { laps, wallEnergyWh: 200, tripDistanceKm: 6.5 }, climb);
    expect(get('climbTime')!.value).toBe(144);
    expect(get('energyPer100m')!.value).toBeCloseTo((100 * 172) / (4 * 56), 6);
    expect(codes).toEqual(expect.arrayContaining(['several-passes', 'ways-down']));
    // Down by the gates too, timed on the way: these are no climbs.
    const withDown = [lap('start', 0), lap('finish', 144), lap('start', 200, -1), lap('finish', 280, -1)];
    expect(run('hill-climb', { laps: withDown, wallEnergyWh: 50 }, climb)('energyPer100m')!.value).toBeCloseTo(
      (100 * 43) / 56,
      6,
    );
  });
  it.each([
    ['the display counted the way there as well', { tripDistanceKm: 4 }],
    ['the odometer did', { odometerStartKm: 812, odometerEndKm: 816 }],
    ['the watch did', { durationS: 1200 }],
  ])('gives no energy per 100 m where %s', (_, more) => {
    const get = run('hill-climb', { laps: [lap('start', 10), lap('finish', 154)], wallEnergyWh: 50, ...more }, climb);
    expect(get('energyOut')).toBeDefined();
    expect(get('energyPer100m')).toBeUndefined();
    expect(codes).toContain('energy-of-more');
  });
  it('takes no time of another way for that of the climb', () => {
    const there = { durationS: 3000, tripDistanceKm: 12 };
    expect(run('hill-climb', there, climb)('climbTime')).toBeUndefined();
    expect(codes).toContain('time-of-more');
    expect(run('hill-climb', { durationS: 200, tripDistanceKm: 0.8 }, climb)('climbTime')!.value).toBe(200);
  });
  it('needs a pass', () => {
    run('hill-climb', { laps: [lap('finish', 3)] }, climb);
    expect(codes[0]).toBe('no-pass');
  });
});

describe('top speed on a strip', () => {
  const strip: TestContext = { course: { lengthM: 200, startM: 0, finishM: 200, isWhole: true, isLoop: false } };
  it('is the mean of both directions', () => {
    const get = run(
      'top-speed',
      { laps: [lap('start', 0), lap('finish', 24), lap('start', 60, -1), lap('finish', 90, -1)] },
      strip,
    );
    expect(get('twoWayTopSpeed')!.value).toBeCloseTo((30 + 24) / 2, 9);
    expect(get('twoWayTopSpeed')!.warnings[0]!.code).toBe('uneven-directions');
  });
  it('one direction is not enough', () => {
    run('top-speed', { laps: [lap('start', 0), lap('finish', 24)] }, strip);
    expect(codes).toContain('one-direction');
  });
});

describe('spot temperatures', () => {
  const spots = (values: readonly number[], stepS = 300) =>
    values.map((valueC, k) => ({ place: 'motor' as const, elapsedS: k * stepS, valueC }));
  it('give the rise, and the half-life of cooling they were made with', () => {
    // 20 °C air, 60 K above it, half-life 600 s.
    const values = [22, 80, ...[1, 2, 3, 4].map((k) => 20 + 60 * 2 ** (-k / 2))];
    const get = run('heating', { temperatures: spots(values) }, { airTemperatureC: 20 });
    expect(get('motorTemperatureRise')!.value).toBe(58);
    expect(Math.abs(get('coolingHalfLife')!.value / 600 - 1)).toBeLessThan(0.02);
  });
  it('hold the true half-life in their interval for noisy readings', () => {
    let state = 3;
    const uniform = (): number => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647;
    let held = 0;
    const trials = 200;
    for (let k = 0; k < trials; k++) {
      const values = Array.from({ length: 8 }, (_, j) => 20 + 65 * 2 ** (-j / 3) + (uniform() - 0.5) * 6);
      const figure = run(
        'heating',
        { temperatures: spots([values[0]! - 30, ...values]) },
        { airTemperatureC: 20 },
      )('coolingHalfLife');
      if (figure && figure.interval95[0] <= 900 && 900 <= figure.interval95[1]) held++;
    }
    expect(held / trials).toBeGreaterThan(0.9);
  });
});

it('figures by hand always carry a unit and an interval around their value, and never throw', () =>
  fc.assert(
    fc.property(
      fc.record(
        {
          tripDistanceKm: fc.double({ min: 0.01, max: 200, noNaN: true }),
          displayMeanKmh: fc.double({ min: 0, max: 60, noNaN: true }),
          wallEnergyWh: fc.double({ min: 0, max: 2000, noNaN: true }),
          restVoltageStartV: fc.double({ min: 20, max: 60, noNaN: true }),
          restVoltageEndV: fc.double({ min: 20, max: 60, noNaN: true }),
          laps: fc.array(
            fc.record({
              gate: fc.constantFrom('start', 'lap', 'finish'),
              direction: fc.constantFrom(1, -1),
              elapsedS: fc.double({ min: 0, max: 5000, noNaN: true }),
            }),
          ),
          temperatures: fc.array(
            fc.record({
              place: fc.constantFrom('motor', 'air'),
              elapsedS: fc.double({ min: 0, max: 5000, noNaN: true }),
              valueC: fc.double({ min: -20, max: 150, noNaN: true }),
            }),
          ),
        },
        { requiredKeys: [] },
      ),
      fc.constantFrom('range', 'hill-climb', 'top-speed', 'heating', 'battery'),
      (manualReadings, kind) => {
        const { figures } = analyseTest(kind, null, { pack, course, manualReadings: manualReadings });
        for (const { value, interval95, standardUncertainty } of figures) {
          expect(Number.isFinite(value) && Number.isFinite(standardUncertainty)).toBe(true);
          expect(interval95[0]).toBeLessThanOrEqual(value);
          expect(interval95[1]).toBeGreaterThanOrEqual(value);
        }
      },
    ),
  ));

it('readings at one moment give no half-life, and say so', () => {
  const reading = (elapsedS: number, valueC: number) => ({ place: 'motor' as const, elapsedS, valueC });
  const manualReadings = { temperatures: [reading(600, 80), reading(600, 70), reading(600, 60), reading(600.2, 50)] };
  const { figures, warnings } = analyseTest('heating', null, { manualReadings, airTemperatureC: 20 });
  expect(figures.some(({ key }) => key === 'coolingHalfLife')).toBe(false);
  expect(warnings.map(({ code }) => code)).toContain('cooling-unclear');
});

it('a start without a finish is left aside', () =>
  expect(passesOf([lap('start', 0), lap('start', 5), lap('finish', 9), lap('finish', 12)])).toEqual([
    { direction: 1, seconds: 4, startS: 5, endS: 9, lapPresses: 0 },
  ]));

it('a finish sooner than any bike can be there is left out, and told with its time', () => {
  const laps = [lap('start', 0), lap('finish', 1.7), lap('start', 10), lap('finish', 210)];
  const { figures, warnings } = analyseTest('hill-climb', null, { course, manualReadings: { laps } });
  const valueOf = (wanted: string) => figures.find(({ key }) => key === wanted)?.value;
  expect(valueOf('climbTime')).toBe(200);
  expect(valueOf('meanSpeed')).toBeCloseTo((3.6 * (course.finishM - course.startM)) / 200, 9);
  expect(warnings.find(({ code }) => code === 'finish-too-soon')?.message).toContain('1.7 s after the start');
  expect(warnings.map(({ code }) => code)).not.toContain('several-passes');
});

it('a finish counts from the speed on that a bike can have', () => {
  const atKmh = (kmh: number) => passesOf([lap('start', 0), lap('finish', (3.6 * 1000) / kmh)], 1000).length;
  expect([119, 121].map(atKmh)).toEqual([1, 0]);
});

describe('a speed that no bike has', () => {
  const climb = { lengthM: 1200, startM: 0, finishM: 1000, gainM: 46, isWhole: true, isLoop: false };
  const keysOf = (kind: 'hill-climb' | 'range' | 'top-speed', manualReadings: ManualReadings) => {
    const { figures, warnings } = analyseTest(kind, null, { course: climb, manualReadings });
    return { keys: figures.map(({ key }) => key), told: warnings.find(({ code }) => code === 'too-fast')?.message };
  };
  it('from a time or a distance written wrongly is told instead of given, with what rests on that time', () => {
    // An hour and five minutes, read as a minute and five seconds.
    const ride = keysOf('range', { tripDistanceKm: 20, durationS: 65 });
    expect(ride.keys).toEqual([]);
    expect(ride.told).toMatch(/20 km in 65 s would be 1107\.7 km\/h, which no bike rides/);
    // 200 km for 20 would be a range of ten times; the display's own mean does not make it true.
    const far = keysOf('range', { odometerStartKm: 100, odometerEndKm: 300, durationS: 3600, wallEnergyWh: 250 });
    expect(far.keys).toEqual(['energyOut']);
    const shown = { odometerStartKm: 100, odometerEndKm: 300, durationS: 3600, wallEnergyWh: 250, displayMeanKmh: 20 };
    expect(keysOf('range', shown).keys).toEqual(['meanMovingSpeed', 'energyOut']);
    const right = keysOf('range', { odometerStartKm: 100, odometerEndKm: 219, durationS: 3600, wallEnergyWh: 250 });
    expect(right.keys).toContain('netConsumption');
    expect(keysOf('hill-climb', { durationS: 4 }).keys).toEqual(['gain', 'meanGrade']);
  });
  it('from the display is told, and leaves what it does not touch', () => {
    expect(keysOf('range', { tripDistanceKm: 20, displayMeanKmh: 240, durationS: 3600 }).keys).toEqual([
      'distance',
      'movingTime',
    ]);
    expect(keysOf('top-speed', { highestSpeedKmh: 450, highestSpeedBackKmh: 430 }).keys).toEqual([]);
  });
  it('is none of a fast one', () => {
    expect(keysOf('top-speed', { highestSpeedKmh: 119, highestSpeedBackKmh: 118 }).told).toBeUndefined();
  });
});

it('bars seen on the way are placed by the pass that counts, not by a slip before it', () => {
  const pass = [lap('start', 600), lap('finish', 1800)];
  const gaugeSeen = [640, 665, 1735, 1755].map((elapsedS, k) => ({ elapsedS, bars: [5, 4, 2, 1][k]! }));
  const gauge = { startShare: 1, endShare: 0.2, stepShare: 0.2 };
  const energyOf = (laps: typeof pass) => run('range', { laps, gaugeSeen }, { pack, course, gauge })('energyOut');
  expect(energyOf(pass)?.derivation.formula).toContain('bars that went out');
  expect(energyOf([lap('start', 0), lap('finish', 2), ...pass])).toEqual(energyOf(pass));
});

it('a level that was looked at several times is one figure, nearer by the looks', () => {
  const speedOf = (...speeds: number[]) => {
    const get = run('assist-levels', { levelTable: speeds.map((speedKmh) => ({ level: 3, speedKmh, powerW: 200 })) });
    return get('steadySpeedLevel3')!;
  };
  expect(speedOf(20, 21, 22, 21).value).toBe(21);
  expect(speedOf(21, 21.1, 20.9, 21).standardUncertainty).toBeLessThan(speedOf(21).standardUncertainty);
  expect(speedOf(12, 30).standardUncertainty).toBeGreaterThan(8);
  const { figures } = analyseTest('assist-levels', null, {
    manualReadings: { levelTable: [1, 1, 2].map((level) => ({ level, speedKmh: 20, powerW: 150 })) },
  });
  const keys = figures.map(({ key }) => key);
  expect(new Set(keys).size).toBe(keys.length);
});
