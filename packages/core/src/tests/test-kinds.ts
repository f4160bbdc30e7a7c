/** The nine kinds of test. `figures` are those a tester can decide a trial by. */
export const TEST_KINDS = {
  range: {
    label: 'Range and consumption',
    needsFullPack: true,
    heatsMotor: false,
    bothDirections: false,
    how: 'Start full and rested, hold one level, ride until the end of the course or cut-off.',
  },
  'assist-levels': {
    label: 'Assist levels',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: false,
    how: 'The same flat stretch at each level, pedalling alike; hold each level at least 30 s after the speed has settled.',
  },
  'top-speed': {
    label: 'Top speed',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: true,
    how: 'Flat stretch, both directions, 5 s at full speed between the gates; note the gear.',
  },
  'hill-climb': {
    label: 'Hill climb',
    needsFullPack: false,
    heatsMotor: true,
    bothDirections: false,
    how: 'Rolling start before the first gate, one level, same way of pedalling all the way to the last gate.',
  },
  'assist-response': {
    label: 'Assist response',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: false,
    how: 'Five standing starts, stop pedalling, pull the brake; wait for standstill between them.',
  },
  heating: {
    label: 'Motor heating',
    needsFullPack: false,
    heatsMotor: true,
    bothDirections: false,
    how: 'Start cold, hold the load, read temperatures at the stops, then log the cooling. Stop at the limit.',
  },
  battery: {
    label: 'Battery',
    needsFullPack: true,
    heatsMotor: false,
    bothDirections: false,
    how: 'From full and rested to cut-off, with load steps and rests.',
  },
  'coast-down': {
    label: 'Coast-down',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: true,
    how: 'Roll free from speed, motor off, hands off the brakes, both directions in turns.',
  },
  stand: {
    label: 'Stand test',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: false,
    how: 'Wheel off the ground: full throttle, then off, until the wheel stands.',
  },
} as const;
export type TestKind = keyof typeof TEST_KINDS;
export const TEST_KIND_NAMES = Object.keys(TEST_KINDS) as readonly TestKind[];
