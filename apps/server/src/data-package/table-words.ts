/** What each table holds, for a stranger with the package in hand. A table that is not named here is not in it. */
export const TABLE_WORDS: Readonly<Record<string, string>> = {
  bike: 'Bikes that kits are fitted to.',
  kit: 'Conversion kits: motor, controller, what is in the box.',
  pack: 'Battery packs.',
  charger: 'Chargers.',
  add_on: 'Add-ons: torque arms, brakes, trailers, fluids.',
  limit_profile: 'Limits that setups are checked against, as the tester wrote them down. No legal advice.',
  rider: 'Riders.',
  logger: 'Loggers with what is known of their errors.',
  setup: 'Setups: parts fitted together.',
  setup_revision: 'States of a setup. Runs belong to a revision, which keeps a copy of its parts as they were.',
  setup_revision_pack: 'Packs of a revision, in order.',
  setup_revision_add_on: 'Add-ons of a revision, in order.',
  setup_mark: 'Checks and clearance items passed by eye or waived in writing.',
  fitting: 'Steps of a fitting with times, difficulty and troubles.',
  fitting_template: 'Steps of fittings saved for the next one.',
  fitting_record: 'What is noted around a fitting: box, wires, tools, errors.',
  stand_record: 'Readings on the stand.',
  finding: 'Trouble found on the stand and what cured it.',
  experience_rating: 'What riders said of setups, on steps from 1 to 5.',
  photo: 'Photos; the files lie in photos/.',
  purchase_list: 'What was bought for a setup.',
  money_book: 'Currency, rates, electricity, wear and alternatives, for all setups.',
  intended_use: 'Uses that setups are weighed for: bounds, criteria, weights, value functions.',
  course: 'Courses with their tracks and timing gates.',
  outing: 'Occasions of riding with their weather.',
  logger_profile: 'How the columns of a kind of log are read.',
  log: 'Raw logs; the files lie in logs/, byte for byte as they came.',
  trial: 'Questions put to setups.',
  trial_setup: 'Setups of a trial, in order of their letters, and how they are ridden.',
  trial_look: 'How often the verdict of a trial was looked at.',
  plan: 'Plans: rules by which the order of runs was made.',
  plan_slot: 'Places in a plan.',
  plan_change: 'Changes of a plan with their reasons.',
  logger_session: 'Connections of loggers.',
  sample_chunk: 'Lines of loggers as they arrived, one JSON a line.',
  run: 'Runs: what was ridden, how, and by which method its figures were made.',
  run_exclusion: 'Runs that were left out, with the reason.',
  run_correction: 'Corrections of what was found in a log.',
  figure: 'Figures of runs with standard uncertainty, 95 % interval and derivation.',
  figure_history: 'Figures as they were before they were made again.',
  ride: 'Rides led from the console.',
  ride_mark: 'Marks set while riding.',
  setting: 'Settings of this installation.',
};
/** Queues, and what is made anew from the rest: never in a package. */
export const LEFT_OUT: readonly string[] = [
  'channel',
  'import_file',
  'reanalysis',
  'reanalysis_run',
  'knex_migrations',
  'knex_migrations_lock',
  'migration_checksum',
];
/** Columns whose bytes are files of the package, by table. */
export const BYTES_IN: Readonly<Record<string, { readonly column: string; readonly folder: string }>> = {
  log: { column: 'bytes', folder: 'logs' },
  photo: { column: 'bytes', folder: 'photos' },
};
/** The mark of the demo is the installation's own. */
export const OWN_SETTINGS: readonly string[] = ['demo'];

const UNITS: readonly (readonly [ending: RegExp, unit: string])[] = [
  [/_wh_per_km$/, 'Wh/km'],
  [/_per_k_wh$/, '1/kWh'],
  [/_km_?h$/, 'km/h'],
  [/_mps$/, 'm/s'],
  [/_hpa$/, 'hPa'],
  [/_ohm$/, 'Ω'],
  [/_bar$/, 'bar'],
  [/_kg$/, 'kg'],
  [/_wh$/, 'Wh'],
  [/_ah$/, 'Ah'],
  [/_rpm$/, '1/min'],
  [/_nm$/, 'N·m'],
  [/_mm$/, 'mm'],
  [/_mm2$/, 'mm²'],
  [/_m2$/, 'm²'],
  [/_ml$/, 'ml'],
  [/_km$/, 'km'],
  [/_c$/, '°C'],
  [/_v$/, 'V'],
  [/_a$/, 'A'],
  [/_w$/, 'W'],
  [/_m$/, 'm'],
  [/_s$/, 's'],
  [/_t$/, 's'],
];
/** The unit that a column's name ends in. */
export function unitOfColumn(name: string): string | undefined {
  return UNITS.find(([ending]) => ending.test(name))?.[1];
}
