import type { Uncertain } from './running-costs.js';

/** One way of getting about: what it costs to begin with, and for 100 km. */
export interface Way {
  readonly name: string;
  readonly upFront: number;
  readonly perHundredKm: Uncertain;
}
export type Payback =
  /** From so many km on; 95 % interval, open above where the cheaper running may as well be none. */
  | { readonly kind: 'after'; readonly km: number; readonly interval95: readonly [number, number] }
  /** Cheaper to begin with and dearer to run: the better one up to so many km. */
  | { readonly kind: 'until'; readonly km: number; readonly interval95: readonly [number, number] }
  | { readonly kind: 'at-once' }
  | { readonly kind: 'never' }
  /** The running costs do not differ beyond their uncertainty. */
  | { readonly kind: 'cannot-tell'; readonly fromKm: number };

const NORMAL_95 = 1.96;

/**
 * The kilometre from which a way has paid against another: (more up front) ÷ (less for each km). Its interval is that of a ratio whose
 * denominator is uncertain, after Fieller (1954), here with a known numerator: the ends of the saving, turned over.
 */
export function payback(way: Way, against: Way): Payback {
  const more = way.upFront - against.upFront;
  const saving = (against.perHundredKm.value - way.perHundredKm.value) / 100;
  const doubt =
    (NORMAL_95 * Math.hypot(way.perHundredKm.standardUncertainty, against.perHundredKm.standardUncertainty)) / 100;
  const [least, most] = [saving - doubt, saving + doubt];
  if (more < 0 && most < 0) return { kind: 'until', km: more / saving, interval95: [more / least, more / most] };
  // Dearer to run within its uncertainty only: nothing speaks against it yet.
  if (more <= 0) return more === 0 && most < 0 ? { kind: 'never' } : { kind: 'at-once' };
  if (most <= 0) return { kind: 'never' };
  if (saving <= 0) return { kind: 'cannot-tell', fromKm: more / most };
  if (least <= 0)
    return saving > doubt / 2
      ? { kind: 'after', km: more / saving, interval95: [more / most, Infinity] }
      : { kind: 'cannot-tell', fromKm: more / most };
  return { kind: 'after', km: more / saving, interval95: [more / most, more / least] };
}
