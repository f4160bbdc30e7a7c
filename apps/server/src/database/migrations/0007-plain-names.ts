import type { Knex } from 'knex';

export const name = '0007-plain-names';

/** Columns and stored payloads take the names that code and API use: requested analyses, manual readings, charts, clearance. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table run rename column analyses_asked to analyses_requested;
    alter table run rename column analyses_done to analyses_completed;
    alter table run rename column hand to manual_readings;
    alter index run_analysis_open rename to run_analysis_pending;
    update run set findings = (findings - 'pictures') || jsonb_build_object('charts', coalesce(findings->'pictures', '[]'));
    alter table run alter column findings set default '{"spans":[],"charts":[]}';

    update setup_mark set about = 'clearance-' || substr(about, 6) where about like 'gate-%';
    update ride set preparation = (preparation - 'areGatesValid')
        || jsonb_build_object('isClearanceConfirmed', preparation->'areGatesValid')
      where jsonb_exists(preparation, 'areGatesValid');
    update import_file set assignment = (assignment - 'hand' - 'stretch') || jsonb_build_object(
        'manualReadings', coalesce(assignment->'hand', 'null'), 'logSpan', coalesce(assignment->'stretch', 'null'))
      where jsonb_typeof(assignment) = 'object';
    update import_file set parts = (
        select jsonb_agg((part - 'stretch') || jsonb_build_object('logSpan', part->'stretch') order by position)
        from jsonb_array_elements(parts) with ordinality as list(part, position))
      where jsonb_array_length(parts) > 0;
  `);
}
