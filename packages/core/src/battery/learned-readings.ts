import { isotonicRegression } from '../statistics/index.js';

/** What is thought before anything is measured. */
interface Prior {
  readonly mean: number;
  /** How far the mean of this very thing may lie from that. */
  readonly placeDeviation: number;
  /** Of single values about the mean of this very thing. */
  readonly scatter: number;
}
/** What is to be expected of the next value, in the unit of the values. */
export interface Learned {
  readonly mean: number;
  /** Of the next value, not of the mean. */
  readonly standardDeviation: number;
  readonly degreesOfFreedom: number;
  readonly n: number;
}

/** The scatter thought of beforehand weighs as much as that of so many values. */
const SCATTER_DEGREES = 8;

/**
 * What values say of the next one, beginning from a prior. Shapes: any number of values. Units: those of the values.
 * Method: normal mean with a normal prior; the scatter pooled with the one thought of beforehand; the next value by Student's
 * distribution (after Gelman et al., Bayesian Data Analysis, 3rd ed., 2.5 and 3.2).
 */
export function learnFrom({ mean: m0, placeDeviation, scatter }: Prior, values: readonly number[]): Learned {
  const n = values.length;
  const own = n === 0 ? m0 : values.reduce((sum, value) => sum + value, 0) / n;
  const squares = values.reduce((sum, value) => sum + (value - own) ** 2, 0);
  const degreesOfFreedom = SCATTER_DEGREES + Math.max(0, n - 1);
  const variance = (SCATTER_DEGREES * scatter * scatter + squares) / degreesOfFreedom;
  const precision = 1 / placeDeviation ** 2 + n / variance;
  return {
    mean: (m0 / placeDeviation ** 2 + (n * own) / variance) / precision,
    standardDeviation: Math.sqrt(variance + 1 / precision),
    degreesOfFreedom,
    n,
  };
}

/** A gauge as it was seen, and what a logger had counted by then since the pack was full. */
export interface GaugeReading {
  /** Share of the bars that are lit, 0…1. */
  readonly shown: number;
  readonly usedWh: number;
  /** A bar had just gone out: not anywhere within the bar, but at its edge. */
  readonly isEdge: boolean;
  /** One bar of the gauge that showed it: a pack's lights and a display are two gauges. */
  readonly stepShare: number;
}
/** What a reading of a pack's own gauge means, in Wh used since it was full. */
export interface LearnedLevel extends Learned {
  readonly shown: number;
  readonly isEdge: boolean;
}

/** Bars are not even: a bar may begin this share of the pack off its place. */
const UNEVEN_LIMIT = 0.1;
/** The same bar goes out a little sooner or later from ride to ride: load, cold, and who looked. As a share of the pack. */
const EDGE_SCATTER = 0.03;

/**
 * What each reading of a gauge means, for those readings that were seen beside a logger: bars lit, and bars going out.
 * Energies never fall as bars go out (isotonic). Units: Wh; `stepShare` is one bar, `usableWh` the pack's usable energy, for what
 * is thought beforehand.
 */
export function learnGauge(
  readings: readonly GaugeReading[],
  { stepShare, usableWh }: { readonly stepShare: number; readonly usableWh: number },
): LearnedLevel[] {
  const bars = Math.round(1 / stepShare);
  return [false, true].flatMap((isEdge) => {
    const levels: LearnedLevel[] = [];
    for (let k = bars; k >= 0; k--) {
      const shown = k / bars;
      const seen = readings.filter(
        (reading) =>
          reading.isEdge === isEdge &&
          Math.round(1 / reading.stepShare) === bars &&
          Math.abs(reading.shown - shown) < stepShare / 2,
      );
      if (seen.length === 0) continue;
      // A lit bar stands for its whole: the middle of it is what is left. When one goes out, the next is still whole.
      const left = isEdge ? shown : Math.max(0, shown - stepShare / 2);
      const prior = {
        mean: (1 - left) * usableWh,
        placeDeviation: (usableWh * UNEVEN_LIMIT) / Math.sqrt(3),
        scatter: usableWh * (isEdge ? EDGE_SCATTER : stepShare / Math.sqrt(12)),
      };
      levels.push({
        shown,
        isEdge,
        ...learnFrom(
          prior,
          seen.map(({ usedWh }) => usedWh),
        ),
      });
    }
    const rising = isotonicRegression(levels.map(({ mean }) => mean));
    return levels.map((level, k) => ({ ...level, mean: rising[k]! }));
  });
}
