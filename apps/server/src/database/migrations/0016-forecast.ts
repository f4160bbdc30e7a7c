import type { Knex } from 'knex';

export const name = '0016-forecast';

/** Forecasts as they were when they were kept, and the ride each was set against. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table kept_forecast (
      id uuid primary key, title text not null check (title <> ''), setup_id uuid not null references setup on delete cascade,
      course_id uuid references course on delete set null, question jsonb not null, figures jsonb not null,
      run_id uuid references run on delete set null, version integer not null default 1, at timestamptz not null default now()
    );
    create index kept_forecast_setup on kept_forecast (setup_id);
  `);
}
