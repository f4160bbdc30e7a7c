import { DECIDING_FIGURES, type DecidingFigureKey } from '../compare/index.js';
import { EXPERIENCE_SCALES, HIGHEST_STEP, LOWEST_STEP, type ExperienceKey } from '../experience/index.js';
import type { UnitName } from '../units/index.js';
import { straightWorth, type ValueFunction } from './value-function.js';
import type { Standing } from './weigh-up.js';

/** What may count for a use beside figures: what a setup is made of, costs and takes. */
export const FACT_CRITERIA = {
  cost: { label: 'Cost of the conversion', unit: 'money', better: 'less', ends: null },
  runningCost: { label: 'Cost of 100 km', unit: 'money', better: 'less', ends: null },
  addedMass: { label: 'Added mass', unit: 'kg', better: 'less', ends: [14, 3] },
  payload: { label: 'Payload it may carry', unit: 'kg', better: 'more', ends: [0, 60] },
  packEnergy: { label: 'Usable energy of the packs', unit: 'Wh', better: 'more', ends: [150, 1000] },
  fittingHours: { label: 'Hours of fitting', unit: 'hours', better: 'less', ends: [16, 1] },
  difficulty: { label: 'Difficulty of fitting, 1 to 5', unit: 'step', better: 'less', ends: [5, 1] },
  failedChecks: { label: 'Failed or open checks', unit: 'count', better: 'less', ends: [5, 0] },
  helpEnds: { label: 'Speed at which help ends', unit: 'km/h', better: 'more', ends: [15, 45] },
  faultRate: { label: 'Faults of the kit in 1 000 km', unit: 'count', better: 'less', ends: [4, 0] },
  coldestRidden: { label: 'Coldest air ridden in', unit: '°C', better: 'less', ends: [15, -10] },
  warmestRidden: { label: 'Warmest air ridden in', unit: '°C', better: 'more', ends: [15, 35] },
  steepestClimbed: { label: 'Steepest climb ridden', unit: '%', better: 'more', ends: [2, 15] },
} as const satisfies Record<string, CriterionWords>;
export type FactCriterion = keyof typeof FACT_CRITERIA;
export type CriterionKey = DecidingFigureKey | FactCriterion | `felt.${ExperienceKey}`;

export interface CriterionWords {
  readonly label: string;
  /** Of a figure its unit; of what has none a kind of number. */
  readonly unit: UnitName | 'count' | 'hours' | 'money' | 'step';
  readonly better: 'less' | 'more';
  /** Where it is no good, and where more of it gains nothing; null where that depends on course or market. */
  readonly ends: readonly [noGoodAt: number, fullAt: number] | null;
}

/** Usual ends of figures that mean the same on any course. */
const FIGURE_ENDS: Partial<Record<DecidingFigureKey, readonly [number, number]>> = {
  netConsumption: [20, 4],
  netConsumptionAtReference: [20, 4],
  grossConsumption: [20, 4],
  rangeWithReserve: [10, 80],
  rangeToCutoff: [10, 90],
  meanMovingSpeed: [12, 28],
  verticalSpeed: [200, 1500],
  minSpeed: [5, 22],
  energyPer100m: [70, 25],
  driveEfficiency: [0.5, 0.9],
  twoWayTopSpeed: [18, 45],
  stillAirTopSpeed: [18, 45],
  latency: [1.5, 0.1],
  riseTime: [2, 0.2],
  overrun: [1.5, 0.1],
  brakeCutoff: [0.6, 0.05],
  time0to20: [12, 3],
  peakAcceleration: [0.3, 2],
  deceleration: [1.5, 5],
  motorTemperatureRise: [80, 10],
  riseAtLoad: [100, 20],
  timeToLimit: [300, 3600],
  continuousLoad: [150, 700],
  usableEnergy: [150, 1000],
  perceivedEffort: [8, 2],
};

export const CRITERION_KEYS: readonly CriterionKey[] = [
  ...(Object.keys(DECIDING_FIGURES) as DecidingFigureKey[]),
  ...(Object.keys(FACT_CRITERIA) as FactCriterion[]),
  ...(Object.keys(EXPERIENCE_SCALES) as ExperienceKey[]).map((key) => `felt.${key}` as const),
];

export function isFigureCriterion(key: CriterionKey): key is DecidingFigureKey {
  return Object.hasOwn(DECIDING_FIGURES, key);
}
export function feltScaleOf(key: CriterionKey): ExperienceKey | undefined {
  return key.startsWith('felt.') ? (key.slice('felt.'.length) as ExperienceKey) : undefined;
}

/** How a criterion is spoken of, and between which values it is worth nothing and everything unless somebody says otherwise. */
export function criterionWords(key: CriterionKey): CriterionWords {
  const scale = feltScaleOf(key);
  if (scale)
    return {
      label: `${EXPERIENCE_SCALES[scale].label}, as felt`,
      unit: 'step',
      better: 'more',
      ends: [LOWEST_STEP, HIGHEST_STEP],
    };
  if (isFigureCriterion(key)) {
    const { label, unit, better } = DECIDING_FIGURES[key];
    return { label, unit, better, ends: FIGURE_ENDS[key] ?? null };
  }
  return FACT_CRITERIA[key as FactCriterion];
}

/** Half the span between the setups is left on either side, so that none of them is worth nothing or everything for being here. */
const MARGIN = 0.5;
/** Where all stand alike: this share to either side. */
const ALIKE = 0.25;

/** The value function of a criterion nobody has drawn: by its usual ends, else by where the setups stand. */
export function usualWorth(key: CriterionKey, standings: readonly (Standing | undefined)[]): ValueFunction {
  const { better, ends } = criterionWords(key);
  if (ends) return straightWorth(ends[0], ends[1]);
  const values = standings.flatMap((one) => (one ? [one.value] : []));
  const [low, high] = values.length > 0 ? [Math.min(...values), Math.max(...values)] : [0, 1];
  const margin = high > low ? MARGIN * (high - low) : ALIKE * Math.abs(high) || 1;
  const [from, to] = [Math.max(low - margin, low >= 0 ? 0 : -Infinity), high + margin];
  return better === 'more' ? straightWorth(from, to) : straightWorth(to, from);
}
