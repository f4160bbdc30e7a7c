import fc from 'fast-check';
import { inspectLog, parseNumber, readLog, type LogMapping, type MappingQuestion } from './index.js';
import { readHeader } from './read-header.js';
import { parseClock, parseIso } from './parse-time.js';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const inspect = (text: string) => {
  const outcome = inspectLog(bytes(text));
  if (!outcome.ok) throw new Error(outcome.problem.message);
  return outcome.value;
};
const read = (text: string, mapping?: LogMapping) => {
  const outcome = readLog(bytes(text), mapping);
  if (!outcome.ok) throw new Error(`${outcome.problem.code}: ${outcome.problem.message}`);
  return outcome.value;
};
const kinds = (questions: readonly MappingQuestion[]) => questions.map(({ kind, blocking }) => [kind, blocking]);

describe('what a header says', () => {
  it.each([
    ['speed (km/h)', 'speed', 'km/h'],
    ['Speed_kmh', 'speed', 'km/h'],
    ['speed mph', 'speed', 'mph'],
    ['GPS Speed [m/s]', 'speed', 'm/s'],
    ['BatteryVoltage', 'voltage', undefined],
    ['Geschwindigkeit (km/h)', 'speed', 'km/h'],
    ['hub temp (°F)', 'motorTemperature', '°F'],
    ['millis', 'time', 'ms'],
    ['altitude (ft)', 'altitude', 'ft'],
    ['SoC (%)', 'stateOfCharge', '%'],
  ])('%s', (header, meaning, unit) => expect(readHeader(header)).toEqual({ meaning, ...(unit && { unit }) }));

  it('knows nothing of what it was not taught', () => {
    for (const header of ['__proto__', 'constructor', 'toString', 'colour', '']) expect(readHeader(header)).toEqual({});
  });
});

describe('what is asked instead of guessed', () => {
  const rows = '\n0,10,50\n1,11,50\n2,12,50';
  it('the unit of a speed without one', () =>
    expect(kinds(inspect(`time (s),speed,volts${rows}`).questions)).toEqual([['unit', true]]));
  it('which temperature one is, without stopping the rest', () => {
    expect(kinds(inspect(`time (s),temp (°C),volts${rows}`).questions)).toEqual([['channel', false]]);
    expect(read(`time (s),temp (°C),volts${rows}`).ignoredColumns).toEqual(['temp (°C)']);
  });
  it('a unit nobody knows', () =>
    expect(inspect(`time (s),speed (furlongs),volts${rows}`).questions[0]!.text).toContain('furlongs'));
  it('which of two columns counts', () =>
    expect(kinds(inspect(`time (s),speed (km/h),wheel speed (km/h)${rows}`).questions)).toEqual([['duplicate', true]]));
  it('a decimal mark that could be a thousands mark', () => {
    const text = 'time (s);distance (m)\n1,234;2,345\n2,345;3,456\n';
    expect(kinds(inspect(text).questions)).toContainEqual(['decimal', true]);
  });
  it('uses the answer, and the mapping only for its own header', () => {
    const { mapping } = inspect(`time (s),speed,volts${rows}`);
    const answered: LogMapping = {
      ...mapping,
      columns: mapping.columns.map((c) => (c.channel === 'speed' ? { ...c, unit: 'm/s' } : c)),
    };
    expect([...read(`time (s),speed,volts${rows}`, answered).channels.speed!]).toEqual([10, 11, 12]);
    expect(() => read(`time (s),tempo,volts${rows}`, answered)).toThrow(/mapping-mismatch/);
  });
});

describe('another ride behind a gap', () => {
  const table = (header: string, times: readonly number[]): string =>
    [header, ...times.map((t) => `${t},20,50`)].join('\n');
  const minutes = Array.from({ length: 5 }, (_, k) => k);
  it('is seen before the columns are settled, and where the clock begins anew', () => {
    const later = [...minutes, ...minutes.map((t) => 2400 + t)];
    // The unit of the speed is still to be asked.
    expect(inspect(table('time (s),speed,volts', later))).toMatchObject({
      longGaps: [{ startS: 4, endS: 2400 }],
      questions: [{ kind: 'unit' }],
    });
    const anew = [...minutes.map((t) => 900 + t), ...minutes];
    expect(inspect(table('time (s),speed (km/h),volts', anew)).longGaps).toEqual([{ startS: 4, endS: -900 }]);
  });
  it('is not seen in a halt, a late sample or a file without a clock', () => {
    expect(inspect(table('time (s),speed (km/h),volts', [...minutes, 500, 501])).longGaps).toEqual([]);
    expect(inspect(table('time (s),speed (km/h),volts', [0, 1, 3, 2, 4])).longGaps).toEqual([]);
    expect(inspect('speed (km/h),volts\n20,50\n21,50').longGaps).toEqual([]);
  });
});

describe('numbers and times', () => {
  it.each([
    ['1,5', ',', 1.5],
    ['1.234,5', ',', 1234.5],
    ['1,234.5', '.', 1234.5],
    ["1'234.5", '.', 1234.5],
    ['-0.5', '.', -0.5],
    ['+3', '.', 3],
    ['1e-3', '.', 0.001],
  ] as const)('reads %s', (text, mark, value) => expect(parseNumber(text, mark)).toBeCloseTo(value, 12));
  it.each(['NaN', 'inf', 'Infinity', '', '--', '1.2.3', '0x10', 'null'])('takes %s for missing', (text) =>
    expect(parseNumber(text, '.')).toBeNaN(),
  );
  it('reads back any number written plainly', () =>
    fc.assert(
      fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), (value) => {
        expect(parseNumber(value.toFixed(4), '.')).toBeCloseTo(value, 4);
        expect(parseNumber(value.toFixed(4).replace('.', ','), ',')).toBeCloseTo(value, 4);
      }),
    ));
  it('reads clocks and dates', () => {
    expect(parseClock('1:02:03.5')).toBe(3723.5);
    expect(parseIso('2026-05-01T10:00:00+02:00')).toBe(Date.UTC(2026, 4, 1, 8) / 1000);
    expect(parseClock('25:61:00')).toBeNaN();
  });
  it('goes on past midnight', () => {
    const { timeS } = read('time,speed (km/h)\n23:59:59,20\n0:00:01,20\n0:00:03,20\n');
    expect([...timeS]).toEqual([0, 2, 4]);
  });
});
