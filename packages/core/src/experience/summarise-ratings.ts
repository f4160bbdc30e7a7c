import { CoreError } from '../errors/index.js';
import { EXPERIENCE_KEYS, HIGHEST_STEP, LOWEST_STEP, type ExperienceKey } from './scales.js';

/** One rider's word on a setup: expected before riding it, or felt after. */
export interface Rating {
  readonly rider: string;
  readonly phase: 'after' | 'before';
  /** The rider did not know which setup it was. */
  readonly isBlind: boolean;
  /** When, so that of one rider's several words the last counts; ISO text. */
  readonly at: string;
  readonly values: Partial<Readonly<Record<ExperienceKey, number>>>;
}
export type Agreement = 'agree' | 'divided' | 'mostly' | 'one-rider';
export interface RatedScale {
  readonly key: ExperienceKey;
  /** Of the riders' last words after riding. */
  readonly median: number;
  readonly lowest: number;
  readonly highest: number;
  readonly riders: number;
  readonly blindRiders: number;
  readonly agreement: Agreement;
  /** Median of what the same riders had expected; null where none had said. */
  readonly expected: number | null;
}

/** Riders within one step of the median of each other agree; a quarter of them further off makes them divided. */
const NEAR_STEPS = 1;
const DIVIDED_SHARE = 0.25;

/**
 * Ratings of one setup, scale by scale: median and agreement over riders, each rider once with the last word. Words are ordered,
 * not measured: no mean, no interval, and nothing of it goes into figures. Values: steps 1 to 5.
 * Fails: `invalid-input` for a value that is no step.
 */
export function summariseRatings(ratings: readonly Rating[]): RatedScale[] {
  for (const { values } of ratings)
    for (const value of Object.values(values))
      if (!(Number.isInteger(value) && value >= LOWEST_STEP && value <= HIGHEST_STEP))
        throw new CoreError(
          'invalid-input',
          `A rating is a whole step from ${LOWEST_STEP} to ${HIGHEST_STEP}, not ${value}.`,
        );
  return EXPERIENCE_KEYS.flatMap((key): RatedScale[] => {
    const after = lastWords(ratings, key, 'after');
    if (after.length === 0) return [];
    const values = after.map(({ value }) => value).sort((a, b) => a - b);
    const middle = medianOf(values);
    const riders = new Set(after.map(({ rider }) => rider));
    const before = lastWords(ratings, key, 'before').filter(({ rider }) => riders.has(rider));
    return [
      {
        key,
        median: middle,
        lowest: values[0]!,
        highest: values.at(-1)!,
        riders: values.length,
        blindRiders: after.filter(({ isBlind }) => isBlind).length,
        agreement: agreementOf(values, middle),
        expected: before.length === 0 ? null : medianOf(before.map(({ value }) => value).sort((a, b) => a - b)),
      },
    ];
  });
}

function lastWords(
  ratings: readonly Rating[],
  key: ExperienceKey,
  phase: Rating['phase'],
): { rider: string; value: number; isBlind: boolean }[] {
  const last = new Map<string, { rider: string; value: number; isBlind: boolean; at: string }>();
  for (const { rider, phase: own, at, isBlind, values } of ratings) {
    const value = values[key];
    if (own !== phase || value === undefined) continue;
    const name = rider.trim().toLowerCase();
    const before = last.get(name);
    if (!before || before.at <= at) last.set(name, { rider: name, value, isBlind, at });
  }
  return [...last.values()];
}

function agreementOf(values: readonly number[], middle: number): Agreement {
  if (values.length === 1) return 'one-rider';
  if (values.at(-1)! - values[0]! <= NEAR_STEPS) return 'agree';
  // Of two there is no majority.
  if (values.length === 2) return 'divided';
  const far = values.filter((value) => Math.abs(value - middle) > NEAR_STEPS).length;
  return far / values.length > DIVIDED_SHARE ? 'divided' : 'mostly';
}

/** Of sorted values; between two steps where they are even in number. */
function medianOf(sorted: readonly number[]): number {
  const half = sorted.length / 2;
  return Number.isInteger(half) ? (sorted[half - 1]! + sorted[half]!) / 2 : sorted[Math.floor(half)]!;
}
