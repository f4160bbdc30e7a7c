import fc from 'fast-check';
import { partInputSchemas, PART_KINDS, type Part, type PartImport, type PartInput } from '@ebrix/contract';
import { startTestApp, type TestApp } from '../testing/test-app.js';
import { csvColumns, fromCsv, toCsv } from './part-csv.js';

const stored = (input: PartInput<'kits'>): Part<'kits'> => ({
  id: '01900000-0000-7000-8000-000000000001',
  version: 1,
  updatedAt: '2026-04-07T08:00:00.000Z',
  archivedAt: null,
  ...input,
});
const kit = (more: object = {}): PartInput<'kits'> =>
  partInputSchemas.kits.parse({ name: 'Corvane R2', motorKind: 'rear-hub-geared', ...more });

describe('parts as CSV', () => {
  it('have a column for every field, nested ones by their path', () => {
    const names = csvColumns('bikes').map(({ name }) => name);
    expect(names).toEqual(expect.arrayContaining(['name', 'massKg', 'frame.diagonalMm', 'price.currency', 'cogTeeth']));
    for (const kind of PART_KINDS) expect(csvColumns(kind).length).toBeGreaterThan(2);
  });

  it('come back as they went out, whatever the names and notes', () =>
    fc.assert(
      fc.property(
        fc.record({
          name: fc
            .string({ unit: 'grapheme', minLength: 1, maxLength: 30 })
            .filter(
              (text) =>
                /^[^\p{Cc}\p{Cf}]*$/u.test(text) && text.trim() === text && text !== '' && !text.startsWith("'"),
            ),
          notes: fc
            .string({ maxLength: 60 })
            .filter((text) => text.trim() === text && !text.startsWith("'") && !text.includes('\r')),
          massKg: fc.option(fc.double({ min: 0.001, max: 50, noNaN: true })),
          torqueArms: fc.option(fc.integer({ min: 0, max: 4 })),
          discMount: fc.option(fc.boolean()),
          price: fc.option(fc.constant({ amount: 389.9, currency: 'EUR', date: '2026-03-02' })),
          shellKinds: fc.subarray(['threaded' as const, 'pressed' as const]),
          box: fc.constantFrom([], [{ what: 'motor; "big"', massKg: 2, place: 'rear-wheel' }]),
        }),
        (fields) => {
          const input = kit(fields);
          const [row] = fromCsv('kits', toCsv('kits', [stored(input)]));
          expect(row!.input).toEqual(input);
        },
      ),
    ));

  it('are read with semicolons, decimal commas and some columns only', () => {
    const rows = fromCsv(
      'bikes',
      '\ufeffname;massKg;cogTeeth;isFolding;frame.seatTubeMm\r\nRound bike;23,5;14 18 24;yes;470\r\n',
    );
    expect(rows[0]!.input).toMatchObject({
      name: 'Round bike',
      massKg: 23.5,
      cogTeeth: [14, 18, 24],
      isFolding: true,
      frame: { seatTubeMm: 470, topTubeMm: null },
    });
  });

  it('do not run as formulas in a spreadsheet, and come back without the mark that keeps them from it', () => {
    const csv = toCsv('kits', [stored(kit({ name: '=1+1' }))]);
    expect(csv).toContain("'=1+1");
    expect(fromCsv('kits', csv)[0]!.input.name).toBe('=1+1');
  });

  it.each([
    ['an unknown column', 'name,colour\nA,red', 'Line 1: Unknown columns: colour'],
    ['no name', 'massKg\n3', 'There is no column "name"'],
    ['a number that is none', 'name,massKg\nA,heavy', 'Line 2: massKg'],
    ['a value out of range', 'name,massKg\nA,1\nB,-2', 'Line 3: massKg: Must be above 0.'],
    ['one name twice', 'name,massKg\nA,1\na,2', 'Line 3: name: "a" appears twice.'],
    ['a column twice', 'name,massKg,massKg\nA,1,2', 'A column appears twice.'],
  ])('are refused with line and column: %s', (_what, csv, words) => {
    expect(() => fromCsv('riders', csv)).toThrow(words);
    expect(() => fromCsv('riders', csv)).toThrow('Nothing was stored.');
  });
});

describe('a parts CSV on the server', () => {
  let server: TestApp;
  beforeAll(async () => {
    server = await startTestApp();
  });
  afterAll(() => server.close());
  const bring = (text: string) =>
    server.api.post('/api/bench/riders/csv').attach('file', Buffer.from(text), 'riders.csv');

  it('adds, changes and leaves alone by name, all rows or none', async () => {
    const first = (await bring('name,massKg\nBram Tellow,78\nOttoline Vask,64').expect(200)).body as PartImport;
    expect(first).toEqual({ added: 2, changed: 0, unchanged: 0 });
    const second = (await bring('name,massKg\nbram tellow,80\nOttoline Vask,64\nThird,70').expect(200))
      .body as PartImport;
    expect(second).toEqual({ added: 1, changed: 1, unchanged: 1 });
    const refused = await bring('name,massKg\nFourth,60\nFifth,none').expect(422);
    expect(refused.body.error.message).toContain('Line 3');
    const csv = (await server.api.get('/api/bench/riders/csv').expect(200)).text;
    expect(csv.split('\r\n')).toHaveLength(4);
    expect(csv).not.toContain('Fourth');
  });
  it('is refused when it is not text', async () => {
    const answer = await server.api
      .post('/api/bench/riders/csv')
      .attach('file', Buffer.from([0xff, 0xfe, 0x00, 0xd8]), 'riders.csv')
      .expect(422);
    expect(answer.body.error.message).toContain('UTF-8');
  });
});
