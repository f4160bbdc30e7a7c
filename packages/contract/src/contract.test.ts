import { z } from 'zod';
import type { SetupFacts } from '@ebrix/core/bench';
import {
  markInputSchema,
  partInputSchemas,
  quickLookTableFieldsSchema,
  ROUTES,
  runQuerySchema,
  setupFileSchema,
  trialInputSchema,
  type RevisionDetail,
  type Route,
} from './index.js';

describe('the contract', () => {
  it('can be described for every route', () => {
    const routes: Route[] = Object.values(ROUTES);
    for (const { answer, body, query } of routes)
      for (const schema of [answer, body, query])
        if (schema instanceof z.ZodType)
          expect(() => z.toJSONSchema(schema, { unrepresentable: 'any', io: 'input' })).not.toThrow();
    expect(new Set(routes.map(({ method, path }) => method + path)).size).toBe(routes.length);
  });

  it('takes what is unknown as null and refuses what is not asked for', () => {
    expect(partInputSchemas.riders.parse({ name: ' Bram ' })).toEqual({ name: 'Bram', massKg: null, notes: '' });
    expect(partInputSchemas.riders.safeParse({ name: 'Bram', id: 1 }).success).toBe(false);
    expect(partInputSchemas.riders.safeParse({ name: 'Bram', massKg: Infinity }).success).toBe(false);
  });

  it('reads a query of runs from an address and refuses columns it does not sort by', () => {
    expect(runQuerySchema.parse({ pageSize: '3' })).toMatchObject({ pageSize: 3, sort: 'date', order: 'down' });
    expect(runQuerySchema.safeParse({ sort: 'id; drop' }).success).toBe(false);
    expect(runQuerySchema.safeParse({ pageSize: '100000' }).success).toBe(false);
  });

  it('takes a smallest difference as number or per cent, above zero', () => {
    const fields = { setup: 'a', value: 'b' };
    expect(quickLookTableFieldsSchema.parse(fields)).toMatchObject({
      smallestDifference: '5 %',
      better: 'less',
      seed: 1,
    });
    for (const smallestDifference of ['0.5', '5%', '2,5 %'])
      expect(quickLookTableFieldsSchema.safeParse({ ...fields, smallestDifference }).success).toBe(true);
    for (const smallestDifference of ['-1', 'much', '5 km'])
      expect(quickLookTableFieldsSchema.safeParse({ ...fields, smallestDifference }).success).toBe(false);
    expect(quickLookTableFieldsSchema.parse({ ...fields, sdm: '3 %' })).toMatchObject({ smallestDifference: '3 %' });
    expect(
      trialInputSchema.safeParse({
        question: 'Which kit?',
        decidingFigure: 'netConsumption',
        smallestDifference: { kind: 'relative', value: 0 },
        revisionIds: [],
      }).success,
    ).toBe(false);
  });
});

describe('parts and setups', () => {
  it('carry all that the checks of the core look at', () => {
    // Types only: a field that is missing or of another kind does not compile.
    const facts = (detail: RevisionDetail): SetupFacts => ({
      ...detail.parts,
      settings: detail.settings,
      fit: detail.fit,
    });
    expect(facts).toBeInstanceOf(Function);
  });

  it('are known only by what was written: everything else is null', () => {
    const bike = partInputSchemas.bikes.parse({ name: 'Round bike' });
    const { name, notes, chainringTeeth, cogTeeth, ...rest } = bike;
    expect([name, notes, chainringTeeth, cogTeeth]).toEqual(['Round bike', '', [], []]);
    expect(Object.values(rest).every((value) => value === null)).toBe(true);
  });

  it('need a currency and a day for a price', () => {
    const priced = (price: unknown) => partInputSchemas.kits.safeParse({ name: 'K', motorKind: 'mid', price }).success;
    expect(priced({ amount: 389.9, currency: 'EUR', date: '2026-03-02' })).toBe(true);
    for (const price of [
      { amount: 389.9 },
      { amount: -1, currency: 'EUR', date: '2026-03-02' },
      { amount: 1, currency: 'euro', date: '2026-03-02' },
      { amount: 1, currency: 'EUR', date: '2026-02-30' },
    ])
      expect(priced(price)).toBe(false);
  });

  it('waive nothing without a name and a reason', () => {
    const mark = { ids: ['clearance-cut'], kind: 'waived', by: 'Ottoline Vask' };
    expect(markInputSchema.safeParse(mark).success).toBe(false);
    expect(markInputSchema.safeParse({ ...mark, reason: 'No switches on this kit.' }).success).toBe(true);
    expect(markInputSchema.safeParse({ ...mark, kind: 'passed' }).success).toBe(true);
    expect(markInputSchema.safeParse({ ...mark, kind: 'passed', by: ' ' }).success).toBe(false);
  });

  it('are published as a JSON Schema that names every part of a setup file', () => {
    const schema = z.toJSONSchema(setupFileSchema, { io: 'input' }) as { properties: object; required: string[] };
    expect(Object.keys(schema.properties)).toEqual(
      expect.arrayContaining(['format', 'bike', 'kit', 'packs', 'addOns', 'limits']),
    );
    expect(schema.required).toEqual(
      expect.arrayContaining(['format', 'formatVersion', 'name', 'bike', 'kit', 'packs']),
    );
  });
});
