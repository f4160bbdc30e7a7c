import type { SpanKind } from './findings.js';

/**
 * What the program knows of a kind of test, in one entry each; its analyser stands in `analyse-log.ts`, so that a page that names
 * kinds does not load nine analysers.
 */
interface TestKindEntry {
  readonly label: string;
  /** Of the method; a higher one makes stored figures be computed again. */
  readonly version: string;
  /** The figure that lists show. */
  readonly headline: string;
  /** Parts of the log that a tester may set. */
  readonly spans: readonly SpanKind[];
  /** Which figures of any ride stand beside its own. */
  readonly alsoShows: 'ride' | 'ride and consumption' | 'nothing';
  readonly needsFullPack: boolean;
  readonly heatsMotor: boolean;
  readonly bothDirections: boolean;
  /** How it is ridden. */
  readonly how: string;
}

/** The nine kinds of test. */
export const TEST_KINDS = {
  range: {
    label: 'Range and consumption',
    version: '1.5',
    headline: 'netConsumption',
    spans: ['ride'],
    alsoShows: 'ride',
    needsFullPack: true,
    heatsMotor: false,
    bothDirections: false,
    how: 'Start full and rested, hold one level, ride until the end of the course or cut-off.',
  },
  'assist-levels': {
    label: 'Assist levels',
    version: '1.4',
    headline: 'meanMovingSpeed',
    spans: ['level'],
    alsoShows: 'ride',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: false,
    how: 'The same flat stretch of road at each level, pedalling alike; hold each level at least 30 s after the speed has settled.',
  },
  'top-speed': {
    label: 'Top speed',
    version: '1.5',
    headline: 'twoWayTopSpeed',
    spans: ['pass'],
    alsoShows: 'ride',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: true,
    how: 'Flat stretch of road, both directions, 5 s at full speed between the gates; note the gear.',
  },
  'hill-climb': {
    label: 'Hill climb',
    version: '1.5',
    headline: 'climbTime',
    spans: ['ride'],
    alsoShows: 'ride and consumption',
    needsFullPack: false,
    heatsMotor: true,
    bothDirections: false,
    how: 'Rolling start before the first gate, one level, same way of pedalling all the way to the last gate.',
  },
  'assist-response': {
    label: 'Assist response',
    version: '1.4',
    headline: 'latency',
    spans: ['start'],
    alsoShows: 'ride',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: false,
    how: 'Five standing starts, stop pedalling, pull the brake; wait for standstill between them.',
  },
  heating: {
    label: 'Motor heating',
    version: '1.4',
    headline: 'timeConstant',
    spans: ['fit'],
    alsoShows: 'ride',
    needsFullPack: false,
    heatsMotor: true,
    bothDirections: false,
    how: 'Start cold, hold the load, read temperatures at the stops, then log the cooling. Stop at the limit.',
  },
  battery: {
    label: 'Battery',
    version: '1.4',
    headline: 'internalResistance',
    spans: ['fit'],
    alsoShows: 'ride',
    needsFullPack: true,
    heatsMotor: false,
    bothDirections: false,
    how: 'From full and rested to cut-off, with load steps and rests.',
  },
  'coast-down': {
    label: 'Coast-down',
    version: '1.3',
    headline: 'cda',
    spans: ['coast'],
    alsoShows: 'ride',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: true,
    how: 'Roll free from speed, motor off, hands off the brakes, both directions in turns.',
  },
  stand: {
    label: 'Stand test',
    version: '1.2',
    headline: 'noLoadSpeed',
    spans: ['no-load', 'spin-down'],
    alsoShows: 'nothing',
    needsFullPack: false,
    heatsMotor: false,
    bothDirections: false,
    how: 'Wheel off the ground: full throttle, then off, until the wheel stands.',
  },
} as const satisfies Record<string, TestKindEntry>;
export type TestKind = keyof typeof TEST_KINDS;
export const TEST_KIND_NAMES = Object.keys(TEST_KINDS) as readonly TestKind[];

/** Name and version kept with every figure. */
export interface Method {
  readonly name: string;
  readonly version: string;
}
/** The present method of each kind of test. */
export const METHODS = Object.fromEntries(
  TEST_KIND_NAMES.map((name) => [name, { name, version: TEST_KINDS[name].version }]),
) as Readonly<Record<TestKind, Method>>;
/** A tester moves the edges of what figures rest on; what the log merely shows (a stop, a soak) is read. */
export const SETTABLE_SPANS: ReadonlySet<SpanKind> = new Set(TEST_KIND_NAMES.flatMap((name) => TEST_KINDS[name].spans));
