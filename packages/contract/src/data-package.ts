import { z } from 'zod';
import type { Immutable } from './common.js';

/** What a package is of; without trial and runs it holds everything. */
export const packageQuerySchema = z.strictObject({
  trial: z.uuid().optional(),
  runs: z
    .string()
    .transform((list) => list.split(','))
    .pipe(z.array(z.uuid()).min(1).max(2000, 'At most two thousand.'))
    .optional(),
  /** Cleaned channels of each log too. */
  channels: z.enum(['csv', 'parquet', 'none']).default('none'),
});
/** The same, asked for in a body. */
export const packageOrderSchema = packageQuerySchema.extend({
  trial: z.uuid().nullable().default(null),
  runs: z.array(z.uuid()).min(1).max(2000, 'At most two thousand.').nullable().default(null),
});
export type PackageOrder = Immutable<z.output<typeof packageOrderSchema>>;
/** A package that this server makes or has made; its file is kept for a day. */
export const preparedPackageSchema = z.strictObject({
  id: z.uuid(),
  order: packageOrderSchema,
  at: z.iso.datetime(),
  state: z.enum(['waiting', 'making', 'ready', 'failed']),
  /** Files written, of how many. */
  filesDone: z.int(),
  filesOf: z.int(),
  /** Of the zip, so far. */
  bytes: z.int(),
  keptUntil: z.iso.datetime().nullable(),
  problem: z.string().nullable(),
});
export type PreparedPackage = Immutable<z.output<typeof preparedPackageSchema>>;
const cell = z.string().nullable();
/** What a package would bring into this installation. */
export const packageLookSchema = z.strictObject({
  id: z.uuid(),
  made: z.iso.datetime(),
  of: z.string(),
  version: z.string(),
  tables: z.array(z.strictObject({ name: z.string(), added: z.int(), same: z.int(), different: z.int() })),
  /** The same thing in both, told otherwise: here stays unless it is chosen. */
  differences: z.array(
    z.strictObject({
      table: z.string(),
      key: z.string(),
      name: z.string(),
      columns: z.array(z.strictObject({ column: z.string(), here: cell, package: cell })),
    }),
  ),
  moreDifferences: z.int(),
});
export type PackageLook = Immutable<z.output<typeof packageLookSchema>>;
export const packageTakeSchema = z.strictObject({
  /** Differences in which the package's side is taken. */
  take: z
    .array(z.strictObject({ table: z.string().max(80), key: z.string().max(400) }))
    .max(1000)
    .default([]),
});
export const packageImportedSchema = z.strictObject({
  added: z.int(),
  changed: z.int(),
  kept: z.int(),
  same: z.int(),
});
export type PackageImported = Immutable<z.output<typeof packageImportedSchema>>;
