import { requirePositive } from '../errors/index.js';
import { normalQuantile } from '../statistics/index.js';
import type { FigureVocabulary } from './figure-vocabulary.js';
import { voicedDifference } from './voiced-difference.js';

export interface OneRide {
  readonly name: string;
  readonly value: number;
  /** Standard uncertainty of the measurement. */
  readonly standardUncertainty: number;
}
export interface FirstImpression {
  /** Second over first. */
  readonly ratio: { readonly estimate: number; readonly lower: number; readonly upper: number };
  /** More than two rides of one setup usually differ by. */
  readonly isBeyondChance: boolean;
  readonly sentence: string;
}

/**
 * What one ride of each of two setups shows, and what it cannot: never a verdict, since one ride each leaves setup, day and
 * rider in one number.
 *
 * Units: both values in one unit, positive; `usualScatter` relative, standard, from ride to ride of one setup.
 * Method: ln of the ratio; interval from both measurements and twice the usual scatter, in quadrature; normal quantile.
 * Fails: throws `not-positive`.
 */
export function firstImpression(
  a: OneRide,
  b: OneRide,
  usualScatter: number,
  words: FigureVocabulary,
): FirstImpression {
  requirePositive({ a: a.value, b: b.value, usualScatter });
  const difference = Math.log(b.value / a.value);
  const spread = Math.hypot(
    a.standardUncertainty / a.value,
    b.standardUncertainty / b.value,
    Math.SQRT2 * usualScatter,
  );
  const margin = normalQuantile(0.975) * spread;
  const isBeyondChance = Math.abs(difference) > margin;
  const chance = 100 * (Math.exp(margin) - 1);
  const percent = (value: number): string => `${value < 10 ? value.toFixed(1) : Math.round(value)} %`;
  return {
    ratio: {
      estimate: Math.exp(difference),
      lower: Math.exp(difference - margin),
      upper: Math.exp(difference + margin),
    },
    isBeyondChance,
    sentence:
      `On these two rides ${voicedDifference(a, b, words)}. ` +
      (isBeyondChance
        ? `That is more than chance between two rides usually makes (${percent(chance)}), but one ride each cannot say whether it was the setup, the day or the rider.`
        : `Two rides of one setup differ by up to ${percent(chance)} by chance: this says nothing yet.`) +
      ' Ride both again on one outing, twice each or more.',
  };
}
