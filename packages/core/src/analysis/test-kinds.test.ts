import { METHODS, SETTABLE_SPANS, TEST_KIND_NAMES, TEST_KINDS } from './test-kinds.js';
import { SPAN_KINDS } from './findings.js';
import { exampleRideModel } from '../testing/example-ride-model.js';
import { loggedOf } from '../testing/test-logs.js';
import { rideTest } from '../ride-model/index.js';
import { analyseTest } from './analyse-test.js';

const day = { airTemperatureC: 18, windMps: 0.3, slope: 0, recordHz: 10 };

describe('the table of test kinds', () => {
  it.each(TEST_KIND_NAMES)(
    '%s: its analyser finds the headline, and only spans that a tester may set or read',
    (kind) => {
      const { trace, context } = rideTest(kind, exampleRideModel, day);
      const { figures, spans, method } = analyseTest(kind, loggedOf(trace, 1), context);
      expect(figures.map(({ key }) => key)).toContain(TEST_KINDS[kind].headline);
      const own: readonly string[] = TEST_KINDS[kind].spans;
      const found = spans.map((span) => span.kind);
      expect(found.some((span) => own.includes(span))).toBe(true);
      for (const span of found) if (!own.includes(span)) expect(SETTABLE_SPANS.has(span)).toBe(false);
      expect(method).toEqual({ name: kind, version: TEST_KINDS[kind].version });
    },
  );

  it('versions are numbers that can go up', () => {
    for (const { version } of Object.values(METHODS)) expect(version).toMatch(/^\d+\.\d+$/);
  });

  it('what the log merely shows cannot be set', () => {
    expect(SPAN_KINDS.filter((kind) => !SETTABLE_SPANS.has(kind))).toEqual(['stop', 'load', 'soak', 'cool-down']);
  });
});
