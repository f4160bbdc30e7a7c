import type { StandInput } from '@ebrix/contract';
import { standReadingsSchema } from '@ebrix/contract';
import { ADD_ONS, BIKES, CHARGERS, KITS, LIMITS, PACKS } from './bench-parts.js';
import { SETUPS, type SetupKey } from './scenario.js';

type Fit = Readonly<Record<string, number | string | null>>;

/** How one setup of the round stands on the bench: parts, fit, what was waived and what was measured. */
export interface BenchSetup {
  readonly name: string;
  readonly bike: string;
  readonly kit: string;
  readonly pack: string;
  readonly charger: string;
  readonly addOns: readonly string[];
  readonly limits: string;
  readonly change: string;
  readonly why: string;
  readonly settings: Readonly<Record<string, unknown>>;
  readonly fit: Fit;
  readonly waived: readonly { readonly ids: readonly string[]; readonly reason: string }[];
  /** Gates all passed, so that it may be ridden. */
  readonly isCleared: boolean;
  /** Minutes of each fitting step, difficulty and trouble where there was some. */
  readonly fitting: Readonly<
    Record<string, readonly [minutes: number, difficulty: number, trouble?: string, cure?: string]>
  >;
  readonly stand: Omit<StandInput, 'version'> | null;
  readonly findings: readonly { symptom: string; suspect: string | null; cause: string; cure: string }[];
}

const LEVELS = [
  { name: '1', speedCapKmh: 12, pedalShare: 0.3 },
  { name: '2', speedCapKmh: 18, pedalShare: 0.5 },
  { name: '3', speedCapKmh: 25, pedalShare: 0.8 },
  { name: '4', speedCapKmh: 25, pedalShare: 1.1 },
  { name: '5', speedCapKmh: 25, pedalShare: 1.5 },
];
const settings = (level: string) => ({
  assistLevel: level,
  speedLimitKmh: 25,
  wheelCircumferenceM: 2.1,
  levels: LEVELS,
});
const HUB_FIT: Fit = {
  washersLeftMm: 1.5,
  washersRightMm: 1.5,
  cogSpacerMm: 1,
  cogSpacers: 2,
  discBoltMm: 10,
  discWasherMm: 0,
  rotorThicknessMm: 1.8,
  riderMassKg: 78,
  payloadKg: 18,
  payloadPlace: 'front-rack',
  electricityPerKWh: 0.31,
  currency: 'EUR',
};
const MID_FIT: Fit = { ...HUB_FIT, shellSpacerMm: 2.5, shellSpacers: 2 };
const OTTOLINE = 'Ottoline Vask';
const stand = (day: string, readings: object, note = ''): Omit<StandInput, 'version'> => ({
  day,
  by: OTTOLINE,
  directionRight: true,
  spinsFreely: true,
  brakeCuts: true,
  readings: standReadingsSchema.parse(readings),
  note,
});
const ridden = (key: SetupKey) => {
  const { name, bike, kit, pack, change } = SETUPS[key];
  return { name, bike, kit, pack, change, limits: LIMITS[0]!.name, addOns: [], why: '', isCleared: true };
};

export const BENCH_SETUPS: readonly BenchSetup[] = [
  {
    ...ridden('corvane'),
    charger: CHARGERS[0]!.name,
    settings: settings(SETUPS.corvane.level),
    fit: HUB_FIT,
    waived: [],
    fitting: {
      unpack: [12, 1],
      stand: [6, 1],
      'wheel-out': [5, 1],
      cogs: [14, 2],
      disc: [8, 2],
      tyre: [9, 2],
      'wheel-in': [21, 3],
      'battery-mount': [16, 2],
      controller: [8, 2],
      'crank-sensor': [
        19,
        3,
        'The magnet ring sat askew and ticked against its reader at every turn.',
        'Ring pressed on square with a piece of pipe, reader moved out by a washer.',
      ],
      cockpit: [12, 2],
      'brake-switches': [18, 2],
      cables: [22, 2],
      'power-on': [6, 1],
      settings: [9, 2],
    },
    stand: stand('2026-03-21', {
      rollOutTurns: 10,
      rollOutM: 20.93,
      rollOutLimitMm: 5,
      timedTurns: 100,
      timedS: 30.4,
      displaySpeedKmh: 24.9,
      noLoadSpeedKmh: 40.2,
      noLoadCurrentA: 0.5,
      spinDownS: [6.1, 6.4, 6.2],
      frontKg: 10.6,
      rearKg: 20.2,
      scaleLimitKg: 0.1,
    }),
    findings: [
      {
        symptom: 'noise',
        suspect: 'spokes',
        cause: 'A bread-crate strap had worked loose and hummed on the spokes.',
        cure: 'Strap shortened and tucked under the rack.',
      },
    ],
  },
  {
    ...ridden('dromel'),
    charger: CHARGERS[1]!.name,
    settings: { ...settings(SETUPS.dromel.level), regenerationA: 3 },
    fit: HUB_FIT,
    waived: [
      {
        ids: ['law-power', 'law-throttle'],
        reason: 'Ridden on the quay and the yard of the co-operative only, both private ground.',
      },
    ],
    fitting: {
      unpack: [15, 1],
      stand: [6, 1],
      'wheel-out': [5, 1],
      cogs: [15, 2],
      disc: [8, 2],
      tyre: [16, 4, 'The tyre would not go over the deep motor rim.', 'Warm water and two helpers.'],
      'wheel-in': [34, 4, 'Axle too tight for the slot on the left.', 'Paint dressed off the slot, then it slid in.'],
      'battery-mount': [14, 2],
      controller: [15, 2],
      'crank-sensor': [12, 3],
      cockpit: [16, 2],
      'brake-switches': [19, 2],
      cables: [31, 3],
      'power-on': [8, 2],
      settings: [14, 3],
    },
    stand: stand('2026-03-24', {
      rollOutTurns: 10,
      rollOutM: 20.95,
      noLoadSpeedKmh: 47.6,
      noLoadCurrentA: 0.9,
      spinDownS: [3.2, 3.1],
      frontKg: 10.7,
      rearKg: 23.5,
    }),
    findings: [],
  },
  {
    ...ridden('quillon'),
    charger: CHARGERS[1]!.name,
    settings: settings(SETUPS.quillon.level),
    fit: MID_FIT,
    waived: [],
    fitting: {
      unpack: [11, 1],
      stand: [6, 1],
      'cranks-off': [24, 4, 'Left cup seized in the shell.', 'Penetrating oil overnight and a longer lever.'],
      'motor-in': [18, 3],
      chainring: [12, 2],
      'speed-sensor': [7, 2],
      'battery-mount': [15, 2],
      'crank-sensor': [1, 1],
      cockpit: [9, 1],
      'brake-switches': [14, 2],
      cables: [13, 2],
      'power-on': [5, 1],
      settings: [10, 2],
    },
    stand: stand('2026-03-27', { rollOutTurns: 10, rollOutM: 20.94, noLoadCurrentA: 0.6, frontKg: 11.9, rearKg: 19.9 }),
    findings: [],
  },
  {
    ...ridden('tyres'),
    charger: CHARGERS[0]!.name,
    settings: settings(SETUPS.tyres.level),
    fit: HUB_FIT,
    waived: [],
    fitting: {},
    stand: null,
    findings: [],
  },
  {
    name: 'Dromel D5 on bread bike 5',
    bike: BIKES[2]!.name,
    kit: KITS[1]!.name,
    pack: PACKS[2]!.name,
    charger: CHARGERS[1]!.name,
    addOns: [ADD_ONS[1]!.name],
    limits: LIMITS[0]!.name,
    change: 'Planned for the hill round',
    why: 'The upper town wants bread before seven; is the strong hub worth its mass?',
    settings: {
      ...settings('5'),
      levels: [...LEVELS, { name: '9', speedCapKmh: 32, pedalShare: 2, throttleShare: 1 }],
    },
    fit: { ...HUB_FIT, washersLeftMm: 1, washersRightMm: 1, batteryTube: 'down-tube' },
    waived: [
      {
        ids: ['law-power', 'law-throttle'],
        reason: 'First rides on the yard of the co-operative only, private ground.',
      },
      { ids: ['handlebar-room'], reason: 'The bell moves to the stem; then there is room enough.' },
    ],
    isCleared: false,
    fitting: {},
    stand: null,
    findings: [],
  },
];
