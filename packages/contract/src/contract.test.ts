import { z } from 'zod';
import { DECIDING_FIGURES } from '@ebrix/core/compare';
import {
  decidingFigureSchema,
  partInputSchemas,
  quickLookTableFieldsSchema,
  ROUTES,
  runQuerySchema,
  trialInputSchema,
} from './index.js';

describe('the contract', () => {
  it('offers exactly the deciding figures that verdicts have words for', () =>
    expect([...decidingFigureSchema.options].sort()).toEqual([...DECIDING_FIGURES].sort()));

  it('can be described for every route', () => {
    for (const { response, body } of ROUTES)
      for (const schema of [response, body])
        if (schema) expect(() => z.toJSONSchema(schema, { unrepresentable: 'any', io: 'input' })).not.toThrow();
    expect(new Set(ROUTES.map(({ method, path }) => method + path)).size).toBe(ROUTES.length);
  });

  it('takes what is unknown as null and refuses what is not asked for', () => {
    expect(partInputSchemas.riders.parse({ name: ' Bram ' })).toEqual({ name: 'Bram', massKg: null, notes: '' });
    expect(partInputSchemas.riders.safeParse({ name: 'Bram', id: 1 }).success).toBe(false);
    expect(partInputSchemas.riders.safeParse({ name: 'Bram', massKg: Infinity }).success).toBe(false);
  });

  it('reads a query of runs from an address and refuses columns it does not sort by', () => {
    expect(runQuerySchema.parse({ page: '3' })).toMatchObject({ page: 3, sort: 'date', order: 'down' });
    expect(runQuerySchema.safeParse({ sort: 'id; drop' }).success).toBe(false);
    expect(runQuerySchema.safeParse({ pageSize: '100000' }).success).toBe(false);
  });

  it('takes a smallest difference as number or per cent, above zero', () => {
    const fields = { setup: 'a', value: 'b' };
    expect(quickLookTableFieldsSchema.parse(fields)).toMatchObject({ sdm: '5 %', better: 'less', seed: 1 });
    for (const sdm of ['0.5', '5%', '2,5 %'])
      expect(quickLookTableFieldsSchema.safeParse({ ...fields, sdm }).success).toBe(true);
    for (const sdm of ['-1', 'much', '5 km'])
      expect(quickLookTableFieldsSchema.safeParse({ ...fields, sdm }).success).toBe(false);
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
