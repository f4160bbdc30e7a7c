import { connect } from '../database/connect.js';

/**
 * Puts one database in the place of another, which is kept under a name of its own; false where there was none. Both renames are one
 * transaction: a kill between them leaves things as they were.
 */
export async function switchDatabases(databaseUrl: string, name: string, by: string, aside: string): Promise<boolean> {
  const url = new URL(databaseUrl);
  url.pathname = '/postgres';
  const admin = connect(url.href);
  try {
    return await admin.transaction(async (transaction) => {
      const { rows } = await transaction.raw<{ rows: object[] }>('select from pg_database where datname = ?', [name]);
      if (rows.length > 0) await transaction.raw('alter database ?? rename to ??', [name, aside]);
      await transaction.raw('alter database ?? rename to ??', [by, name]);
      return rows.length > 0;
    });
  } finally {
    await admin.destroy();
  }
}
