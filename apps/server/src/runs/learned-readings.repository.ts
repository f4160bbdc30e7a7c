import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { MANUAL_METHOD } from '@ebrix/core/analysis';
import type { GaugeReading } from '@ebrix/core/battery';
import { KNEX } from '../database/database.module.js';

/** Of runs that count and were ridden by a rider. */
const COUNTED = `r.deleted_at is null and not r.is_simulated
  and not exists (select from run_exclusion x where x.run_id = r.id and x.undone_at is null)`;
const PACKS_OF = (revision: string): string =>
  `(select array_agg(p.pack_id order by p.pack_id) from setup_revision_pack p where p.revision_id = ${revision})`;
/** Began full, as far as anyone said or saw: else what a charge gave back, and what a gauge means, are of another ride too. */
const BEGAN_FULL = `not r.is_part_way and not r.warnings @> '[{"code":"battery-not-full"}]'`;

/** What gauges and chargers were seen to mean beside a logger, over all runs with the same packs. */
@Injectable()
export class LearnedReadingsRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async gaugeReadings(revisionId: string): Promise<GaugeReading[]> {
    const { rows } = await this.database.raw<{ rows: { gauge: GaugeReading[] }[] }>(
      `select r.findings->'gauge' as gauge from run r
       where r.findings \\? 'gauge' and ${BEGAN_FULL} and ${COUNTED}
         and ${PACKS_OF('r.setup_revision_id')} = ${PACKS_OF('?')}`,
      [revisionId],
    );
    return rows.flatMap(({ gauge }) => gauge);
  }

  /** Bars of the gauge when full, as the newest run with these packs has it. */
  async barsOf(revisionId: string): Promise<number | null> {
    const { rows } = await this.database.raw<{ rows: { bars: number }[] }>(
      `select (r.gauge->>'bars')::double precision as bars from run r
       where r.gauge is not null and ${COUNTED} and ${PACKS_OF('r.setup_revision_id')} = ${PACKS_OF('?')}
       order by r.id desc limit 1`,
      [revisionId],
    );
    return rows[0]?.bars ?? null;
  }

  /** Energy that came out of the pack ÷ energy from the socket to fill it again, of each ride that has both. */
  async chargeEfficiencies(revisionId: string): Promise<number[]> {
    const { rows } = await this.database.raw<{ rows: { share: number }[] }>(
      `select (f.value - coalesce(g.value, 0)) / (r.manual_readings->>'wallEnergyWh')::double precision as share
       from run r
         join setup_revision rev on rev.id = r.setup_revision_id
         join setup_revision own on own.id = ?
         join figure f on f.run_id = r.id and f.key = 'energyOut'
         left join figure g on g.run_id = r.id and g.key = 'energyRegenerated'
       where r.method_name <> ? and (r.manual_readings->>'wallEnergyWh')::double precision > 0
         and ${BEGAN_FULL} and ${COUNTED}
         and case when own.charger_id is null then ${PACKS_OF('rev.id')} = ${PACKS_OF('own.id')} else rev.charger_id = own.charger_id end`,
      [revisionId, MANUAL_METHOD.name],
    );
    return rows.map(({ share }) => share).filter((share) => share > 0.3 && share < 1);
  }

  /** Runs without a logger that are read by what this one shows of its packs or their charger. */
  async readByItsPacks(runId: string, transaction: Knex): Promise<string[]> {
    const { rows } = await transaction.raw<{ rows: { id: string }[] }>(
      `select r.id from run r join run own on own.id = ?
       where r.id <> own.id and r.method_name = ? and r.deleted_at is null
         and (r.gauge is not null or r.manual_readings->>'wallEnergyWh' is not null)
         and (own.findings \\? 'gauge' or (own.method_name <> ? and own.manual_readings->>'wallEnergyWh' is not null))
         and ${PACKS_OF('r.setup_revision_id')} = ${PACKS_OF('own.setup_revision_id')}`,
      [runId, MANUAL_METHOD.name, MANUAL_METHOD.name],
    );
    return rows.map(({ id }) => id);
  }
}
