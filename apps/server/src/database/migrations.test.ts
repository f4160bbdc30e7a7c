import { randomBytes } from 'node:crypto';
import knex, { type Knex } from 'knex';
import { revisionPartsSchema, setupFitSchema, setupSettingsSchema } from '@ebrix/contract';
import { connect, urlOfDatabase } from './connect.js';
import * as first from './migrations/0001-first.js';
import * as findings from './migrations/0004-findings.js';
import { MigrationSource } from './migration-source.js';

/** Forward only, on an empty database (every other test does that) and on one filled by the version before. */
const source = new MigrationSource();
const id = (n: number): string => `01900000-0000-7000-8000-00000000000${n}`;

async function inNewDatabase(work: (database: Knex) => Promise<void>): Promise<void> {
  const cluster = process.env['EBRIX_TEST_DATABASE']!;
  const name = `test_${randomBytes(6).toString('hex')}`;
  const admin = knex({ client: 'pg', connection: cluster, pool: { min: 0, max: 1 } });
  await admin.raw(`create database ${name}`);
  const database = connect(urlOfDatabase(cluster, name));
  try {
    await work(database);
  } finally {
    await database.destroy();
    await admin.raw(`drop database ${name} with (force)`);
    await admin.destroy();
  }
}

describe('migrations', () => {
  it('carry a filled database of the first version over, and its revisions can be read', async () => {
    await inNewDatabase(async (database) => {
      await database.migrate.up({ migrationSource: source });
      expect(await database('knex_migrations').pluck('name')).toEqual([first.name]);
      const stored = { version: 1, updatedAt: '2026-04-07T08:00:00.000Z', archivedAt: null, notes: '' };
      await database('bike').insert({ id: id(1), name: 'Round bike', mass_kg: 24 });
      await database('kit').insert({ id: id(2), name: 'Corvane R2', motor_kind: 'rear-hub-geared' });
      await database('pack').insert({ id: id(3), name: 'Marrow 48', chemistry: 'li-ion-nmc' });
      await database('setup').insert({ id: id(4), name: 'As it was' });
      await database('setup_revision').insert({
        id: id(5),
        setup_id: id(4),
        number: 1,
        bike_id: id(1),
        kit_id: id(2),
        settings: JSON.stringify({ assistLevel: '3', speedLimitKmh: 25, note: '' }),
        change: 'As first fitted',
        parts: JSON.stringify({
          bike: {
            ...stored,
            id: id(1),
            name: 'Round bike',
            massKg: 24,
            wheelCircumferenceM: null,
            dragAreaM2: null,
            rollingCoefficient: null,
          },
          kit: {
            ...stored,
            id: id(2),
            name: 'Corvane R2',
            motorKind: 'rear-hub-geared',
            ratedPowerW: 250,
            nominalVoltageV: 36,
            currentLimitA: 15,
            massKg: 4.1,
          },
          packs: [
            {
              ...stored,
              id: id(3),
              name: 'Marrow 48',
              chemistry: 'li-ion-nmc',
              seriesCells: 13,
              nominalVoltageV: 48,
              capacityAh: 14,
              usableShare: null,
              measuredEnergyWh: null,
              measuredEnergyUncertaintyWh: null,
              massKg: 3.7,
            },
          ],
        }),
      });

      await database.migrate.latest({ migrationSource: source });
      const row = await database('setup_revision').first<Record<string, unknown>>('parts', 'settings', 'fit');
      const parts = revisionPartsSchema.parse(row['parts']);
      expect(parts).toMatchObject({ bike: { massKg: 24, frame: null, cogTeeth: [] }, charger: null, addOns: [] });
      expect(setupSettingsSchema.parse(row['settings'])).toMatchObject({ speedLimitKmh: 25, levels: [] });
      expect(setupFitSchema.parse(row['fit'])).toMatchObject({ washersLeftMm: null, payloadPlace: 'rear-rack' });
      expect(await database('bike').first('cog_teeth', 'mass_kg')).toEqual({ cog_teeth: [], mass_kg: 24 });
      await database.migrate.latest({ migrationSource: source });
    });
  });
  it('do not forget figures that were asked for and not worked out before the change of version', async () => {
    await inNewDatabase(async (database) => {
      for (let applied: string[] = []; !applied.includes(findings.name);) {
        await database.migrate.up({ migrationSource: source });
        applied = (await database('knex_migrations').pluck('name')) as string[];
      }
      const bike = { id: id(1), name: 'Round bike', mass_kg: 24 };
      await database('bike').insert(bike);
      await database('kit').insert({ id: id(2), name: 'Corvane R2', motor_kind: 'rear-hub-geared' });
      await database('setup').insert({ id: id(4), name: 'As it was' });
      const revision = { id: id(5), setup_id: id(4), number: 1, bike_id: id(1), kit_id: id(2), change: 'x' };
      await database('setup_revision').insert({ ...revision, settings: '{}', parts: '{}' });
      await database('course').insert({ id: id(6), name: 'Level round', kind: 'loop', surface: 'asphalt' });
      await database('outing').insert({ id: id(7), date: '2026-04-07' });
      const log = { id: id(8), sha256: 'a', file_name: 'ride.csv', bytes: Buffer.from('x'), byte_count: 1 };
      await database('log').insert({
        ...log,
        format: 'csv',
        cleaning: '{}',
        has_clock: true,
        duration_s: 1,
        sample_count: 1,
      });
      const run = { log_id: id(8), setup_revision_id: id(5), course_id: id(6), outing_id: id(7), warnings: '[]' };
      const method = { method_name: 'range', method_version: '1.1' };
      await database('run').insert([
        { ...run, ...method, id: id(1), test_kind: 'range', analysis_asked_at: new Date() },
        { ...run, ...method, id: id(2), test_kind: 'battery', analysis_asked_at: null },
      ]);
      await database.migrate.latest({ migrationSource: source });
      const rows = await database('run').select('id', 'analyses_requested', 'analyses_completed').orderBy('id');
      expect(rows).toEqual([
        { id: id(1), analyses_requested: 1, analyses_completed: 0 },
        { id: id(2), analyses_requested: 0, analyses_completed: 0 },
      ]);
    });
  });
});
