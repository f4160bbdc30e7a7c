import type { Knex } from 'knex';

export const name = '0002-bench';

type Column = readonly [
  name: string,
  rule: 'positive' | 'not-negative' | 'share' | 'whole' | 'flag' | 'json' | 'list' | 'text' | readonly string[],
];

function definition([column, rule]: Column): string {
  if (typeof rule !== 'string')
    return `${column} text check (${column} in (${rule.map((word) => `'${word}'`).join(',')}))`;
  switch (rule) {
    case 'positive':
      return `${column} double precision check (${column} > 0)`;
    case 'not-negative':
      return `${column} double precision check (${column} >= 0)`;
    case 'share':
      return `${column} double precision check (${column} between 0 and 1)`;
    case 'whole':
      return `${column} integer check (${column} >= 0)`;
    case 'flag':
      return `${column} boolean`;
    case 'json':
      return `${column} jsonb`;
    case 'list':
      return `${column} jsonb not null default '[]' check (jsonb_typeof(${column}) = 'array')`;
    case 'text':
      return `${column} text not null default ''`;
  }
}
const added = (table: string, columns: readonly Column[]): string =>
  `alter table ${table} ${columns.map((column) => `add column ${definition(column)}`).join(', ')};`;

const PLACES = ['front-wheel', 'handlebar', 'frame', 'rear-wheel', 'front-rack', 'rear-rack', 'trailer'];
const CHEMISTRIES = ['li-ion-nmc', 'li-ion-lfp', 'lead-acid'];
const MATERIALS = ['steel', 'aluminium', 'carbon', 'titanium'];
const BRAKES = ['disc', 'rim', 'drum', 'coaster', 'none'];
const SHELLS = ['threaded', 'pressed', 'one-piece', 'other'];
const ADD_ONS = [
  'torque-arm',
  'pack-joiner',
  'cooling-fins',
  'cooling-fluid',
  'chainring',
  'tyres',
  'brake-rotor',
  'brake-switches',
  'trailer',
  'rack',
  'other',
];

const BIKE: readonly Column[] = [
  ['front_share', 'share'],
  ['rim_diameter_mm', 'positive'],
  ['front_dropout_mm', 'positive'],
  ['rear_dropout_mm', 'positive'],
  ['front_axle', ['open', 'thru']],
  ['rear_axle', ['open', 'thru']],
  ['front_dropout_material', MATERIALS],
  ['rear_dropout_material', MATERIALS],
  ['dropout_slot_mm', 'positive'],
  ['dropout_thickness_mm', 'positive'],
  ['cog_mount', ['freewheel', 'cassette', 'single', 'hub-gear']],
  ['cog_stack_mm', 'positive'],
  ['chainring_teeth', 'list'],
  ['cog_teeth', 'list'],
  ['chain_line_mm', 'positive'],
  ['front_brake', BRAKES],
  ['rear_brake', BRAKES],
  ['front_rotor_mm', 'positive'],
  ['rear_rotor_mm', 'positive'],
  ['shell_kind', SHELLS],
  ['shell_width_mm', 'positive'],
  ['frame', 'json'],
  ['mount_points', ['bosses', 'none']],
  ['rack_limit_kg', 'positive'],
  ['front_tyre_limit_kg', 'positive'],
  ['rear_tyre_limit_kg', 'positive'],
  ['total_limit_kg', 'positive'],
  ['crank_gap_mm', 'not-negative'],
  ['handlebar_free_mm', 'not-negative'],
  ['is_folding', 'flag'],
  ['price', 'json'],
];
const KIT: readonly Column[] = [
  ['no_load_rpm', 'positive'],
  ['rpm_per_volt', 'positive'],
  ['gear_ratio', 'positive'],
  ['max_torque_nm', 'positive'],
  ['controller_place', ['inside', 'outside']],
  ['peak_current_a', 'positive'],
  ['cutoff_v', 'positive'],
  ['controller_max_v', 'positive'],
  ['display_max_v', 'positive'],
  ['sensor', ['cadence', 'torque', 'both', 'none']],
  ['brake_switches', ['lever', 'in-line', 'none']],
  ['throttle', ['thumb', 'twist', 'none']],
  ['display', 'text'],
  ['axle_width_mm', 'positive'],
  ['axle_diameter_mm', 'positive'],
  ['axle_flats_mm', 'positive'],
  ['cog_mount', ['freewheel', 'cassette', 'none']],
  ['cog_space_mm', 'positive'],
  ['disc_mount', 'flag'],
  ['disc_boss_depth_mm', 'positive'],
  ['shell_kinds', 'list'],
  ['shell_width_mm', 'positive'],
  ['chain_line_mm', 'positive'],
  ['crank_sensor_mm', 'positive'],
  ['handlebar_room_mm', 'not-negative'],
  ['rim_diameter_mm', 'positive'],
  ['torque_arms', 'whole'],
  ['torque_arm_nm', 'positive'],
  ['nut_torque_nm', 'positive'],
  ['connector_a', 'positive'],
  ['wire_mm2', 'positive'],
  ['wire_length_m', 'positive'],
  ['box', 'list'],
  ['price', 'json'],
  ['claims', 'json'],
];
const PACK: readonly Column[] = [
  ['parallel_cells', 'whole'],
  ['protection_continuous_a', 'positive'],
  ['protection_peak_a', 'positive'],
  ['protection_cutoff_v', 'positive'],
  ['max_charge_a', 'positive'],
  ['resistance_ohm', 'positive'],
  ['connector_a', 'positive'],
  ['fuse_a', 'positive'],
  ['length_mm', 'positive'],
  ['height_mm', 'positive'],
  ['width_mm', 'positive'],
  ['mount_kind', ['bosses', 'rivet-nuts', 'straps', 'glued', 'rear-rack', 'front-rack', 'bag', 'trailer']],
  ['rail_mm', 'not-negative'],
  ['gauge_kind', ['none', 'lights', 'bars', 'percent', 'voltage']],
  ['gauge_steps', 'whole'],
  ['price', 'json'],
  ['claims', 'json'],
];
const CHARGER: readonly Column[] = [
  ['chemistry', CHEMISTRIES],
  ['output_v', 'positive'],
  ['output_a', 'positive'],
  ['efficiency', 'share'],
  ['price', 'json'],
];
const ADD_ON: readonly Column[] = [
  ['kind', ADD_ONS],
  ['place', PLACES],
  ['mass_kg', 'positive'],
  ['rated_a', 'positive'],
  ['torque_nm', 'positive'],
  ['teeth', 'whole'],
  ['limit_kg', 'positive'],
  ['wheel_circumference_m', 'positive'],
  ['rotor_mm', 'positive'],
  ['dose_ml', 'positive'],
  ['price', 'json'],
];
const LIMIT: readonly Column[] = [
  ['max_assist_kmh', 'positive'],
  ['max_rated_power_w', 'positive'],
  ['throttle', ['free', 'start-only', 'none']],
  ['start_only_kmh', 'positive'],
  ['minimum_age', 'whole'],
  ['helmet', ['needed', 'not-needed']],
  ['registration', ['needed', 'not-needed']],
];
const partTable = (table: string, columns: readonly Column[]): string => `
  create table ${table} (
    id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
    name text not null check (name <> ''), ${columns.map(definition).join(', ')}, notes text not null default ''
  );
  create unique index ${table}_name on ${table} (lower(name)) where archived_at is null;`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    ${added('bike', BIKE)}
    ${added('kit', KIT)}
    ${added('pack', PACK)}
    ${partTable('charger', CHARGER)}
    ${partTable('add_on', ADD_ON)}
    alter table add_on alter column kind set not null, alter column place set not null;
    ${partTable('limit_profile', LIMIT)}

    alter table setup_revision
      add column charger_id uuid references charger, add column limits_id uuid references limit_profile,
      add column fit jsonb not null default '{}', add column why text not null default '';
    create table setup_revision_add_on (
      revision_id uuid not null references setup_revision on delete cascade, add_on_id uuid not null references add_on,
      position integer not null, primary key (revision_id, position)
    );
    create index setup_revision_setup on setup_revision (setup_id);

    -- Checks and gates passed by eye or waived in writing; what was taken back stays on record.
    create table setup_mark (
      id uuid primary key, revision_id uuid not null references setup_revision on delete cascade, about text not null check (about <> ''),
      kind text not null check (kind in ('passed','waived')), signed_by text not null check (signed_by <> ''),
      reason text not null default '' check (kind = 'passed' or length(reason) >= 5),
      at timestamptz not null default now(), undone_at timestamptz
    );
    create unique index setup_mark_open on setup_mark (revision_id, about) where undone_at is null;

    create table fitting (
      setup_id uuid primary key references setup on delete cascade, version integer not null default 1,
      updated_at timestamptz not null default now(), steps jsonb not null check (jsonb_typeof(steps) = 'array')
    );
    create table fitting_template (
      id uuid primary key, name text not null check (name <> ''), steps jsonb not null check (jsonb_typeof(steps) = 'array'),
      updated_at timestamptz not null default now()
    );
    create unique index fitting_template_name on fitting_template (lower(name));

    create table stand_record (
      revision_id uuid primary key references setup_revision on delete cascade, version integer not null default 1,
      updated_at timestamptz not null default now(), day date not null, signed_by text not null check (signed_by <> ''),
      direction_right boolean, spins_freely boolean, brake_cuts boolean, readings jsonb not null, note text not null default ''
    );
    create table finding (
      id uuid primary key, revision_id uuid not null references setup_revision on delete cascade, symptom text not null check (symptom <> ''),
      suspect text, cause text not null check (cause <> ''), cure text not null default '', signed_by text not null check (signed_by <> ''),
      at timestamptz not null default now()
    );
    create index finding_revision on finding (revision_id);

    create table photo (
      id uuid primary key,
      setup_id uuid references setup on delete cascade, bike_id uuid references bike on delete cascade, kit_id uuid references kit on delete cascade,
      pack_id uuid references pack on delete cascade, charger_id uuid references charger on delete cascade, add_on_id uuid references add_on on delete cascade,
      check (num_nonnulls(setup_id, bike_id, kit_id, pack_id, charger_id, add_on_id) = 1),
      step text not null default '', caption text not null default '', bytes bytea not null, byte_count integer not null check (byte_count > 0),
      width integer not null check (width > 0), height integer not null check (height > 0),
      created_at timestamptz not null default now(), removed_at timestamptz
    );
    alter table photo alter column bytes set storage external;
    create index photo_setup on photo (setup_id);
  `);
}
