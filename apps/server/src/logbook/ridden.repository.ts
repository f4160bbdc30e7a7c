import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { RiddenDistance } from '@ebrix/core/life';
import { convertUnit, type UnitName } from '@ebrix/core/units';
import { KNEX } from '../database/database.module.js';

export interface CapacityRow {
  readonly day: string;
  readonly kind: 'ride' | 'test';
  /** Ah of a test from full to cut-off, Wh of a ride. */
  readonly value: number;
  readonly airTemperatureC: number | null;
}

/** What measured rides add to a life by themselves. */
@Injectable()
export class RiddenRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** Distances by setup and day. One log that was looked at by several tests counts once. Nothing simulated. */
  async distances(setupIds: readonly string[]): Promise<Map<string, RiddenDistance[]>> {
    const { rows } = await this.database.raw<{ rows: { setup_id: string; day: string; km: number }[] }>(
      `
      select setup_id, day, max(km) as km from (
        select rev.setup_id, o.date as day, r.log_id, r.test_kind, sum(f.value) as km
        from run r join setup_revision rev on rev.id = r.setup_revision_id join outing o on o.id = r.outing_id
          join figure f on f.run_id = r.id and f.key = 'distance'
        where rev.setup_id = any(?) and r.deleted_at is null and not r.is_simulated
        group by rev.setup_id, o.date, r.log_id, r.test_kind
      ) of_log group by setup_id, day, log_id order by day`,
      [[...setupIds]],
    );
    const found = new Map<string, RiddenDistance[]>();
    for (const { setup_id: id, day, km } of rows) {
      const own = found.get(id) ?? [];
      own.push({ day, km });
      found.set(id, own);
    }
    return found;
  }

  /** By setup a mark that changes whenever its rides do; one deleted or brought back only counts up its version. */
  async stamps(): Promise<Map<string, string>> {
    const { rows } = await this.database.raw<{ rows: { setup_id: string; stamp: string }[] }>(`
      select rev.setup_id, concat_ws(' ', count(*), sum(r.version), max(r.updated_at), max(o.updated_at)) as stamp
      from run r join setup_revision rev on rev.id = r.setup_revision_id join outing o on o.id = r.outing_id group by rev.setup_id`);
    return new Map(rows.map(({ setup_id: id, stamp }) => [id, stamp]));
  }

  /** What the pack of some revisions gave from full to cut-off. */
  async capacities(revisionIds: readonly string[]): Promise<CapacityRow[]> {
    const rows = (await this.database('run as r')
      .join('outing as o', 'o.id', 'r.outing_id')
      .join('figure as f', 'f.run_id', 'r.id')
      .select('o.date as day', 'f.key', 'f.value', 'o.air_temperature_c')
      .where({ 'r.emptied': true, 'r.is_simulated': false })
      .whereRaw('r.setup_revision_id = any(?)', [[...revisionIds]])
      .whereNull('r.deleted_at')
      .whereRaw(
        "not exists (select from run_exclusion x where x.run_id = r.id and x.undone_at is null) and ((r.test_kind = 'battery' and f.key = 'capacity') or (r.test_kind = 'range' and f.key = 'energyOut'))",
      )
      .orderBy('o.date')) as { day: string; key: string; value: number; air_temperature_c: number | null }[];
    return rows.map(({ day, key, value, air_temperature_c: airTemperatureC }) => ({
      day,
      kind: key === 'capacity' ? 'test' : 'ride',
      value,
      airTemperatureC,
    }));
  }

  /** Resistance of the pack of some revisions at its battery tests, Ω. */
  async resistances(
    revisionIds: readonly string[],
  ): Promise<{ day: string; ohm: number; airTemperatureC: number | null }[]> {
    const rows = (await this.database('run as r')
      .join('outing as o', 'o.id', 'r.outing_id')
      .join('figure as f', 'f.run_id', 'r.id')
      .select('o.date as day', 'f.value', 'f.unit', 'o.air_temperature_c')
      .where({
        'r.is_simulated': false,
        'r.test_kind': 'battery',
        'f.key': 'internalResistance',
      })
      .whereRaw('r.setup_revision_id = any(?)', [[...revisionIds]])
      .whereNull('r.deleted_at')
      .whereRaw('not exists (select from run_exclusion x where x.run_id = r.id and x.undone_at is null)')
      .orderBy('o.date')) as { day: string; value: number; unit: UnitName; air_temperature_c: number | null }[];
    return rows.map(({ day, value, unit, air_temperature_c: airTemperatureC }) => ({
      day,
      ohm: convertUnit(value, unit, 'Ω'),
      airTemperatureC,
    }));
  }

  /** Mean Wh/km of a setup's ordinary rides; undefined without any. */
  async whPerKm(setupId: string): Promise<number | undefined> {
    const [row] = await this.database('run as r')
      .join('setup_revision as rev', 'rev.id', 'r.setup_revision_id')
      .join('figure as f', 'f.run_id', 'r.id')
      .avg<{ mean: number | null }[]>('f.value as mean')
      .where({ 'rev.setup_id': setupId, 'r.test_kind': 'range', 'r.is_simulated': false, 'f.key': 'netConsumption' })
      .where('f.value', '>', 0)
      .whereNull('r.deleted_at')
      .whereRaw('not exists (select from run_exclusion x where x.run_id = r.id and x.undone_at is null)');
    return row?.mean === null || row === undefined ? undefined : Number(row.mean);
  }
}
