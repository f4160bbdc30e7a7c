import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { cleanLog, readLog } from '../../logs/index.js';
import { analyseRange, type Figure } from '../index.js';

const csv = readFileSync(join(__dirname, 'reference/range-ride.csv'), 'utf8');
const truth = {
  distance: 26.917590055811157,
  energyOut: 150.17305788854017,
  netConsumption: 5.5297923865614536,
  energyRegenerated: 1.3243733333333332,
  movingTime: 4328.29,
  chargeUsed: 2.8079544189567733,
};

function analyse(text: string | Uint8Array) {
  const bytes = typeof text === 'string' ? new TextEncoder().encode(text) : text;
  const raw = readLog(bytes);
  if (!raw.ok) throw new Error(raw.problem.message);
  const log = cleanLog(raw.value);
  if (!log.ok) throw new Error(log.problem.message);
  const { figures, warnings } = analyseRange(log.value);
  return { log: log.value, warnings, figure: new Map(figures.map((f): [string, Figure] => [f.key, f])) };
}

function expectTruth({ figure }: ReturnType<typeof analyse>): void {
  const off = (key: keyof typeof truth): number => Math.abs(figure.get(key)!.value / truth[key] - 1);
  expect(off('distance')).toBeLessThan(0.003);
  expect(off('energyOut')).toBeLessThan(0.01);
  expect(off('netConsumption')).toBeLessThan(0.01);
  expect(off('energyRegenerated')).toBeLessThan(0.1);
  expect(off('movingTime')).toBeLessThan(0.005);
  expect(off('chargeUsed')).toBeLessThan(0.01);
  for (const [key, value] of Object.entries(truth)) {
    const [lower, upper] = figure.get(key)!.interval95;
    expect([key, lower < value && value < upper]).toEqual([key, true]);
  }
}

describe('a ride whose truth is known', () => {
  it('gives the figures within their bounds, the truth inside every interval', () => {
    const result = analyse(csv);
    expectTruth(result);
    expect(result.log.report.gaps).toEqual([{ startS: 1528, endS: 1554 }]);
    expect(result.log.report.spikes).toEqual([
      expect.objectContaining({ channel: 'speed', timesS: [1939, 2067, 2278, 2498, 3722, 3848] }),
    ]);
    expect(result.warnings.map(({ code }) => code)).toContain('gap-estimated');
  });

  const semicolons = csv.replaceAll(',', ';').replaceAll('.', ',');
  const imperial = csv
    .split('\n')
    .map((line, k) => {
      if (line === '') return line;
      const cells = line.split(',');
      if (k === 0) return line.replace('km/h', 'mph').replace('°C', '°F');
      cells[1] = (+cells[1]! / 1.609344).toFixed(3);
      cells[4] = ((+cells[4]! * 9) / 5 + 32).toFixed(2);
      return cells.join(',');
    })
    .join('\n');
  const utf16 = Uint8Array.from(Buffer.from('\ufeff' + csv, 'utf16le'));
  it.each([
    ['semicolons and decimal commas', semicolons],
    ['miles per hour and Fahrenheit', imperial],
    ['UTF-16 with a byte-order mark', utf16],
    ['Latin-1', Uint8Array.from(Buffer.from(csv, 'latin1'))],
    ['CRLF', csv.replaceAll('\n', '\r\n')],
    ['bare carriage returns', csv.replaceAll('\n', '\r')],
    [
      'quotes about every cell',
      csv
        .split('\n')
        .map(
          (line) =>
            line &&
            line
              .split(',')
              .map((c) => `"${c}"`)
              .join(','),
        )
        .join('\n'),
    ],
    ['a preamble', 'Logger 12;;\nserial;77;x\n\n'.replaceAll(';', ',') + csv],
    [
      'a clock instead of seconds',
      csv
        .split('\n')
        .map((line, k) =>
          k === 0 || !line
            ? line.replace('time (s)', 'time')
            : line.replace(/^[\d.]+/, (t) =>
                new Date(Date.UTC(2026, 5, 1, 23, 30) + +t * 1000).toISOString().slice(11, 23),
              ),
        )
        .join('\n'),
    ],
  ])('reads the same from %s', (_name, text) => expectTruth(analyse(text)));
});
