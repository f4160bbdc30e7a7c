import type { Knex } from 'knex';
import { DomainError } from '../common/domain-error.js';

/** Deletes what somebody saw; without a version, whatever it is by now. Gives back 0 where it is gone. Fails: `changed-meanwhile` where it is not what was seen. */
export async function deleteSeen(
  database: Knex,
  table: string,
  id: string,
  version: number | undefined,
): Promise<number> {
  const seen = version === undefined ? { id } : { id, version };
  const deleted = await database(table).where(seen).delete();
  if (deleted > 0 || version === undefined) return deleted;
  if ((await database(table).where({ id }).first('id')) === undefined) return 0;
  throw new DomainError(
    'changed-meanwhile',
    'This was changed in another window meanwhile, and was not deleted. Look at it as it is now; delete it then if it is still to go.',
  );
}
