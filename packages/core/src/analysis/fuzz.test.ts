import fc from 'fast-check';
import { cleanLog, readLog } from '../logs/index.js';
import { analyseTest, splitOuting, TEST_KIND_NAMES, type GivenSpan, type TestContext } from './index.js';

/** A log as broken loggers write it: gaps, doubles, spikes, odd units, missing channels, text among the numbers. */
const brokenLog = fc
  .record({
    rows: fc.integer({ min: 2, max: 400 }),
    stepS: fc.constantFrom(0.02, 0.1, 1, 7),
    seed: fc.integer({ min: 1, max: 1e6 }),
    headers: fc.shuffledSubarray(
      [
        'speed (km/h)',
        'speed (mph)',
        'distance (m)',
        'altitude (ft)',
        'voltage (V)',
        'current (mA)',
        'power (kW)',
        'motor temperature (°F)',
        'cadence (rpm)',
        'throttle (%)',
        'assist level',
        'brake',
        'rider power (W)',
        'latitude',
        'longitude',
        'state of charge (%)',
      ],
      { minLength: 1, maxLength: 9 },
    ),
    spikes: fc.double({ min: 0, max: 0.2, noNaN: true }),
    holes: fc.double({ min: 0, max: 0.3, noNaN: true }),
    jumps: fc.double({ min: 0, max: 0.05, noNaN: true }),
    scale: fc.constantFrom(0, 1, 30, 1e6),
  })
  .map(({ rows, stepS, seed, headers, spikes, holes, jumps, scale }) => {
    let state = seed;
    const random = (): number => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
    let t = 0;
    const lines = [['time (s)', ...headers].join(',')];
    for (let k = 0; k < rows; k++) {
      t += random() < jumps ? 100 * (random() - 0.3) : stepS;
      if (random() < jumps) lines.push(lines.at(-1)!);
      const cells = headers.map((_, c) => {
        if (random() < holes) return ['', 'NaN', '-', 'err'][Math.floor(random() * 4)]!;
        const value = scale * (0.5 + 0.5 * Math.sin(k / (5 + c))) + random();
        return (random() < spikes ? value * 1000 : value).toFixed(3);
      });
      lines.push([t.toFixed(3), ...cells].join(','));
    }
    return lines.join('\n');
  });
const context: fc.Arbitrary<TestContext> = fc.record(
  {
    airTemperatureC: fc.double({ min: -20, max: 40, noNaN: true }),
    totalMassKg: fc.double({ min: 40, max: 200, noNaN: true }),
    cdaM2: fc.double({ min: 0.2, max: 1, noNaN: true }),
    crr: fc.double({ min: 0.002, max: 0.02, noNaN: true }),
    windMps: fc.double({ min: -8, max: 8, noNaN: true }),
    emptied: fc.boolean(),
    assistLimitKmh: fc.constant(25),
    temperatureLimitC: fc.double({ min: 40, max: 120, noNaN: true }),
    directions: fc.array(fc.constantFrom(1 as const, -1 as const), { maxLength: 6 }),
    spans: fc.array(
      fc.record({
        kind: fc.constantFrom<GivenSpan['kind']>(
          'ride',
          'pass',
          'coast',
          'level',
          'start',
          'fit',
          'no-load',
          'spin-down',
        ),
        fromS: fc.double({ min: 0, max: 100, noNaN: true }),
        toS: fc.double({ min: 0, max: 400, noNaN: true }),
      }),
      { maxLength: 4 },
    ),
  },
  { requiredKeys: [] },
);

describe('broken logs', () => {
  it('never throw, never hang, and never give a number without an interval that holds it', () => {
    fc.assert(
      fc.property(brokenLog, fc.constantFrom(...TEST_KIND_NAMES), context, (text, kind, known) => {
        const raw = readLog(new TextEncoder().encode(text));
        const log = raw.ok ? cleanLog(raw.value) : raw;
        if (!log.ok) {
          expect(log.problem.message.length).toBeGreaterThan(10);
          return;
        }
        const { figures, warnings, charts, spans } = analyseTest(kind, log.value, known);
        for (const { key, value, standardUncertainty, interval95, n, unit } of figures) {
          const sound =
            Number.isFinite(value) &&
            Number.isFinite(standardUncertainty) &&
            standardUncertainty >= 0 &&
            interval95[0] <= value &&
            value <= interval95[1] &&
            Number.isInteger(n) &&
            unit.length > 0;
          expect([key, value, standardUncertainty, interval95, n, sound]).toEqual([
            key,
            value,
            standardUncertainty,
            interval95,
            n,
            true,
          ]);
        }
        expect(new Set(figures.map(({ key }) => key)).size).toBe(figures.length);
        for (const { code, message } of warnings)
          expect([code.length > 3, message.endsWith('.')]).toEqual([true, true]);
        for (const { series } of charts)
          for (const { x, y } of series) expect([...x, ...y].every(Number.isFinite)).toBe(true);
        for (const { fromS, toS } of spans) expect(toS).toBeGreaterThanOrEqual(fromS);
        for (const run of splitOuting(log.value)) expect(run.toS).toBeGreaterThan(run.fromS);
      }),
      { numRuns: 300 },
    );
  }, 120_000);
});
