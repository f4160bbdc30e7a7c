import fc from 'fast-check';
import { z } from 'zod';
import { partInputSchemas, partSchemas, PART_KINDS, type Part, type PartInput, type PartKind } from '@ebrix/contract';
import { ADD_ONS, BIKES, CHARGERS, KITS, LIMITS, LOGGERS, PACKS, RIDERS } from '../demo/bench-parts.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';

let server: TestApp;
beforeAll(async () => {
  server = await startTestApp();
});
afterAll(() => server.close());

const EXAMPLES: { readonly [K in PartKind]: readonly PartInput<K>[] } = {
  bikes: BIKES,
  kits: KITS,
  packs: PACKS,
  chargers: CHARGERS,
  'add-ons': ADD_ONS,
  limits: LIMITS,
  riders: RIDERS,
  loggers: LOGGERS,
};
const bare = (kind: PartKind, part: Part): object =>
  Object.fromEntries(Object.keys(partInputSchemas[kind].shape).map((field) => [field, part[field as keyof Part]]));

describe.each(PART_KINDS)('%s', (kind) => {
  it('come back from the database field by field as they were sent', async () => {
    for (const input of EXAMPLES[kind]) {
      const stored = (await server.api.post(`/api/bench/${kind}`).send(input).expect(201)).body as Part;
      expect(partSchemas[kind].safeParse(stored).success).toBe(true);
      expect(bare(kind, stored)).toEqual(input);
    }
    const listed = (await server.api.get(`/api/bench/${kind}`).expect(200)).body as Part[];
    expect(listed.map(({ name }) => name).sort()).toEqual(EXAMPLES[kind].map(({ name }) => name).sort());
  });

  it('are told wrong values of any field with its path, and store nothing', async () => {
    const [example] = EXAMPLES[kind];
    const numbers = Object.entries(partInputSchemas[kind].shape).filter(([, type]) => {
      const json = z.toJSONSchema(type as z.ZodType, { io: 'input' });
      return JSON.stringify(json).includes('"type":"number"') && !JSON.stringify(json).includes('"type":"object"');
    });
    const before = ((await server.api.get(`/api/bench/${kind}`)).body as Part[]).length;
    for (const [field] of numbers) {
      const refused = await server.api
        .post(`/api/bench/${kind}`)
        .send({ ...example, name: `Wrong ${field}`, [field]: -5 })
        .expect(400);
      expect(refused.body.error.message).toContain(field);
    }
    expect(((await server.api.get(`/api/bench/${kind}`)).body as Part[]).length).toBe(before);
  });
});

it('keeps numbers to the last digit through the database', async () => {
  const kilograms = fc.sample(fc.double({ min: 1e-3, max: 119, noNaN: true }), { numRuns: 12, seed: 7 });
  for (const [k, massKg] of kilograms.entries()) {
    const stored = (
      await server.api
        .post('/api/bench/bikes')
        .send({ name: `Digits ${k}`, massKg })
        .expect(201)
    ).body as Part<'bikes'>;
    expect(stored.massKg).toBe(massKg);
  }
});
