import type { ControllerModel, MotorModel, PackModel, RideCourse } from '@ebrix/core/ride-model';
import type { z } from 'zod';
import type { courseInputSchema, OutingInput, RidingDto, TimingGate } from '@ebrix/contract';
import type { TestKind } from '@ebrix/core/analysis';
import { BIKES, PACKS } from './bench-parts.js';

/**
 * The Marrowby Milk & Bread Round: a delivery co-operative in an invented town chooses a kit for eight step-through bikes.
 * People, places and makes are invented; the island lies in the open Atlantic.
 */
export const CO_OPERATIVE = 'Marrowby Milk & Bread Round';

/** What the ride model needs to know of each setup. */
export interface SetupModel {
  readonly name: string;
  readonly bike: string;
  readonly kit: string;
  readonly pack: string;
  readonly level: string;
  readonly change: string;
  readonly bikeMassKg: number;
  readonly rolling: number;
  readonly packModel: PackModel;
  readonly motor: MotorModel;
  readonly controller: Pick<ControllerModel, 'batteryCurrentLimitA' | 'levelShare' | 'phaseCurrentLimitA'> &
    Partial<ControllerModel>;
}
const PACK_44: PackModel = {
  chemistry: 'li-ion-nmc',
  seriesCells: 12,
  capacityAh: 11.3,
  resistanceOhm: 0.13,
  cutoffV: 36,
};
const PACK_52: PackModel = {
  chemistry: 'li-ion-nmc',
  seriesCells: 14,
  capacityAh: 12.9,
  resistanceOhm: 0.12,
  cutoffV: 42,
};
const GEARED_HUB: MotorModel = {
  kind: 'hub',
  // Its no-load turns on the sheet: 44 V ÷ (5.1 × 0.289) Nm/A is 285 a minute.
  torqueConstant: 0.289,
  windingOhmAt25C: 0.26,
  gearRatio: 5.1,
  ironLossNm: 0.1,
  heatCapacityJPerK: 1300,
  thermalResistanceKPerW: 0.6,
  hasFreewheel: true,
};
const DIRECT_HUB: MotorModel = {
  kind: 'hub',
  torqueConstant: 1.44,
  windingOhmAt25C: 0.32,
  gearRatio: 1,
  ironLossNm: 1.1,
  heatCapacityJPerK: 3600,
  thermalResistanceKPerW: 0.4,
  hasFreewheel: false,
};
const MID_MOTOR: MotorModel = {
  kind: 'mid',
  torqueConstant: 0.148,
  windingOhmAt25C: 0.14,
  gearRatio: 30,
  ironLossNm: 0.035,
  heatCapacityJPerK: 1500,
  thermalResistanceKPerW: 0.55,
  hasFreewheel: true,
};
export const SETUPS = {
  corvane: {
    name: 'Corvane R2, 44 V rear hub',
    bike: BIKES[0]!.name,
    kit: 'Corvane R2',
    pack: PACKS[0]!.name,
    level: '3',
    change: 'As first fitted',
    bikeMassKg: 30.5,
    rolling: 0.0075,
    packModel: PACK_44,
    motor: GEARED_HUB,
    controller: { batteryCurrentLimitA: 14, phaseCurrentLimitA: 23, levelShare: 0.6 },
  },
  dromel: {
    name: 'Dromel D5, 52 V direct drive',
    bike: BIKES[0]!.name,
    kit: 'Dromel D5',
    pack: PACKS[1]!.name,
    level: '3',
    change: 'As first fitted',
    bikeMassKg: 34.4,
    rolling: 0.0075,
    packModel: PACK_52,
    motor: DIRECT_HUB,
    controller: {
      batteryCurrentLimitA: 19,
      phaseCurrentLimitA: 36,
      levelShare: 0.5,
      regenerationCurrentA: 3,
      idleW: 5,
    },
  },
  quillon: {
    name: 'Quillon M3, 52 V mid motor',
    bike: BIKES[0]!.name,
    kit: 'Quillon M3',
    pack: PACKS[1]!.name,
    level: '3',
    change: 'As first fitted',
    bikeMassKg: 31.8,
    rolling: 0.0075,
    packModel: PACK_52,
    motor: MID_MOTOR,
    controller: { batteryCurrentLimitA: 13, phaseCurrentLimitA: 22, levelShare: 0.42, idleW: 2 },
  },
  tyres: {
    name: 'Corvane R2, puncture-proof tyres',
    bike: BIKES[1]!.name,
    kit: 'Corvane R2',
    pack: PACKS[0]!.name,
    level: '3',
    change: 'Puncture-proof tyres fitted',
    bikeMassKg: 32.1,
    rolling: 0.0095,
    packModel: PACK_44,
    motor: GEARED_HUB,
    controller: { batteryCurrentLimitA: 14, phaseCurrentLimitA: 23, levelShare: 0.6 },
  },
} as const satisfies Record<string, SetupModel>;
export type SetupKey = keyof typeof SETUPS;

export interface DemoCourse {
  readonly input: z.input<typeof courseInputSchema>;
  readonly ride: RideCourse;
  readonly gates?: readonly TimingGate[];
}
/** Doors where milk and bread are left. */
const doors = (lengthM: number, count: number) =>
  Array.from({ length: count }, (_, k) => ({
    distanceM: Math.round(((k + 0.6) * lengthM) / count),
    dwellS: 8 + ((k * 7) % 9),
  }));
const profile = (lengthM: number, altitudeAt: (share: number) => number) =>
  Array.from({ length: 61 }, (_, k) => ({ distanceM: (k * lengthM) / 60, altitudeM: altitudeAt(k / 60) }));
export const COURSES = {
  level: {
    input: {
      name: 'Level round',
      kind: 'loop',
      lengthM: 9200,
      surface: 'asphalt',
      notes: 'Quayside, Ropewalk, back along the canal. Twelve doors.',
      windExposure: 'mixed',
    },
    ride: {
      lengthM: 9200,
      profile: profile(9200, (s) => 8 + 2.5 * (1 - Math.cos(4 * Math.PI * s))),
      stops: doors(9200, 12),
    },
  },
  hill: {
    input: {
      name: 'Chapel Hill round',
      kind: 'loop',
      lengthM: 5600,
      surface: 'mixed',
      notes: 'Up Chapel Hill by the bakery, down by Weir Lane. Wet leaves in the lane: ride down slowly.',
    },
    ride: {
      lengthM: 5600,
      profile: profile(5600, (s) => 12 + 31 * (1 - Math.cos(2 * Math.PI * Math.min(1, s * 1.15)))),
      stops: doors(5600, 6),
    },
  },
  climb: {
    input: {
      name: 'Chapel Hill climb',
      kind: 'climb',
      lengthM: 1200,
      surface: 'asphalt',
      notes: 'From the bakery to the chapel wall. Rolling start before the first gate.',
      cautions: 'Carts come out of Mason Yard at 400 m. Ride down by the lane, not back down the climb.',
      permission: 'Parish way; tell the sexton before a morning of runs.',
      windExposure: 'sheltered',
      guessedGradeDeg: 7,
    },
    ride: {
      lengthM: 1200,
      profile: profile(1200, (s) => 14 + 62 * s + 5 * Math.sin(2 * Math.PI * s)),
      stops: [],
    },
    gates: [
      { kind: 'start', name: 'Bakery corner', distanceM: 100 },
      { kind: 'temperature-stop', name: 'Lych gate', distanceM: 640 },
      { kind: 'finish', name: 'Chapel wall', distanceM: 1100 },
    ],
  },
  quay: {
    input: {
      name: 'Quay straight',
      kind: 'flat-strip',
      lengthM: 1400,
      surface: 'asphalt',
      notes: 'Along the warehouses, level and closed on Sundays. Cones at both ends.',
      windExposure: 'open',
      isBothWays: true,
    },
    ride: { lengthM: 1400, profile: profile(1400, () => 6), stops: [] },
  },
  mill: {
    input: {
      name: 'Windmill road',
      kind: 'climb',
      lengthM: 6000,
      surface: 'asphalt',
      notes: 'Long and even, for heat. A trough for cooling off at the top.',
      windExposure: 'mixed',
    },
    ride: { lengthM: 6000, profile: profile(6000, (s) => 10 + 420 * s), stops: [] },
  },
} as const satisfies Record<string, DemoCourse>;
export type CourseKey = keyof typeof COURSES;

export type OutingKey = keyof typeof OUTINGS;
const outing = (title: string, date: string, airTemperatureC: number, windMps: number, notes = ''): OutingInput => ({
  title,
  date,
  airTemperatureC,
  airPressureHpa: 1013,
  relativeHumidity: 0.7,
  windMps,
  windFromDeg: 240,
  notes,
});
export const OUTINGS = {
  o1: outing('Level round, morning 1', '2026-04-07', 10, 2.0),
  o2: outing('Level round, morning 2', '2026-04-09', 11, 1.2),
  o3: outing('Level round, morning 3', '2026-04-14', 9, 2.7, 'Gusty on the quay.'),
  o4: outing('Level round, morning 4', '2026-04-16', 13, 1.8),
  o5: outing('Level round, morning 5', '2026-04-21', 14, 2.2),
  o6: outing('Level round, morning 6', '2026-04-23', 12, 1.5),
  h1: outing('Chapel Hill, first go', '2026-05-05', 15, 1.5),
  h2: outing('Chapel Hill, second go', '2026-05-12', 10, 3.6, 'Rain towards the end.'),
  t1: outing('Tyres, first morning', '2026-06-02', 17, 1.4),
  t2: outing('Tyres, second morning', '2026-06-04', 16, 1.8),
  e1: outing('Out until empty', '2026-06-20', 19, 1.6),
  w1: outing('Sunday on the quay', '2026-06-28', 18, 0.9),
  w2: outing('Workshop and mill', '2026-07-05', 20, 0.4),
  q1: outing('Quay, a calm morning', '2026-07-14', 19, 0.8),
  q2: outing('Quay, a windy morning', '2026-07-16', 16, 8, 'Wind along the warehouses all morning.'),
  l1: outing('Levels, first morning', '2026-08-04', 18, 1.6),
  l2: outing('Levels, second morning', '2026-08-06', 17, 2.4),
  p1: outing('Throttle or pedals, first morning', '2026-08-18', 19, 1.2),
  p2: outing('Throttle or pedals, second morning', '2026-08-20', 17, 2.8),
  m1: outing('Windmill road with the hub', '2026-09-01', 16, 1.4),
  m2: outing('Windmill road with the mid motor', '2026-09-08', 17, 2.2),
} as const;

export interface PlannedRide {
  readonly setup: SetupKey;
  readonly course: CourseKey;
  readonly outing: OutingKey;
  readonly laps?: number;
  readonly emptied?: boolean;
  /** Lights of the pack's gauge before and after. */
  readonly gauge?: { readonly start: number; readonly end: number; readonly bars: number };
  readonly excludedBecause?: string;
  /** The pack's state at the start; 1 is full. */
  readonly startCharge?: number;
  readonly levelShare?: number;
  /** How it is ridden; absent: steady pedalling at level 3. `riderW` is what goes into the cranks. */
  readonly riding?: Partial<RidingDto> & { readonly riderW?: number };
  readonly hasSpikes?: boolean;
  readonly hasGap?: boolean;
  /** Another test than range; it is ridden as a tester would, logged ten times a second. */
  readonly test?: Exclude<TestKind, 'range'>;
}

const block = (outingKey: OutingKey, ...setups: SetupKey[]): PlannedRide[] =>
  setups.map((setup) => ({ setup, course: 'level', outing: outingKey }));
const hill = (outingKey: OutingKey, ...setups: SetupKey[]): PlannedRide[] =>
  setups.map((setup) => ({ setup, course: 'hill', outing: outingKey }));
const quay = (outingKey: OutingKey, ...setups: SetupKey[]): PlannedRide[] =>
  setups.map((setup) => ({ setup, course: 'quay', outing: outingKey, laps: 3 }));
const ways = (course: CourseKey, outingKey: OutingKey, setup: SetupKey, order: readonly PlannedRide['riding'][]) =>
  order.map((riding): PlannedRide => ({
    setup,
    course,
    outing: outingKey,
    ...(riding?.level === '2' && { levelShare: 0.42 }),
    ...(riding?.way === 'throttle' && { levelShare: 1 }),
    riding: riding ?? {},
  }));
const LEVEL_2 = { level: '2' } as const;
const LEVEL_3 = { level: '3' } as const;
const THROTTLE = { way: 'throttle', level: '', riderW: 0 } as const;
const PEDALS = { way: 'steady', level: '' } as const;
export const RIDES: readonly PlannedRide[] = [
  ...block('o1', 'corvane', 'dromel', 'quillon'),
  ...block('o2', 'dromel', 'quillon', 'corvane'),
  ...block('o3', 'quillon', 'corvane').map((ride) => ({ ...ride, hasSpikes: true })),
  { setup: 'dromel', course: 'level', outing: 'o3', hasGap: true },
  ...block('o4', 'corvane', 'quillon', 'dromel'),
  ...block('o5', 'dromel', 'corvane', 'quillon'),
  ...block('o6', 'quillon', 'dromel', 'corvane'),
  ...hill('h1', 'corvane', 'quillon', 'quillon'),
  ...hill('h2', 'quillon', 'corvane', 'corvane'),
  { setup: 'tyres', course: 'level', outing: 't1' },
  {
    setup: 'tyres',
    course: 'level',
    outing: 't1',
    startCharge: 0.55,
    excludedBecause: 'Pack was not full at the start: the gauge showed four of six lights.',
  },
  { setup: 'tyres', course: 'level', outing: 't1' },
  {
    setup: 'tyres',
    course: 'level',
    outing: 't2',
    levelShare: 1,
    excludedBecause: 'Level 5 instead of 3 for the whole run, seen only on the way home.',
  },
  { setup: 'tyres', course: 'level', outing: 't2' },
  { setup: 'tyres', course: 'level', outing: 't2' },
  { setup: 'corvane', course: 'level', outing: 't1' },
  { setup: 'corvane', course: 'level', outing: 't2' },
  { setup: 'dromel', course: 'level', outing: 'e1', laps: 14, emptied: true, gauge: { start: 6, end: 0, bars: 6 } },
  ...(['corvane', 'quillon', 'quillon', 'corvane', 'corvane', 'quillon'] as const).map((setup): PlannedRide => ({
    setup,
    course: 'climb',
    outing: 'w1',
    test: 'hill-climb',
  })),
  ...(['top-speed', 'assist-levels', 'assist-response', 'coast-down'] as const).map((test): PlannedRide => ({
    setup: 'corvane',
    course: 'quay',
    outing: 'w1',
    test,
  })),
  { setup: 'corvane', course: 'mill', outing: 'w2', test: 'heating' },
  { setup: 'dromel', course: 'mill', outing: 'w2', test: 'heating' },
  { setup: 'corvane', course: 'quay', outing: 'w2', test: 'battery' },
  { setup: 'corvane', course: 'quay', outing: 'w2', test: 'stand' },
  // Most of one setup's runs on the calm day, most of the other's in the wind: the plain means are turned round by it.
  ...quay('q1', 'dromel', 'dromel', 'quillon', 'dromel', 'dromel'),
  ...quay('q2', 'quillon', 'quillon', 'dromel', 'quillon', 'quillon'),
  ...ways('level', 'l1', 'corvane', [LEVEL_2, LEVEL_3, LEVEL_3, LEVEL_2]),
  ...ways('level', 'l2', 'corvane', [LEVEL_3, LEVEL_2, LEVEL_2, LEVEL_3]),
  ...ways('level', 'p1', 'quillon', [THROTTLE, PEDALS, PEDALS, THROTTLE]),
  ...ways('level', 'p2', 'quillon', [PEDALS, THROTTLE, THROTTLE, PEDALS]),
  ...(['corvane', 'corvane', 'corvane'] as const).map((setup): PlannedRide => ({
    setup,
    course: 'mill',
    outing: 'm1',
  })),
  ...(['quillon', 'quillon', 'quillon'] as const).map((setup): PlannedRide => ({
    setup,
    course: 'mill',
    outing: 'm2',
  })),
];
