import type { Knex } from 'knex';

/** What a dump before a migration is made with; a server that was given no tools makes none. */
export type DumpBefore = (firstPending: string) => Promise<string | undefined>;

/**
 * Brings the tables to this version, all steps in one transaction: whatever fails, the database is as it was, and the version before goes
 * on with it. Before anything is changed that holds data, a dump is taken.
 */
export async function migrateWithCare(database: Knex, dumpBefore: DumpBefore): Promise<void> {
  const [done, pending] = (await database.migrate.list()) as [readonly unknown[], readonly { name: string }[]];
  if (pending.length === 0) return;
  const first = pending[0]!.name;
  const dump = done.length > 0 ? await dumpBefore(first) : undefined;
  try {
    await database.transaction((transaction) => transaction.migrate.latest());
  } catch (error) {
    if (done.length === 0) throw error;
    const reason = error instanceof Error ? error.message : String(error);
    throw new Error(
      `The tables could not be brought to this version (from ${first} on): ${reason}\nNothing was changed: the version of Ebrix before goes on with this data.` +
        (dump === undefined ? '' : ` A dump from before is in ${dump}.`),
      { cause: error },
    );
  }
}
