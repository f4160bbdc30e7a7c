import type { Knex } from 'knex';

export const name = '0019-trash';

/** What a person deletes as one thing; all that goes with it goes with it into the trash. */
const THINGS = [
  ...[
    'bike',
    'kit',
    'pack',
    'charger',
    'add_on',
    'limit_profile',
    'rider',
    'logger',
    'setup',
    'course',
    'outing',
    'trial',
  ],
  ...[
    'intended_use',
    'elsewhere_study',
    'kept_forecast',
    'log_entry',
    'experience_rating',
    'fitting_template',
    'finding',
  ],
];
/** Rows that go when what they belong to goes. */
const PARTS = [
  ...[
    'setup_revision',
    'setup_revision_pack',
    'setup_revision_add_on',
    'setup_mark',
    'fitting',
    'stand_record',
    'photo',
  ],
  ...[
    'trial_setup',
    'plan',
    'plan_slot',
    'plan_change',
    'trial_look',
    'fitting_record',
    'purchase_list',
    'logger_secret',
  ],
];

/** Deleted things are kept for a while as they were, row by row, and can be brought back. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table trash (id uuid primary key default gen_random_uuid(), at timestamptz not null default now(), kind text not null);
    create index trash_at on trash (at);
    create table trash_row (
      trash_id uuid not null references trash on delete cascade, n bigint generated always as identity, kind text not null,
      content jsonb not null, primary key (trash_id, n)
    );
    -- What stays and only forgets that it belonged to a thing: a run its place in a plan, a report its trial.
    create table trash_link (
      trash_id uuid not null references trash on delete cascade, kind text not null, id uuid not null, field text not null, target uuid not null,
      primary key (trash_id, kind, id, field)
    );

    -- A thing that is deleted by itself begins an entry; one that goes with another belongs to that one's.
    create function keep_in_trash() returns trigger language plpgsql as $$
    declare
      entry uuid;
      link record;
    begin
      if pg_trigger_depth() = 1 then
        if not tg_argv[0]::boolean then return old; end if;
        insert into trash (kind) values (tg_table_name) returning id into entry;
        perform set_config('ebrix.trash', entry::text, true);
      else
        entry := nullif(current_setting('ebrix.trash', true), '')::uuid;
        if entry is null then return old; end if;
      end if;
      insert into trash_row (trash_id, kind, content) values (entry, tg_table_name, to_jsonb(old));
      for link in
        select c.relname as kind, a.attname as field from pg_constraint k
        join pg_class c on c.oid = k.conrelid join pg_attribute a on a.attrelid = k.conrelid and a.attnum = k.conkey[1]
        where k.contype = 'f' and k.confdeltype = 'n' and k.confrelid = tg_relid
      loop
        execute format('insert into trash_link (trash_id, kind, id, field, target) select $1, %L, id, %L, $2 from %I where %I = $2',
          link.kind, link.field, link.kind, link.field) using entry, (to_jsonb(old) ->> 'id')::uuid;
      end loop;
      return old;
    end $$;

    -- Puts every row back; one that refers to another waits until that one is there. Fails as an insert does, and then nothing is changed.
    create function bring_back(entry uuid) returns void language plpgsql as $$
    declare
      one record;
      link record;
      columns text;
      waiting bigint[];
      left_over bigint[];
      last_problem text;
    begin
      select array_agg(n order by n) into waiting from trash_row where trash_id = entry;
      while cardinality(waiting) > 0 loop
        left_over := '{}';
        for one in select * from trash_row where trash_id = entry and n = any(waiting) order by n loop
          select string_agg(quote_ident(a.attname), ', ' order by a.attnum) into columns from pg_attribute a
          where a.attrelid = one.kind::regclass and a.attnum > 0 and not a.attisdropped and a.attgenerated = ''
            and jsonb_exists(one.content, a.attname::text);
          begin
            execute format('insert into %I (%s) overriding system value select %s from jsonb_populate_record(null::%I, $1)',
              one.kind, columns, columns, one.kind) using one.content;
          exception when foreign_key_violation then
            left_over := left_over || one.n;
            last_problem := sqlerrm;
          end;
        end loop;
        if cardinality(left_over) = cardinality(waiting) then
          raise foreign_key_violation using message = last_problem;
        end if;
        waiting := left_over;
      end loop;
      -- Who belongs to something else by now stays there.
      for link in select * from trash_link where trash_id = entry loop
        execute format('update %I set %I = $1 where id = $2 and %I is null', link.kind, link.field, link.field) using link.target, link.id;
      end loop;
      delete from trash where id = entry;
    end $$;
  `);
  for (const [tables, isThing] of [
    [THINGS, true],
    [PARTS, false],
  ] as const)
    for (const table of tables)
      await knex.raw(
        `create trigger keep_in_trash before delete on ?? for each row execute function keep_in_trash('${String(isThing)}')`,
        [table],
      );
}
