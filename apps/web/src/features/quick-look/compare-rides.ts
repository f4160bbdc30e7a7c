import { CoreError } from '@ebrix/core/errors';
import {
  compareSetups,
  DECIDING_FIGURES,
  figureVocabulary,
  firstImpression,
  type Comparison,
  type DecidingFigureKey,
  type FirstImpression,
} from '@ebrix/core/compare';
import { repeatabilityOf } from '@ebrix/core/planning';
import type { UnitSystem } from '@ebrix/core/units';
import type { QuickLookLog } from '@ebrix/contract';

export interface RideOfSide {
  readonly fileName: string;
  readonly look: QuickLookLog;
}
export interface Side {
  readonly name: string;
  readonly rides: readonly RideOfSide[];
}
export type RidesAnswer =
  | { readonly kind: 'comparison'; readonly comparison: Comparison }
  | { readonly kind: 'impression'; readonly impression: FirstImpression }
  | { readonly kind: 'none'; readonly reason: string };

const SMALLEST_SHARE = 0.05;
const SEED = 20_261;

/** Most of it lies in gaps of the log: it is shown and does not count, here as in a trial. */
export function isMostlyEstimated({ warnings }: Pick<QuickLookLog, 'warnings'>): boolean {
  return warnings.some(({ code }) => code === 'mostly-gaps');
}

/** Figures that every side has, those that decide a trial first. */
export function commonFigures(sides: readonly Side[]): DecidingFigureKey[] {
  const keys = Object.keys(DECIDING_FIGURES) as DecidingFigureKey[];
  const has = ({ rides }: Side, key: string): boolean =>
    rides.some(({ look }) => !isMostlyEstimated(look) && look.figures.some((figure) => figure.key === key));
  return keys.filter((key) => sides.length > 1 && sides.every((side) => has(side, key)));
}

/** What all rides of one logger have in common of their uncertainty, as a share of the value. */
function sharedShare({ value, derivation }: QuickLookLog['figures'][number]): number {
  const shared = derivation.contributions.filter(({ isSystematic }) => isSystematic);
  return value === 0 ? 0 : Math.hypot(...shared.map((c) => c.standardUncertainty)) / Math.abs(value);
}

/** The day by the log's own clock: rides of one day are one outing. */
function dayOf({ startedAt }: QuickLookLog): string | undefined {
  return startedAt?.slice(0, 10);
}

/** Two rides or more a side: the comparison that their days call for. One ride each: what that shows, and what it cannot. */
export function compareRides(sides: readonly Side[], key: DecidingFigureKey, system: UnitSystem): RidesAnswer {
  const { label, unit, better } = DECIDING_FIGURES[key];
  const words = figureVocabulary(key, label, better, system);
  const named = sides.map(({ name, rides }) => ({
    name,
    runs: rides
      .filter(({ look }) => !isMostlyEstimated(look))
      .flatMap(({ look }) => {
        const figure = look.figures.find((one) => one.key === key);
        return figure ? [{ figure, day: dayOf(look) }] : [];
      }),
  }));
  const hasDays = named.every(({ runs }) => runs.every(({ day }) => day !== undefined));
  if (named.length === 2 && named.every(({ runs }) => runs.length === 1)) {
    const [a, b] = named.map(({ name, runs }) => ({ name, ...runs[0]!.figure }));
    if (!(a!.value > 0 && b!.value > 0))
      return { kind: 'none', reason: 'A ride that used nothing cannot be set against another.' };
    return { kind: 'impression', impression: firstImpression(a!, b!, repeatabilityOf(key, []).relativeSd, words) };
  }
  try {
    return {
      kind: 'comparison',
      comparison: compareSetups({
        setups: named.map(({ name, runs }) => ({
          name,
          runs: runs.map(({ figure, day }) => ({
            value: figure.value,
            ...(hasDays && { block: day! }),
            // Nobody said that one logger made both sides' logs: what it is out by does not cancel.
            instrument: { id: null, relativeUncertainty: sharedShare(figure) },
          })),
        })),
        smallestDifference: { kind: 'relative', value: SMALLEST_SHARE },
        words,
        unit,
        seed: SEED,
        resamples: 0,
      }),
    };
  } catch (error) {
    if (error instanceof CoreError) return { kind: 'none', reason: error.message };
    throw error;
  }
}
