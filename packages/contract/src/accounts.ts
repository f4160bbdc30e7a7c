import { z } from 'zod';
import { idSchema, nameSchema, versionSchema } from './common.js';

/** What an account may do: a reader sees and takes out, a tester rides and edits, an owner lets people in. */
export const ROLES = ['reader', 'tester', 'owner'] as const;
export type Role = (typeof ROLES)[number];
export const roleSchema = z.enum(ROLES);

/** Long rather than odd: words are easier to remember than signs. */
export const passwordSchema = z
  .string()
  .min(10, 'At least 10 characters: four words in a row are a good one.')
  .max(200, 'At most 200 characters.');

export const accountSchema = z.strictObject({
  id: idSchema,
  version: versionSchema,
  name: z.string(),
  role: roleSchema,
  isBlocked: z.boolean(),
  createdAt: z.iso.datetime(),
  lastSeenAt: z.iso.datetime().nullable(),
});
export type Account = z.output<typeof accountSchema>;

export const accountInputSchema = z.strictObject({ name: nameSchema, role: roleSchema, password: passwordSchema });
export type AccountInput = z.output<typeof accountInputSchema>;

export const accountChangeSchema = z.strictObject({
  version: versionSchema,
  role: roleSchema,
  isBlocked: z.boolean(),
  /** A new one signs the account out everywhere. */
  password: passwordSchema.nullable().default(null),
});
export type AccountChange = z.input<typeof accountChangeSchema>;

/** Who is asking. Without any account, the one person at this machine. */
export const sessionSchema = z.strictObject({
  state: z.enum(['no-accounts', 'signed-in', 'signed-out']),
  account: z.strictObject({ id: idSchema, name: z.string(), role: roleSchema }).nullable(),
});
export type SessionState = z.output<typeof sessionSchema>;

export const signInSchema = z.strictObject({
  name: z.string().trim().min(1, 'Type your name.').max(80),
  password: z.string().min(1, 'Type your password.').max(200),
});
export type SignIn = z.output<typeof signInSchema>;
export const codeSignInSchema = z.strictObject({ code: z.string().min(1).max(100) });

export const passwordChangeSchema = z.strictObject({ before: z.string().max(200), after: passwordSchema });
export type PasswordChange = z.output<typeof passwordChangeSchema>;

/** A way in without a password: a key for scripts, or a phone that was let in. */
export const accessKeySchema = z.strictObject({
  id: idSchema,
  label: z.string(),
  accountName: z.string(),
  role: roleSchema,
  createdAt: z.iso.datetime(),
  lastUsedAt: z.iso.datetime().nullable(),
});
export type AccessKey = z.output<typeof accessKeySchema>;
export const accessKeyInputSchema = z.strictObject({ label: nameSchema, role: roleSchema });
export type AccessKeyInput = z.output<typeof accessKeyInputSchema>;
/** The secret is shown this once: only its hash is kept. */
export const newAccessKeySchema = accessKeySchema.extend({ secret: z.string() });
export type NewAccessKey = z.output<typeof newAccessKeySchema>;

/** A code that lets one device in, once. */
export const signInCodeSchema = z.strictObject({
  code: z.string(),
  expiresAt: z.iso.datetime(),
  /** Where other devices reach this installation; none while it listens to its own machine only. */
  addresses: z.array(z.string()),
});
export type SignInCode = z.output<typeof signInCodeSchema>;

export const deviceSchema = z.strictObject({
  id: z.string(),
  accountName: z.string(),
  /** In a word what it is. */
  device: z.string(),
  signedInAt: z.iso.datetime(),
  lastSeenAt: z.iso.datetime(),
  isThisOne: z.boolean(),
});
export type Device = z.output<typeof deviceSchema>;

export const loggerSecretSchema = z.strictObject({ secret: z.string() });

/** One line of what was done: who, what, to which thing. Nothing in it is ever changed. */
export const historyEntrySchema = z.strictObject({
  id: z.int(),
  at: z.iso.datetime(),
  who: z.string(),
  operation: z.string(),
  summary: z.string(),
  objectId: z.string().nullable(),
});
export const historyQuerySchema = z.strictObject({
  /** One thing, or several, separated by commas. */
  object: z
    .string()
    .max(4000)
    .transform((text) => text.split(','))
    .pipe(z.array(idSchema).max(100))
    .optional(),
  before: z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER).optional(),
});
export const historySchema = z.array(historyEntrySchema);
export type HistoryEntry = z.output<typeof historyEntrySchema>;
