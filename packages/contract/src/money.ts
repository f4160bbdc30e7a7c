import { z } from 'zod';
import { PURCHASE_KINDS } from '@ebrix/core/costs';
import { daySchema, type Immutable } from './common.js';

const line = (what: string) => z.string().trim().min(1, what).max(120, 'At most 120 characters.');
export const currencySchema = z.string().regex(/^[A-Z]{3}$/, 'Three capital letters, for example EUR.');
const amountSchema = z.number('Write a number.').min(0, 'At least 0.').max(1e6, 'At most a million.');
export const purchaseLineSchema = z.strictObject({
  what: line('Say what it is.'),
  kind: z.enum(PURCHASE_KINDS),
  source: z.enum(['bought', 'borrowed', 'owned']).default('bought'),
  price: z.strictObject({ amount: amountSchema, currency: currencySchema }).nullable().default(null),
  /** A tool bought once for several conversions: how many share it. */
  sharedBy: z.int('A whole number.').min(1).max(100).default(1),
  isOfBike: z.boolean().default(false),
});
export type PurchaseLineDto = Immutable<z.output<typeof purchaseLineSchema>>;
export const purchasesPutSchema = z.strictObject({
  version: z.int().min(0),
  lines: z.array(purchaseLineSchema).max(100, 'At most a hundred lines.'),
});

const spanOf = (limit: number, what: string) =>
  z
    .tuple([
      z.number('Write a number.').positive('Must be above 0.').max(limit),
      z.number('Write a number.').positive('Must be above 0.').max(limit),
    ])
    .refine(([from, to]) => from <= to, what);
/** What is the same for all setups: currency, rates, electricity, wear, and what else the money would buy. */
export const moneyBookSchema = z.strictObject({
  home: currencySchema.default('EUR'),
  rates: z
    .array(
      z.strictObject({
        currency: currencySchema,
        /** What one of it is worth in the home currency. */
        inHome: z.number('Write a number.').positive('Must be above 0.').max(1e6),
        day: daySchema,
      }),
    )
    .max(20)
    .refine((rates) => new Set(rates.map(({ currency }) => currency)).size === rates.length, 'One rate a currency.')
    .default([]),
  electricityPerKWh: z.number('Write a number.').positive('Must be above 0.').max(100).default(0.32),
  wear: z
    .array(
      z.strictObject({
        what: line('Name the part.'),
        price: amountSchema,
        lastsKm: spanOf(1e6, 'From the shorter to the longer life.'),
      }),
    )
    .max(20)
    .default([
      { what: 'chain', price: 25, lastsKm: [1500, 3000] },
      { what: 'brake pads', price: 20, lastsKm: [1500, 4000] },
      { what: 'tyres', price: 60, lastsKm: [3000, 6000] },
    ]),
  /** Full cycles until a pack is worn out, from … to. */
  packCycles: spanOf(1e5, 'From fewer to more cycles.').default([400, 800]),
  alternatives: z
    .array(
      z.strictObject({
        name: line('Name it.'),
        price: amountSchema,
        /** Money for 100 km, from … to. */
        perHundredKm: z
          .tuple([z.number('Write a number.').min(0).max(1000), z.number('Write a number.').min(0).max(1000)])
          .refine(([from, to]) => from <= to, 'From the lower to the higher.'),
      }),
    )
    .max(8)
    .default([]),
});
export type MoneyBook = Immutable<z.output<typeof moneyBookSchema>>;
export const moneyBookPutSchema = z.strictObject({ version: z.int().min(0), book: moneyBookSchema });
export const storedMoneyBookSchema = z.strictObject({ version: z.int().min(0), book: moneyBookSchema });
export type StoredMoneyBook = Immutable<z.output<typeof storedMoneyBookSchema>>;

const uncertain = { value: z.number(), standardUncertainty: z.number() };
const interval = z.tuple([z.number(), z.number()]);
/** What a setup costs: its purchases, 100 km, and from which kilometre it has paid. */
export const setupCostsSchema = z.strictObject({
  setupId: z.uuid(),
  name: z.string(),
  version: z.int().min(0),
  /** False: made of the prices of the parts, nothing is stored yet. */
  isOwn: z.boolean(),
  lines: z.array(purchaseLineSchema),
  sums: z.strictObject({
    home: z.string(),
    conversion: z.number(),
    withBike: z.number(),
    byKind: z.partialRecord(z.enum(PURCHASE_KINDS), z.number()),
    unpriced: z.array(z.string()),
    unrated: z.array(z.string()),
    rates: moneyBookSchema.shape.rates.unwrap(),
  }),
  /** Cost of the conversion for a usable Wh; null where either is not known. */
  perUsableWh: z.strictObject({ value: z.number(), interval95: interval }).nullable(),
  running: z
    .strictObject({
      ...uncertain,
      interval95: interval,
      parts: z.array(z.strictObject({ what: z.string(), ...uncertain })),
      basis: z.string(),
    })
    .nullable(),
  /** Why there are no running costs. */
  reason: z.string().nullable(),
  payback: z.array(
    z.strictObject({
      against: z.string(),
      kind: z.enum(['after', 'at-once', 'cannot-tell', 'never', 'until']),
      km: z.number().nullable(),
      /** An open end is null. */
      interval95: z.tuple([z.number(), z.number().nullable()]).nullable(),
      words: z.string(),
    }),
  ),
});
export type SetupCosts = Immutable<z.output<typeof setupCostsSchema>>;
