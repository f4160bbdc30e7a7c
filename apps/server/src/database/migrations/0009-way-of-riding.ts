import type { Knex } from 'knex';

export const name = '0009-way-of-riding';

/**
 * How a run was ridden, and whether it was simulated; arms of a trial that differ by how they are ridden; the looks at a verdict.
 * What the console knew of a ride goes onto its run; runs from files say nothing of it, and are asked for.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table run
      add column way text check (way in ('throttle','light','steady','hard','ghost','off')),
      add column assist_level text not null default '',
      add column gear text not null default '',
      add column payload_kg double precision check (payload_kg >= 0),
      add column limit_mode text check (limit_mode in ('legal','opened')),
      add column laps integer check (laps > 0),
      add column tyre_pressure_bar double precision check (tyre_pressure_bar > 0),
      add column perceived_effort double precision check (perceived_effort between 0 and 10),
      add column is_simulated boolean not null default false;
    alter table ride add column is_simulated boolean not null default false;

    update ride set is_simulated = true
      where logger_id in (select id from logger where lower(name) = 'simulated logger')
         or session_id in (select id from logger_session where pace <> 1);
    update run set is_simulated = true where logger_id in (select id from logger where lower(name) = 'simulated logger');
    update run set way = ride.effort, assist_level = ride.level, laps = ride.laps, is_simulated = run.is_simulated or ride.is_simulated,
        tyre_pressure_bar = (ride.preparation->>'tyrePressureBar')::double precision
      from ride where ride.run_id = run.id and ride.effort in ('throttle','light','steady','hard');

    update import_file set assignment = assignment || '{"tyrePressureBar":null,"perceivedEffort":null,
        "riding":{"way":null,"level":"","gear":"","payloadKg":null,"limitMode":null,"laps":null}}'
      where jsonb_typeof(assignment) = 'object';

    alter table trial
      add column held_riding jsonb not null default '{}',
      add column meant_to_differ jsonb not null default '[]',
      add column counts_simulated boolean not null default false,
      add column chosen_design text
        check (chosen_design in ('blocked','covariate','grouped','independent','mixed','nested'));
    alter table trial_setup add column riding jsonb not null default '{}';
    alter table trial_setup drop constraint trial_setup_trial_id_revision_id_key;
    create index trial_setup_revision on trial_setup (revision_id);

    alter table plan_slot add column arm integer;
    update plan_slot s set arm = ts.position from trial_setup ts where ts.trial_id = s.trial_id and ts.revision_id = s.revision_id;
    delete from plan_slot where arm is null and state = 'planned';
    update plan_slot set arm = 0 where arm is null;
    alter table plan_slot alter column arm set not null;

    create table trial_look (
      trial_id uuid not null references trial on delete cascade, counted_runs integer not null check (counted_runs > 0),
      at timestamptz not null default now(), primary key (trial_id, counted_runs)
    );
  `);
}
