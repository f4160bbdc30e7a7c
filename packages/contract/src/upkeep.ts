import { z } from 'zod';

export const backupNameSchema = z.string().regex(/^ebrix-[\d-]{10,20}\.backup$/, 'There is no such backup.');
export const backupSchema = z.strictObject({
  name: z.string(),
  bytes: z.int(),
  /** Null where the file cannot be read. */
  madeAt: z.iso.datetime().nullable(),
  reason: z.string().nullable(),
  verified: z
    .strictObject({ name: z.string(), at: z.iso.datetime(), isGood: z.boolean(), message: z.string() })
    .nullable(),
});
export type Backup = z.output<typeof backupSchema>;
export const backupListSchema = z.strictObject({
  /** Null where this server makes none. */
  folder: z.string().nullable(),
  /** Newest first. */
  backups: z.array(backupSchema),
  /** Why the last one that was due is not there. */
  problem: z.string().nullable(),
});
/** A thing that was deleted, with all that went with it. */
export const trashEntrySchema = z.strictObject({
  id: z.uuid(),
  at: z.iso.datetime(),
  kind: z.string(),
  name: z.string(),
  rows: z.int(),
});
export type TrashEntry = z.output<typeof trashEntrySchema>;
export type BackupList = z.output<typeof backupListSchema>;

const threadsSchema = z.strictObject({ of: z.int(), busy: z.int(), waiting: z.int() });
/** How this server is doing. */
export const loadSchema = z.strictObject({
  startedAt: z.iso.datetime(),
  /** Threads that pages wait for, and those of work in the background. */
  pages: threadsSchema,
  background: threadsSchema,
  /** In the database, for all servers and workers. */
  jobs: z.strictObject({ waiting: z.int(), working: z.int(), failed: z.int() }),
  /** Of the disk that backups go to, else of the system's own. */
  disk: z.strictObject({ freeBytes: z.number(), ofBytes: z.number() }),
});
export type Load = z.output<typeof loadSchema>;
