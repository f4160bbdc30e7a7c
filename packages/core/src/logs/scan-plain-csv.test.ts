import fc from 'fast-check';
import type { CsvDialect } from './csv-dialect.js';
import { GrowingColumn } from './growing-column.js';
import { readLog } from './index.js';
import { newlineOf } from './line-ends.js';
import { parseNumber, type DecimalMark } from './parse-number.js';
import { scanPlainCsv, type CellSink } from './scan-plain-csv.js';

interface Seen {
  readonly numbers: number[];
  readonly texts: string[];
  readonly cells: number[];
}
function scan(
  text: string,
  delimiter: CsvDialect['delimiter'] = ',',
  decimal: DecimalMark = '.',
  headerRecord = 0,
): Seen {
  const numbers = new GrowingColumn();
  const texts: string[] = [];
  const cells: number[] = [];
  const sink: CellSink = { numbers, takeText: (cell) => texts.push(cell) };
  const bytes = new TextEncoder().encode(text);
  scanPlainCsv(
    bytes,
    { delimiter, newline: newlineOf(bytes), before: headerRecord + 1 },
    decimal,
    Array.from({ length: 12 }, () => sink),
    (count) => cells.push(count),
  );
  return { numbers: [...numbers.toArray()], texts, cells };
}

describe('scanning a table without quotation marks', () => {
  it('reads plain numbers exactly as the language reads their text', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e6, max: 1e6 }).map((v) => v.toFixed(4)),
            fc.integer({ min: -1e9, max: 1e9 }).map(String),
            fc.stringMatching(/^[+-]?\d{1,15}(\.\d{0,14})?$/),
            fc.stringMatching(/^-?\.\d{1,12}$/),
          ),
          { minLength: 1, maxLength: 10 },
        ),
        (cells) => {
          const { numbers, texts } = scan(`head\n${cells.join(',')}`);
          // Rows of more digits than a double holds come as text, to be read by the language.
          const short = (cell: string): boolean => cell.replaceAll(/\D/g, '').length <= 15;
          expect(numbers).toEqual(cells.filter(short).map(Number));
          expect(texts).toEqual(cells.filter((cell) => !short(cell)));
        },
      ),
      { numRuns: 400 },
    ));

  it('reads decimal commas likewise', () => {
    expect(scan('head\n1,5;-2,25;3', ';', ',').numbers).toEqual([1.5, -2.25, 3]);
    expect(scan('head\n1.234;5', ';', ',')).toMatchObject({ numbers: [5], texts: ['1.234'] });
  });

  it('hands over as text whatever is no plain number, and what is empty', () =>
    expect(scan('head\n1e3,abc,,-,1.2.3, 4,NaN,0x1F,1 2,5').texts).toEqual([
      '1e3',
      'abc',
      '',
      '-',
      '1.2.3',
      ' 4',
      'NaN',
      '0x1F',
      '1 2',
    ]));

  it.each([
    ['LF', '\n'],
    ['CRLF', '\r\n'],
    ['CR', '\r'],
  ])('ends lines by %s, with or without one at the end', (_name, end) => {
    const lines = ['a,b', '1,2', '3,4'];
    for (const text of [lines.join(end), lines.join(end) + end])
      expect(scan(text)).toMatchObject({ numbers: [1, 2, 3, 4], cells: [2, 2] });
  });

  it('counts cells, and knows a blank line from one of empty cells', () =>
    expect(scan('a,b,c\n1,2\n\n  \n,,\n1,2,3,4\n').cells).toEqual([2, 0, 0, 3, 4]));

  it('leaves lines before the header alone, blank ones uncounted', () =>
    expect(scan('title\n\na,b\n7,8\n', ',', '.', 1).numbers).toEqual([7, 8]));
});

describe('a log read by the scan and one read with quotation marks', () => {
  const number = fc.oneof(
    fc.double({ min: 0, max: 40, noNaN: true }).map((v) => v.toFixed(2)),
    fc.constantFrom('', ' ', 'abc', '1e1', ' 12.5', '7,5', 'NaN', '-3'),
  );
  it('are the same, whatever stands in the cells', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(number, number), { minLength: 2, maxLength: 30 }),
        fc.constantFrom('\n', '\r\n'),
        (rows, end) => {
          const table = (head: string): string =>
            [head, ...rows.map(([speed, voltage], k) => [k, speed, voltage].join(';'))].join(end);
          const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
          const plain = readLog(bytes(table('time (s);speed (km/h);voltage (V)')));
          const quoted = readLog(bytes(table('"time (s)";speed (km/h);voltage (V)')));
          expect(plain).toEqual(quoted);
        },
      ),
      { numRuns: 150 },
    ));
  it('agree with the parser of single cells', () =>
    fc.assert(
      fc.property(fc.stringMatching(/^[+-]?\d{1,9}\.\d{1,5}$/), (cell) => {
        expect(scan(`head\n${cell}`).numbers).toEqual([parseNumber(cell, '.')]);
      }),
    ));
});
