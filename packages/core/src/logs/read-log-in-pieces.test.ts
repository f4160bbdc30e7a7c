import fc from 'fast-check';
import { inspectLog, inspectLogInPieces, LOG_LIMITS, readLog, readLogInPieces, type Pieces } from './index.js';

const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
/** Each character a byte. */
const latin1 = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0));
const utf16 = (text: string, isBig: boolean): Uint8Array => {
  const view = new DataView(new ArrayBuffer(2 * text.length + 2));
  view.setUint16(0, 0xfeff, !isBig);
  for (let k = 0; k < text.length; k++) view.setUint16(2 + 2 * k, text.charCodeAt(k), !isBig);
  return new Uint8Array(view.buffer);
};

/** Long enough not to be read as a whole: 300 to 400 KiB. */
const ROWS = 16_000;
const HEADER = 'time (s),speed (km/h),voltage (V),motor temperature (°C)';
const row = (k: number): string =>
  `${(k / 10).toFixed(1)},${(20 + (k % 37) / 10).toFixed(1)},${48 - (k % 11)}.25,${40 + (k % 3)}`;
const rows = (change: (line: string, k: number) => string = (line) => line): string[] =>
  Array.from({ length: ROWS }, (_, k) => change(row(k), k));
const table = (lines: readonly string[], end = '\n', header = HEADER): string => [header, ...lines].join(end) + end;
const at = (where: number, change: (line: string) => string) => (line: string, k: number) =>
  k === where ? change(line) : line;

const FILES: Readonly<Record<string, Uint8Array>> = {
  plain: utf8(table(rows())),
  'without a line end behind the last': utf8(table(rows()).trimEnd()),
  'with returns': utf8(table(rows(), '\r\n')),
  'with returns alone': utf8(table(rows(), '\r')),
  'with returns alone, and a line feed late': utf8(table(rows(at(15_900, (line) => `${line}\n`)), '\r')),
  'with a mark of its encoding': utf8(`\ufeff${table(rows())}`),
  'in UTF-16': utf16(table(rows()), false),
  'in UTF-16, the great byte first': utf16(table(rows()), true),
  'in Latin-1': latin1(table(rows())),
  'in Latin-1, told by its last lines only': latin1(
    table(rows(at(15_950, (line) => `${line}°`))).replace('motor temperature (°C)', 'motor temperature (C)'),
  ),
  'with letters of several bytes throughout': utf8(
    table(
      rows((line) => `${line},Straße 日本`),
      '\n',
      `${HEADER},note`,
    ),
  ),
  'with a preamble and blank lines': utf8(
    `logger 7\n\nnot a table\n${table(rows((line, k) => (k % 500 === 9 ? `${line}\n \n` : line)))}`,
  ),
  'with short, long and unreadable lines': utf8(
    table(
      rows((line, k) =>
        k % 900 === 7 ? line.slice(0, 6) : k % 900 === 8 ? `${line},9,9` : k % 90 ? line : `${k},x,,?`,
      ),
    ),
  ),
  'with decimal commas': utf8(
    table(
      rows((line) => line.replaceAll(',', ';').replaceAll('.', ',')),
      '\n',
      HEADER.replaceAll(',', ';'),
    ),
  ),
  'with quotation marks late': utf8(table(rows(at(15_990, (line) => line.replace('.', '"."'))))),
  'with a mark that is never closed': utf8(table(rows(at(15_000, (line) => `"${line}`)))),
  'with a line that is too long': utf8(table(rows(at(15_000, (line) => line + '7'.repeat(1_100_000))))),
  'with a first line that is too long': utf8(`${'7'.repeat(2_200_000)}\n${table(rows())}`),
  'that begins with blanks': utf8(`${'\n'.repeat(300_000)}${table(rows())}`),
  'whose current counts the other way, or not': utf8(
    table(
      rows().map((_, k) => `${k},${5 - 0.1 * (k % 7)},-3.5`),
      '\n',
      'time (s),speed (m/s),current (A)',
    ),
  ),
  'without a time': utf8(table(rows(), '\n', HEADER.replace('time (s)', 'what'))),
  'whose speed has no unit': utf8(table(rows(), '\n', HEADER.replace('speed (km/h)', 'speed'))),
  'by the clock, over midnight': utf8(
    table(
      rows().map((_, k) => `${new Date(1e12 + 40_000_000 + 4000 * k).toISOString().slice(11, 19)},${20 + (k % 9)}`),
      '\n',
      'time,speed (km/h)',
    ),
  ),
  'of bytes': new Uint8Array(400_000).fill(7),
  'of a picture': new Uint8Array(400_000).fill(0xff, 0, 3).fill(0xd8, 1, 2),
  'of positions': utf8(
    `<gpx><trk><trkseg>${rows()
      .map(
        (_, k) => `<trkpt lat="0.${k + 1e5}" lon="0"><time>${new Date(1e12 + 1000 * k).toISOString()}</time></trkpt>`,
      )
      .join('')}</trkseg></trk></gpx>`,
  ),
};

/** Cut where the numbers say, over and over again. */
const cut = (bytes: Uint8Array, sizes: readonly number[]): Pieces =>
  // oxlint-disable-next-line typescript/require-await -- the pieces are there already
  async function* () {
    for (let from = 0, k = 0; from < bytes.length; k++) {
      const size = sizes[k % sizes.length]!;
      yield bytes.subarray(from, from + size);
      from += size;
    }
  };
const SIZES = fc.array(fc.oneof(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 50_000, max: 300_000 })), {
  minLength: 1,
  maxLength: 3,
});
const usual = (sizes: readonly number[]): readonly number[] =>
  Math.max(...sizes) < 50_000 ? [...sizes, 77_777] : sizes;

describe('a long log read in pieces', () => {
  it.each(Object.entries(FILES))('%s is what it is as a whole', async (_, bytes) => {
    const whole = readLog(bytes);
    const inspected = inspectLog(bytes);
    await fc.assert(
      fc.asyncProperty(SIZES, async (sizes) => {
        const pieces = cut(bytes, usual(sizes));
        expect(await readLogInPieces(pieces)).toEqual(whole);
        expect(await inspectLogInPieces(pieces)).toEqual(inspected);
      }),
      { numRuns: 2 },
    );
  });

  it('takes the mapping that was chosen, and refuses that of another header', async () => {
    const bytes = FILES.plain!;
    const inspected = inspectLog(bytes);
    if (!inspected.ok) throw new Error('not recognised');
    const { mapping } = inspected.value;
    const columns = mapping.columns.map((column) =>
      column.channel === 'voltage' ? { ...column, channel: null } : column,
    );
    const pieces = cut(bytes, [100_000]);
    expect(await readLogInPieces(pieces, { columns })).toEqual(readLog(bytes, { columns }));
    expect(await readLogInPieces(pieces, { columns: columns.slice(1) })).toMatchObject({
      ok: false,
      problem: { code: 'mapping-mismatch' },
    });
  });

  it('may be longer than a file as a whole, unless it has to be one', async () => {
    const lines = utf8(table(rows((line) => `${line},${'rough '.repeat(20)}`)));
    const times = Math.ceil(LOG_LIMITS.fileBytes / lines.length) + 1;
    // oxlint-disable-next-line typescript/require-await -- the pieces are there already
    const file = async function* (note: string): AsyncGenerator<Uint8Array> {
      yield utf8(`${HEADER},${note}\n`);
      for (let k = 0; k < times; k++) yield lines;
    };
    expect(await readLogInPieces(() => file('"note"'))).toMatchObject({ ok: false, problem: { code: 'too-large' } });
    const outcome = await readLogInPieces(() => file('note'));
    expect(outcome.ok && outcome.value.timeS.length).toBe(times * (ROWS + 1));
  });

  it('hands on what goes wrong with its pieces', async () => {
    // oxlint-disable-next-line typescript/require-await -- the pieces are there already
    const broken: Pieces = async function* () {
      yield FILES.plain!.subarray(0, 280_000);
      throw new RangeError('torn');
    };
    await expect(readLogInPieces(broken)).rejects.toThrow('torn');
    await expect(inspectLogInPieces(broken)).rejects.toThrow('torn');
  });
});
