import type { TestKind } from '../analysis/index.js';
import type { UnitName, UnitSystem } from '../units/index.js';

/** How a verdict speaks of a figure. */
export interface FigureVocabulary {
  /** "uses … energy per km": the verb and what follows "more" or "less". */
  readonly verb: string;
  readonly noun: string;
  readonly better: 'less' | 'more';
}

export interface DecidingFigure extends FigureVocabulary {
  readonly label: string;
  readonly unit: UnitName;
  /** Tests that it is read from, the usual one first: runs of different tests are never compared. */
  readonly kinds: readonly TestKind[];
}
const less = 'less' as const;
const more = 'more' as const;

/** Figures that a trial can be decided by, with how a verdict speaks of them. */
export const DECIDING_FIGURES = {
  netConsumption: {
    label: 'Net consumption',
    kinds: ['range', 'hill-climb'],
    unit: 'Wh/km',
    verb: 'uses',
    noun: 'energy per {distance}',
    better: less,
  },
  netConsumptionAtReference: {
    label: 'Net consumption at reference conditions',
    kinds: ['range'],
    unit: 'Wh/km',
    verb: 'uses',
    noun: 'energy per {distance} on reference footing',
    better: less,
  },
  grossConsumption: {
    label: 'Gross consumption',
    kinds: ['range', 'hill-climb'],
    unit: 'Wh/km',
    verb: 'draws',
    noun: 'energy per {distance}',
    better: less,
  },
  rangeWithReserve: {
    label: 'Range with reserve',
    kinds: ['range'],
    unit: 'km',
    verb: 'has',
    noun: 'range',
    better: more,
  },
  rangeToCutoff: { label: 'Range to cut-off', kinds: ['range'], unit: 'km', verb: 'has', noun: 'range', better: more },
  meanMovingSpeed: {
    label: 'Mean moving speed',
    kinds: ['range', 'hill-climb'],
    unit: 'km/h',
    verb: 'has',
    noun: 'mean speed',
    better: more,
  },
  climbTime: {
    label: 'Climb time',
    kinds: ['hill-climb'],
    unit: 's',
    verb: 'needs',
    noun: 'time for the climb',
    better: less,
  },
  verticalSpeed: {
    label: 'Vertical speed',
    kinds: ['hill-climb'],
    unit: 'm/h',
    verb: 'has',
    noun: 'vertical speed',
    better: more,
  },
  minSpeed: {
    label: 'Lowest speed on a climb',
    kinds: ['hill-climb'],
    unit: 'km/h',
    verb: 'has',
    noun: 'lowest speed on the climb',
    better: more,
  },
  energyPer100m: {
    label: 'Energy per 100 m climbed',
    kinds: ['hill-climb'],
    unit: 'Wh',
    verb: 'uses',
    noun: 'energy for the same climb',
    better: less,
  },
  driveEfficiency: {
    label: 'Drive efficiency',
    kinds: ['hill-climb'],
    unit: '1',
    verb: 'has',
    noun: 'efficiency',
    better: more,
  },
  referenceClimbTime: {
    label: 'Time on the reference climb',
    kinds: ['hill-climb'],
    unit: 's',
    verb: 'needs',
    noun: 'time for the reference climb',
    better: less,
  },
  referenceClimbEnergy: {
    label: 'Energy on the reference climb',
    kinds: ['hill-climb'],
    unit: 'Wh',
    verb: 'uses',
    noun: 'energy for the reference climb',
    better: less,
  },
  twoWayTopSpeed: {
    label: 'Two-way top speed',
    kinds: ['top-speed'],
    unit: 'km/h',
    verb: 'has',
    noun: 'top speed',
    better: more,
  },
  stillAirTopSpeed: {
    label: 'Top speed in still air',
    kinds: ['top-speed'],
    unit: 'km/h',
    verb: 'has',
    noun: 'top speed in still air',
    better: more,
  },
  latency: {
    label: 'Delay until assist',
    kinds: ['assist-response'],
    unit: 's',
    verb: 'has',
    noun: 'delay until assist',
    better: less,
  },
  riseTime: {
    label: 'Assist rise',
    kinds: ['assist-response'],
    unit: 's',
    verb: 'needs',
    noun: 'time to full assist',
    better: less,
  },
  overrun: {
    label: 'Run-on after pedalling stops',
    kinds: ['assist-response'],
    unit: 's',
    verb: 'has',
    noun: 'run-on',
    better: less,
  },
  brakeCutoff: {
    label: 'Brake cut-off',
    kinds: ['assist-response'],
    unit: 's',
    verb: 'needs',
    noun: 'brake cut-off time',
    better: less,
  },
  time0to20: {
    label: 'From 0 to 20 km/h',
    kinds: ['assist-response'],
    unit: 's',
    verb: 'needs',
    noun: 'time from 0 to 20 km/h',
    better: less,
  },
  peakAcceleration: {
    label: 'Peak acceleration',
    kinds: ['assist-response'],
    unit: 'm/s²',
    verb: 'has',
    noun: 'acceleration',
    better: more,
  },
  deceleration: {
    label: 'Braking',
    kinds: ['assist-response'],
    unit: 'm/s²',
    verb: 'has',
    noun: 'braking',
    better: more,
  },
  motorTemperatureRise: {
    label: 'Motor temperature rise',
    kinds: ['hill-climb'],
    unit: 'K',
    verb: 'has',
    noun: 'motor temperature rise',
    better: less,
  },
  riseAtLoad: {
    label: 'Settled rise at this load',
    kinds: ['heating'],
    unit: 'K',
    verb: 'has',
    noun: 'settled rise of the motor',
    better: less,
  },
  timeToLimit: {
    label: 'Time to the heat limit',
    kinds: ['heating'],
    unit: 's',
    verb: 'has',
    noun: 'time to the heat limit',
    better: more,
  },
  coolingHalfLife: {
    label: 'Cooling half-life',
    kinds: ['heating'],
    unit: 's',
    verb: 'needs',
    noun: 'time to cool',
    better: less,
  },
  continuousLoad: {
    label: 'Continuous load',
    kinds: ['heating'],
    unit: 'W',
    verb: 'has',
    noun: 'continuous load',
    better: more,
  },
  internalResistance: {
    label: 'Internal resistance',
    kinds: ['battery'],
    unit: 'Ω',
    verb: 'has',
    noun: 'internal resistance',
    better: less,
  },
  usableEnergy: {
    label: 'Usable energy',
    kinds: ['battery'],
    unit: 'Wh',
    verb: 'has',
    noun: 'usable energy',
    better: more,
  },
  cda: { label: 'Drag area', kinds: ['coast-down'], unit: 'm²', verb: 'has', noun: 'drag area', better: less },
  crr: {
    label: 'Rolling resistance',
    kinds: ['coast-down'],
    unit: '1',
    verb: 'has',
    noun: 'rolling resistance',
    better: less,
  },
  noLoadCurrent: {
    label: 'No-load current',
    kinds: ['stand'],
    unit: 'A',
    verb: 'draws',
    noun: 'current without load',
    better: less,
  },
  spinDownTime: {
    label: 'Spin-down time',
    kinds: ['stand'],
    unit: 's',
    verb: 'has',
    noun: 'spin-down time',
    better: more,
  },
  meanHeartRate: {
    label: 'Mean heart rate',
    kinds: ['hill-climb', 'range'],
    unit: 'bpm',
    verb: 'asks for',
    noun: 'heart rate',
    better: less,
  },
  perceivedEffort: {
    label: 'How hard it felt, 0 to 10',
    kinds: ['hill-climb', 'range', 'assist-levels'],
    unit: '1',
    verb: 'asks for',
    noun: 'effort as felt',
    better: less,
  },
} as const satisfies Record<string, DecidingFigure>;
export type DecidingFigureKey = keyof typeof DECIDING_FIGURES;
export const DECIDING_FIGURE_KEYS = Object.keys(DECIDING_FIGURES) as readonly DecidingFigureKey[];

export function figureVocabulary(
  key: string,
  label: string,
  better: 'less' | 'more',
  system: UnitSystem = 'metric',
): FigureVocabulary {
  const known: FigureVocabulary | undefined = Object.hasOwn(DECIDING_FIGURES, key)
    ? DECIDING_FIGURES[key as DecidingFigureKey]
    : undefined;
  // A column's own name is left as it is written: "Wh per km" must not become "wh per km".
  if (!known) return { verb: 'has', noun: label, better };
  return {
    verb: known.verb,
    better: known.better,
    noun: known.noun.replace('{distance}', system === 'imperial' ? 'mile' : 'km'),
  };
}
