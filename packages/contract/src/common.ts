import { z } from 'zod';

export const idSchema = z.uuid();

/** The one shape of every error; `code` is stable, `message` is for a tester. */
export const apiErrorSchema = z.strictObject({
  error: z.strictObject({ code: z.string(), message: z.string(), details: z.unknown().optional() }),
});
export type ApiError = z.output<typeof apiErrorSchema>;

export const healthSchema = z.strictObject({ status: z.literal('ok'), database: z.literal('ok'), version: z.string() });

/** Names are shown in lists and verdicts: one line, not empty. */
export const nameSchema = z
  .string()
  .trim()
  .min(1, 'Give it a name.')
  .max(80, 'At most 80 characters.')
  .regex(/^[^\p{Cc}\p{Cf}]*$/u, 'Leave out control characters.');
export const notesSchema = z.string().max(4000, 'At most 4000 characters.').default('');

/** A number that may be unknown: null, never a stand-in. */
export const positiveOrUnknown = (limit: number) =>
  z.number().positive('Must be above 0.').max(limit, `At most ${limit}.`).nullable().default(null);
export const zeroOrMoreOrUnknown = (limit: number) =>
  z.number().min(0, 'At least 0.').max(limit, `At most ${limit}.`).nullable().default(null);
export const shareOrUnknown = z.number().min(0, 'At least 0.').max(1, 'At most 1.').nullable().default(null);

export const daySchema = z.iso.date('Write a day as 2026-04-07.');
/** Who wrote something down. */
export const signatureSchema = z.string().trim().min(2, 'Write your name.').max(80);
/** Why something does not count or was changed: one word may be all there is to say. */
export const shortReasonSchema = z.string().trim().min(2, 'Write the reason, if only a word.').max(400);
/** Why something that can hurt is let be: in words that another can judge. */
export const reasonSchema = z.string().trim().min(5, 'Write the reason in a few words.').max(400);
export const versionSchema = z.int().min(1);
/** What every stored thing that people edit carries. */
export const storedFields = {
  id: idSchema,
  version: versionSchema,
  updatedAt: z.iso.datetime(),
  archivedAt: z.iso.datetime().nullable(),
};

/** A payload as it is read: what the core returns fits it without a cast, so that the compiler holds the two against each other. */
export type Immutable<T> = T extends object ? { readonly [K in keyof T]: Immutable<T[K]> } : T;

/** A payload whose fields were named otherwise in the version before: scripts may send the former names for one version more. */
export function withFormerNames<Schema extends z.ZodType>(
  names: Readonly<Record<string, string>>,
  schema: Schema,
): z.ZodPreprocess<Schema> {
  return z.preprocess((value) => {
    if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
    const given = Object.entries(value as Record<string, unknown>);
    const present = (name: string): string => (Object.hasOwn(names, name) ? names[name]! : name);
    return Object.fromEntries(given.map(([name, field]) => [present(name), field]));
  }, schema);
}

/** What a change carries beside the fields: the version it began from, so that two windows cannot overwrite each other. */
export function versioned<Shape extends z.ZodRawShape>(schema: z.ZodObject<Shape>) {
  return z.strictObject({ ...schema.shape, version: versionSchema });
}
export const archiveInputSchema = z.strictObject({ version: versionSchema, archived: z.boolean() });
/** The version of what is changed, in an address. */
export const versionQuerySchema = z.strictObject({ version: z.coerce.number().pipe(versionSchema) });
/** The version that was seen of what is deleted: if it is another by now, it stays. Without one it goes as it is. */
export const seenQuerySchema = z.strictObject({ version: z.coerce.number().pipe(versionSchema).optional() });
export type SeenQuery = z.output<typeof seenQuerySchema>;
export const demoStateSchema = z.strictObject({
  isEmpty: z.boolean(),
  loading: z.strictObject({ done: z.int(), total: z.int() }).nullable(),
  problem: z.string().nullable(),
});
export type DemoState = z.output<typeof demoStateSchema>;
