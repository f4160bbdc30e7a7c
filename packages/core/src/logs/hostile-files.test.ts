import { inspectLog, readLog, readTable } from './index.js';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const rows = (count: number, row: (k: number) => string): string =>
  Array.from({ length: count }, (_, k) => row(k)).join('\n');
const longHeader = (name: string): string => `time (s),speed (km/h),${name}\n${rows(30, (k) => `${k},20,1`)}\n`;

/**
 * Files built to keep a reader busy for ever. Each of these once took from seconds to hours; where a pattern grows faster
 * than its text again, the test does not end.
 */
describe('a file built to be slow', () => {
  it.each([
    ['strokes', `a${'/'.repeat(1000)}_`],
    ['dashes and spaces', `a${'- '.repeat(1000)}_`],
    ['open brackets', `${'( '.repeat(100_000)}x`],
    ['spaces in brackets', `x (${' '.repeat(100_000)}`],
    ['letters', 'aB'.repeat(100_000)],
    ['dots', `${'.'.repeat(100_000)}:`],
  ])('by its column name of %s is read at once', (_, name) => {
    expect(inspectLog(bytes(longHeader(name))).ok).toBe(true);
    expect(readLog(bytes(longHeader(name))).ok).toBe(true);
  });

  it('by 256 such column names is read at once', () => {
    const names = Array.from({ length: 254 }, () => `a${'/('.repeat(150)}_`).join(',');
    const text = `time (s),speed (km/h),${names}\n${rows(30, (k) => `${k},20${',1'.repeat(254)}`)}\n`;
    expect(inspectLog(bytes(text)).ok).toBe(true);
  });

  it.each([
    ['digits', '1'.repeat(60_000)],
    ['digits that end in a letter', `${'1'.repeat(60_000)}x`],
    ['digits and commas', '1,'.repeat(0) + `"${'1,'.repeat(30_000)}x"`],
    ['digits and points', `${'1.'.repeat(30_000)}x`],
    ['spaces', `"${' '.repeat(60_000)}x"`],
  ])('by a cell of 60 000 %s takes that cell for unreadable', (_, cell) => {
    const text = `time (s),speed (km/h)\n${rows(40, (k) => (k === 20 ? `${k},${cell}` : `${k},${20 + (k % 3)}`))}\n`;
    const raw = readLog(bytes(text));
    expect(raw.ok && raw.value.channels.speed![20]).toBeNaN();
    expect(readTable(bytes(text)).ok).toBe(true);
  });

  it('by elements lying 200 000 deep in one another is refused by name', () => {
    const text = `<gpx><trk>${'<a>'.repeat(200_000)}${'</a>'.repeat(200_000)}</trk></gpx>`;
    const raw = readLog(bytes(text));
    expect(raw).toMatchObject({ ok: false, problem: { code: 'too-deep' } });
  });
});
