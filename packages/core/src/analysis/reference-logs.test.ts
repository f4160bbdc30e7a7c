import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { cleanLog, inspectLog, readLog, type CleanLog, type LogMapping } from '../logs/index.js';
import { analyseLog, cutAtGates, TEST_KIND_NAMES, type Figure, type TestKind, type TestContext } from './index.js';
import truth from './reference/truth.json' with { type: 'json' };

function open(text: string, mapping?: LogMapping): CleanLog {
  const raw = readLog(new TextEncoder().encode(text), mapping);
  if (!raw.ok) throw new Error(raw.problem.message);
  const clean = cleanLog(raw.value);
  if (!clean.ok) throw new Error(clean.problem.message);
  return clean.value;
}
/** Which way discharge counts is asked where a current is below zero nearly throughout; here above zero. */
function answered(text: string): CleanLog {
  const found = inspectLog(new TextEncoder().encode(text));
  if (!found.ok) throw new Error(found.problem.message);
  const { mapping, questions } = found.value;
  expect(questions.filter(({ kind }) => kind !== 'sign')).toEqual([]);
  return open(text, mapping);
}
const text = (name: string): string => readFileSync(join(__dirname, 'reference', `${name}.csv`), 'utf8');
const contextOf = (name: keyof typeof truth, more: TestContext = {}): TestContext => {
  const { airTemperatureC, airDensity, totalMassKg, cdaM2, crr, rotatingMassFactor } = truth['top-speed'];
  return {
    airTemperatureC,
    airDensity,
    totalMassKg,
    cdaM2,
    crr,
    rotatingMassFactor,
    ...(name === 'heat-soak' && { ambientC: truth['heat-soak'].ambientC }),
    ...more,
  };
};
const run = (kind: TestKind, log: CleanLog, context: TestContext) => {
  const codes: string[] = [];
  const analysis = analyseLog(kind, log, context, (code) => void codes.push(code));
  const figure = (key: string): Figure => analysis.figures.find((one) => one.key === key)!;
  return { ...analysis, codes, figure };
};
const holds = ({ interval95: [low, high] }: Figure, value: number): boolean => low <= value && value <= high;
/** The same file as a German spreadsheet would have it. */
const withCommas = (csv: string): string =>
  csv
    .split('\n')
    .map((line, k) => (k === 0 ? line.replaceAll(',', ';') : line.replaceAll(',', ';').replaceAll('.', ',')))
    .join('\n');

describe('against independent simulations', () => {
  it.each([text, (name: string) => withCommas(text(name))])(
    'battery: resistance within 3 %, open-circuit voltage within 0.15 V',
    (read) => {
      const { figure } = run('battery', open(read('battery-steps')), contextOf('battery-steps'));
      const { internalResistanceOhm, openCircuitAtStartV } = truth['battery-steps'];
      expect(Math.abs(figure('internalResistance').value / internalResistanceOhm - 1)).toBeLessThan(0.03);
      expect(Math.abs(figure('openCircuitVoltage').value - openCircuitAtStartV)).toBeLessThan(0.15);
      expect(holds(figure('internalResistance'), internalResistanceOhm)).toBe(true);
      expect(holds(figure('openCircuitVoltage'), openCircuitAtStartV)).toBe(true);
    },
  );

  it('assist levels: speed within 0.2 km/h and consumption within 2 % of each', () => {
    const { levels } = run('assist-levels', open(text('assist-levels')), contextOf('assist-levels'));
    expect(levels.map(({ level }) => level)).toEqual([1, 2, 3, 4, 5]);
    levels.forEach(({ steadySpeed, consumption, meanPower }, k) => {
      const { steadySpeedKmh, whPerKm, meanW } = truth['assist-levels'].levels[k]!;
      expect(Math.abs(steadySpeed.value - steadySpeedKmh)).toBeLessThan(0.2);
      expect(Math.abs(consumption!.value / whPerKm - 1)).toBeLessThan(0.02);
      expect(
        [steadySpeed, consumption!, meanPower!].map((figure, j) => holds(figure, [steadySpeedKmh, whPerKm, meanW][j]!)),
      ).toEqual([true, true, true]);
    });
    expect(levels[0]!.sameAs).toEqual([]);
  });

  it('top speed: each pass within 0.5 %, both directions within 0.4 %, still air within 0.7 %', () => {
    const { passes, figure } = run(
      'top-speed',
      open(text('top-speed')),
      contextOf('top-speed', { directions: [1, -1, 1, -1] }),
    );
    const expected = truth['top-speed'];
    expect(passes).toHaveLength(4);
    passes.forEach(({ steadySpeed }, k) =>
      expect(Math.abs(steadySpeed / expected.passes[k]!.steadySpeedKmh - 1)).toBeLessThan(0.005),
    );
    expect(Math.abs(figure('twoWayTopSpeed').value / expected.twoWayMeanKmh - 1)).toBeLessThan(0.004);
    expect(Math.abs(figure('stillAirTopSpeed').value / expected.stillAirKmh - 1)).toBeLessThan(0.007);
    expect(
      holds(figure('twoWayTopSpeed'), expected.twoWayMeanKmh) &&
        holds(figure('stillAirTopSpeed'), expected.stillAirKmh),
    ).toBe(true);
  });

  it('hill climb: time and energy within 0.5 %, gain within 2 m, efficiency within 0.03, lowest speed within 0.4 km/h', () => {
    const expected = truth['hill-climb'];
    const course = { lengthM: expected.lengthM, startM: 0, finishM: expected.lengthM, isWhole: false, isLoop: false };
    const { log, state } = cutAtGates(open(text('hill-climb')), course);
    expect(state).toBe('cut');
    const { figure } = run('hill-climb', log, contextOf('hill-climb', { course }));
    expect(Math.abs(figure('climbTime').value / expected.timeS - 1)).toBeLessThan(0.005);
    expect(Math.abs(figure('energyOut').value / expected.energyWh - 1)).toBeLessThan(0.005);
    expect(Math.abs(figure('gain').value - expected.gainM)).toBeLessThan(2);
    expect(Math.abs(figure('driveEfficiency').value - expected.driveEfficiency)).toBeLessThan(0.03);
    expect(Math.abs(figure('verticalSpeed').value / expected.verticalSpeedMperH - 1)).toBeLessThan(0.025);
    expect(Math.abs(figure('minSpeed').value - expected.minSpeed3sMeanKmh)).toBeLessThan(0.4);
    for (const [key, value] of [
      ['climbTime', expected.timeS],
      ['energyOut', expected.energyWh],
      ['gain', expected.gainM],
      ['driveEfficiency', expected.driveEfficiency],
      ['verticalSpeed', expected.verticalSpeedMperH],
      ['energyPer100m', expected.whPer100mGained],
      ['meanGrade', expected.meanGradePct],
      ['meanPower', expected.meanElectricalW],
      ['minSpeed', expected.minSpeed3sMeanKmh],
      ['motorTemperatureRise', expected.endTempC - expected.startTempC],
    ] as const)
      expect([key, holds(figure(key), value)]).toEqual([key, true]);
  });

  it('assist response: delays, rise, run-on and brake cut-off of each start, and where assist ends', () => {
    const expected = truth['assist-response'];
    const { events, figure } = run('assist-response', open(text('assist-response')), contextOf('assist-response'));
    // The file is the first three of six starts.
    expect(events).toHaveLength(3);
    events.forEach((event, k) => {
      const { latencyS, rampS, endsBy, cutoffDelayS, time0to20KmhFromPedalStartS } = expected.starts[k]!;
      expect(Math.abs(event.latency! - latencyS)).toBeLessThan(0.06 + 0.05 * rampS);
      expect(Math.abs(event.riseTime! / (0.8 * rampS) - 1)).toBeLessThan(0.2);
      expect(event.endsBy).toBe(endsBy);
      expect(Math.abs((event.overrun ?? event.brakeCutoff)! - cutoffDelayS)).toBeLessThan(0.05);
      expect(event.time0to20).toBeCloseTo(time0to20KmhFromPedalStartS, 1);
    });
    expect(Math.abs(figure('assistEnds').value - expected.assistHalfPowerKmh)).toBeLessThan(0.6);
    expect(
      holds(figure('overrun'), expected.overrunS) && holds(figure('assistEnds'), expected.assistHalfPowerKmh),
    ).toBe(true);
  });
  it('assist response is refused, by name, where the log is too slow for it', () => {
    const slow = text('assist-response')
      .split('\n')
      .filter((_, k) => k === 0 || k % 25 === 1)
      .join('\n');
    const { events, codes } = run('assist-response', open(slow), {});
    expect([events, codes]).toEqual([[], ['too-slow']]);
  });

  it('heating: time constant within 8 %, peak within 0.5 K', () => {
    const { figure } = run('heating', open(text('heat-soak')), contextOf('heat-soak'));
    const { timeConstantS, peakC } = truth['heat-soak'];
    expect(Math.abs(figure('timeConstant').value / timeConstantS - 1)).toBeLessThan(0.08);
    expect(Math.abs(figure('peakTemperature').value - peakC)).toBeLessThan(0.5);
    expect(holds(figure('timeConstant'), timeConstantS) && holds(figure('peakTemperature'), peakC)).toBe(true);
  });

  it('coast-down: drag and rolling within 5 %, slope within 0.0004, wind within 0.15 m/s', () => {
    const { figure, coasts } = run(
      'coast-down',
      open(text('coast-down')),
      contextOf('coast-down', { directions: [1, -1, 1, -1] }),
    );
    const { cdaM2, crr, slope, windMs } = truth['coast-down'];
    expect(coasts).toHaveLength(4);
    expect(Math.abs(figure('cda').value / cdaM2 - 1)).toBeLessThan(0.05);
    expect(Math.abs(figure('crr').value / crr - 1)).toBeLessThan(0.05);
    expect(Math.abs(figure('slope').value - slope)).toBeLessThan(0.0004);
    expect(Math.abs(figure('wind').value - windMs)).toBeLessThan(0.15);
    for (const [key, value] of [
      ['cda', cdaM2],
      ['crr', crr],
      ['slope', slope],
      ['wind', windMs],
    ] as const)
      expect(holds(figure(key), value)).toBe(true);
  });
});

describe('what a log cannot carry is named', () => {
  const ride = 'time (s),speed (km/h)\n' + Array.from({ length: 300 }, (_, k) => `${k},${20 + Math.sin(k)}`).join('\n');
  it.each([
    ['battery', 'no-voltage-or-current'],
    ['heating', 'no-motor-temperature'],
    ['assist-levels', 'no-level'],
    ['coast-down', 'no-coast'],
    ['top-speed', 'one-direction'],
  ] as const)('%s: %s', (kind, code) => expect(run(kind, open(ride), {}).codes).toContain(code));
  it('coasts in one direction leave slope and wind in rolling and drag', () => {
    const { figures, codes } = run(
      'coast-down',
      open(text('coast-down')),
      contextOf('coast-down', { directions: [1, 1, 1, 1] }),
    );
    expect(codes).toContain('not-separable');
    expect(figures.map(({ key }) => key)).not.toContain('slope');
  });
  it('a steady load tells no resistance, a cold motor no time constant', () => {
    const steady =
      'time (s),voltage (V),current (A),motor temperature (°C)\n' +
      Array.from({ length: 300 }, (_, k) => `${k},${50 - k / 1000},5,${20 + (k % 2)}`).join('\n');
    expect(run('battery', open(steady), {}).codes).toContain('no-load-steps');
    expect(run('heating', open(steady), { airTemperatureC: 20 }).codes).toContain('too-little-rise');
    expect(run('heating', open(steady), {}).codes).toContain('no-air-temperature');
  });
});

/** As loggers write: hundredths. */
type Row = [stepS: number, speed: number, volts: number, amperes: number, celsius: number, level: number];
it('odd logs never throw, and no figure comes without an interval about its value', () =>
  fc.assert(
    fc.property(
      fc.constantFrom(...TEST_KIND_NAMES),
      fc.array(
        fc.tuple(
          fc.integer({ min: 5, max: 900 }),
          fc.integer({ min: 0, max: 6000 }),
          fc.integer({ min: 0, max: 6000 }),
          fc.integer({ min: -1000, max: 4000 }),
          fc.integer({ min: 0, max: 12_000 }),
          fc.integer({ min: 1, max: 3 }),
        ),
        { minLength: 8, maxLength: 120 },
      ),
      (kind, rows) => {
        let t = 0;
        const lines = rows.map(([step, speed, volts, amperes, celsius, level]) => {
          t += step;
          return [...[t, speed, volts, amperes, celsius].map((cell) => cell / 100), level].join(',');
        });
        const log = answered(
          ['time (s),speed (km/h),voltage (V),current (A),motor temperature (°C),assist level', ...lines].join('\n'),
        );
        const { figures } = run(kind, log, { airTemperatureC: 10, totalMassKg: 100, cdaM2: 0.6, crr: 0.008 });
        for (const { value, interval95, standardUncertainty } of figures) {
          expect(Number.isFinite(value) && standardUncertainty >= 0).toBe(true);
          expect(interval95[0] <= value && value <= interval95[1]).toBe(true);
        }
      },
    ),
    {
      numRuns: 60,
      // All that flows, flows in: asked which way it counts.
      examples: [['range', [...Array.from({ length: 7 }, () => [5, 0, 0, 0, 0, 1] as Row), [5, 0, 0, -151, 0, 1]]]],
    },
  ));
