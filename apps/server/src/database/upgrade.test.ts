import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import pg from 'pg';
import { runDetailSchema } from '@ebrix/contract';
import { startTestApp } from '../testing/test-app.js';
import { checkMigrations } from './check-migrations.js';
import { connect } from './connect.js';
import { MIGRATION_CHECKSUMS } from './migrations/checksums.js';

const MIGRATIONS = join(__dirname, 'migrations');
const STATES = join(__dirname, 'earlier-states');
const RUN = '01900000-0000-7000-8000-000000000009';
const TRIAL = '01900000-0000-7000-8000-000000000003';

async function restore(state: string, url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(gunzipSync(readFileSync(join(STATES, state))).toString('utf8'));
  await client.end();
}

describe('migrations that have landed', () => {
  it('are never edited: their checksums are those on record', () => {
    const files = readdirSync(MIGRATIONS).filter((name) => /^\d{4}-.*\.ts$/.test(name));
    const now = files.map((name) => [
      name.replace('.ts', ''),
      createHash('sha256')
        .update(readFileSync(join(MIGRATIONS, name)))
        .digest('hex'),
    ]);
    expect(Object.fromEntries(now)).toEqual(MIGRATION_CHECKSUMS);
  });
});

describe('a database of an earlier version', () => {
  it.each(readdirSync(STATES))('%s starts with its runs, figures and plans readable', async (state) => {
    const { api, close } = await startTestApp((url) => restore(state, url));
    try {
      const run = await api.get(`/api/runs/${RUN}`).expect(200);
      expect(runDetailSchema.parse(run.body)).toMatchObject({ id: RUN, gauge: null });
      expect((await api.get('/api/runs').expect(200)).body).toMatchObject({ total: 1 });
      expect((await api.get(`/api/trials/${TRIAL}`).expect(200)).body).toMatchObject({ question: 'Which kit?' });
      await api.get(`/api/trials/${TRIAL}/verdict`).expect(200);
      await api.get(`/api/trials/${TRIAL}/plan`).expect(200);
    } finally {
      await close();
    }
  });

  it('made by a migration that was edited since is refused by name, and stays as it was', async () => {
    let address = '';
    const { close } = await startTestApp((url) => Promise.resolve(void (address = url)));
    const database = connect(address);
    try {
      await checkMigrations(database);
      await database('migration_checksum').where({ name: '0002-bench' }).update({ sha256: 'of another form' });
      await expect(checkMigrations(database)).rejects.toThrow(/"0002-bench" differs from this version's/);
      expect(await database('migration_checksum').where({ name: '0002-bench' }).pluck('sha256')).toEqual([
        'of another form',
      ]);
    } finally {
      await database.destroy();
      await close();
    }
  });
});
