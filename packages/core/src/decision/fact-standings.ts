import {
  checkSetup,
  countChecks,
  helpEndsKmh,
  isEstimate,
  packEnergy,
  totalMass,
  type Mark,
  type SetupFacts,
} from '../bench/index.js';
import type { RunningCosts } from '../costs/index.js';
import type { FaultRate } from '../life/index.js';
import type { RatedScale } from '../experience/index.js';
import type { FactCriterion } from './criterion-words.js';
import type { Standing } from './weigh-up.js';

/** What is known of a setup without its runs. */
export interface SetupRecord {
  readonly facts: SetupFacts;
  readonly marks: readonly Mark[];
  /** Cost of the conversion in the home currency; null where a price or a rate is missing. */
  readonly cost: number | null;
  readonly runningCosts: RunningCosts | null;
  readonly fittingHours: number | null;
  readonly difficulty: number | null;
  readonly felt: readonly RatedScale[];
  /** Of all that its kit was fitted to; null where nobody counts. */
  readonly faults: FaultRate | null;
}

/** Masses are weighed or stated to about this, relative. */
const MASS_SHARE = 0.02;
/** One rider's step stands for others' to about half a step. */
const ONE_RIDER_STEPS = 0.5;
/** From a span that holds about 95 of 100. */
const SPAN_TO_DEVIATION = 4;

/** How a setup stands in what its parts, its fitting and its riders say. What is not known is left out, never taken for nothing. */
export function factStandings(
  record: SetupRecord,
): Readonly<Partial<Record<FactCriterion | `felt.${string}`, Standing>>> {
  const { facts, marks, cost, runningCosts, fittingHours, difficulty, felt, faults } = record;
  const mass = totalMass(facts);
  const unknown = mass.missing.filter((what) => what !== 'rider');
  const isAddedKnown = unknown.every((what) => what === facts.bike.name);
  const energy = packEnergy(facts.packs).usable;
  const helpEnds = helpEndsKmh(facts);
  const { totalLimitKg } = facts.bike;
  const { riderMassKg } = facts.fit;
  const { failed, open } = countChecks(checkSetup(facts, marks));
  return {
    failedChecks: sure(failed + open),
    ...(cost !== null && { cost: sure(cost) }),
    ...(runningCosts !== null && {
      runningCost: { value: runningCosts.value, standardUncertainty: runningCosts.standardUncertainty },
    }),
    ...(isAddedKnown && { addedMass: within(mass.addedKg, MASS_SHARE * mass.addedKg) }),
    ...(unknown.length === 0 &&
      totalLimitKg !== null &&
      riderMassKg !== null && {
        payload: within(totalLimitKg - mass.fittedKg - riderMassKg, MASS_SHARE * mass.fittedKg),
      }),
    ...(isEstimate(energy) && { packEnergy: within(energy.value, (energy.upper - energy.lower) / SPAN_TO_DEVIATION) }),
    ...(helpEnds !== null && { helpEnds: sure(helpEnds) }),
    ...(faults !== null && faults.km > 0 && { faultRate: faultStanding(faults) }),
    ...(fittingHours !== null && { fittingHours: sure(fittingHours) }),
    ...(difficulty !== null && { difficulty: within(difficulty, ONE_RIDER_STEPS) }),
    ...Object.fromEntries(
      felt.map(({ key, median, lowest, highest, riders }) => [
        `felt.${key}`,
        {
          ...within(median, Math.max(ONE_RIDER_STEPS, (highest - lowest) / SPAN_TO_DEVIATION) / Math.sqrt(riders)),
          n: riders,
        },
      ]),
    ),
  };
}

const sure = (value: number): Standing => ({ value, standardUncertainty: 0 });
const within = (value: number, standardUncertainty: number): Standing => ({ value, standardUncertainty });

const PER_KM = 1000;
const NORMAL_95 = 3.92;
/**
 * A count as a rate with its uncertainty: mean and deviation of the Gamma posterior by Jeffreys' prior, so that no fault in few kilometres is not
 * taken for never; of uneven conversions the width of their own interval. Units: faults in 1 000 km.
 */
function faultStanding({ faults, km, rate, interval95, isUneven }: FaultRate): Standing {
  if (isUneven) return within(rate, (interval95[1] - interval95[0]) / NORMAL_95);
  const exposure = km / PER_KM;
  return within((faults + 0.5) / exposure, Math.sqrt(faults + 0.5) / exposure);
}
