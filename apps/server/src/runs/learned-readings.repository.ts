import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { MANUAL_METHOD, type Taught } from '@ebrix/core/analysis';
import type { GaugeReading } from '@ebrix/core/battery';
import { KNEX } from '../database/database.module.js';

/** Less was never a charge: a socket meter that ran on, or a wrong number. */
const LOWEST_SHARE = 0.3;
/** Of runs that count and were ridden by a rider. */
const COUNTED = `r.deleted_at is null and not r.is_simulated
  and not exists (select from run_exclusion x where x.run_id = r.id and x.undone_at is null)`;
const PACKS_OF = (revision: string): string =>
  `(select array_agg(p.pack_id order by p.pack_id) from setup_revision_pack p where p.revision_id = ${revision})`;
/** What gauges and chargers were seen to mean beside a logger, over all runs with the same packs. */
@Injectable()
export class LearnedReadingsRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async gaugeReadings(revisionId: string): Promise<GaugeReading[]> {
    return (await this.taught(revisionId)).flatMap(({ gauge }) => gauge);
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
    return (await this.taught(revisionId))
      .flatMap(({ chargeShare }) => chargeShare ?? [])
      .filter((share) => share > LOWEST_SHARE && share < 1);
  }

  private async taught(revisionId: string): Promise<Taught[]> {
    const { rows } = await this.database.raw<{ rows: { taught: Taught }[] }>(
      `select r.findings->'taught' as taught from run r
       where r.findings \\? 'taught' and ${COUNTED}
         and ${PACKS_OF('r.setup_revision_id')} = ${PACKS_OF('?')}
       order by r.id`,
      [revisionId],
    );
    return rows.map(({ taught }) => taught);
  }

  /** Runs without a logger that are read by what this one shows of its packs or their charger. */
  async readByItsPacks(runId: string, transaction: Knex): Promise<string[]> {
    const { rows } = await transaction.raw<{ rows: { id: string }[] }>(
      `select r.id from run r join run own on own.id = ?
       where r.id <> own.id and r.method_name = ? and r.deleted_at is null
         and (r.gauge is not null or r.manual_readings->>'wallEnergyWh' is not null)
         and own.findings \\? 'taught'
         and ${PACKS_OF('r.setup_revision_id')} = ${PACKS_OF('own.setup_revision_id')}`,
      [runId, MANUAL_METHOD.name],
    );
    return rows.map(({ id }) => id);
  }
}
