import type { Knex } from 'knex';

export const name = '0018-accounts';

/** Who may come in, by what, and who did what. Of secrets only hashes are kept. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table account (
      id uuid primary key, name text not null check (name <> ''), role text not null check (role in ('reader', 'tester', 'owner')),
      password text not null, blocked_at timestamptz, version integer not null default 1,
      created_at timestamptz not null default now(), updated_at timestamptz not null default now()
    );
    create unique index account_name on account (lower(name));

    create table access_key (
      id uuid primary key, account_id uuid not null references account on delete cascade, label text not null,
      role text not null check (role in ('reader', 'tester', 'owner')), secret_sha256 bytea not null unique,
      created_at timestamptz not null default now(), last_used_at timestamptz
    );
    create index access_key_account on access_key (account_id);

    create table sign_in_code (
      code_sha256 bytea primary key, account_id uuid not null references account on delete cascade,
      expires_at timestamptz not null, used_at timestamptz
    );
    create index sign_in_code_account on sign_in_code (account_id);

    -- Of connect-pg-simple.
    create table sign_in_session (sid text primary key, sess json not null, expire timestamptz not null);
    create index sign_in_session_expire on sign_in_session (expire);

    create table installation_secret (name text primary key, secret text not null);

    create table logger_secret (logger_id uuid primary key references logger on delete cascade, secret_sha256 bytea not null);

    create table history_entry (
      id bigint generated always as identity primary key, at timestamptz not null default now(), account_id uuid,
      who text not null, operation text not null, object_id uuid
    );
    create index history_entry_object on history_entry (object_id, id);
    create function history_is_kept() returns trigger language plpgsql as $$
    begin
      raise exception 'History is only added to.';
    end $$;
    create trigger history_is_kept before update or delete or truncate on history_entry
      for each statement execute function history_is_kept();
  `);
}
