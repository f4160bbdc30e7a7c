import { CoreError } from '../errors/index.js';
import {
  clusteredRate,
  meanCumulativeFunction,
  poissonRate,
  poissonRateRatio,
  powerLawProcess,
  type MeanCumulativePoint,
  type Watched,
} from '../statistics/index.js';
import type { FaultEffect, LifePartKey } from './parts.js';

export interface Fault {
  /** Since the kit was fitted, km. */
  readonly km: number;
  readonly part: LifePartKey;
  readonly effect: FaultEffect;
}
/** One fitted kit: how far it was watched, and what failed on it. */
export interface Conversion {
  readonly id: string;
  readonly name: string;
  /** By which it is compared; empty where not known. */
  readonly groups: Readonly<Record<GroupBy, string>>;
  /** Watched since it was fitted, km, > 0. */
  readonly km: number;
  readonly faults: readonly Fault[];
}
export const GROUP_BY = { kit: 'Kit', motorKind: 'Kind of motor', pack: 'Pack', use: 'Use' } as const;
export type GroupBy = keyof typeof GROUP_BY;

/** Faults in 1 000 km. */
export interface FaultRate {
  readonly label: string;
  readonly conversions: number;
  readonly km: number;
  readonly faults: number;
  readonly rate: number;
  readonly interval95: readonly [number, number];
  /** With no fault: fewer than this in 1 000 km, 95 %, from one side. */
  readonly upperBound: number;
  /** Conversions differ by more than chance; the interval allows for it long before that is sure. */
  readonly isUneven: boolean;
  readonly words: string;
}

const PER_KM = 1000;
/** Conversions whose counts would be as uneven by chance fewer times than this are held to differ. */
const UNEVEN_BELOW = 0.05;
/** Of fewer bikes than this nothing tells how much one differs from the next. */
const FEW_BIKES = 3;

/**
 * Faults per 1 000 km of some conversions together, with the exact Poisson interval; where three or more of them share several faults less evenly than
 * chance mostly does, widened by the scatter between them.
 */
export function faultRate(label: string, conversions: readonly Conversion[], part?: LifePartKey): FaultRate {
  const units = conversions.map((one) => ({ events: faultsOf(one, part).length, exposure: one.km / PER_KM }));
  const events = units.reduce((sum, unit) => sum + unit.events, 0);
  const exposure = units.reduce((sum, unit) => sum + unit.exposure, 0);
  const { upperBound } = poissonRate({ events, exposure });
  const clustered = clusteredRate(units);
  if (!clustered.ok) throw new CoreError('invalid-input', 'A rate needs a conversion.');
  const { rate, interval: interval95, evenPValue } = clustered.value;
  const isUneven = units.length > 2 && evenPValue < UNEVEN_BELOW;
  const most = conversions
    .map((one) => ({ name: one.name, n: faultsOf(one, part).length }))
    .sort((a, b) => b.n - a.n)[0];
  return {
    label,
    conversions: conversions.length,
    km: exposure * PER_KM,
    faults: events,
    rate,
    interval95,
    upperBound,
    isUneven,
    words:
      events === 0
        ? `No fault in ${kmWords(exposure * PER_KM)}: fewer than ${twoDigits(upperBound)} in 1 000 km.`
        : `${events === 1 ? 'One fault' : `${events} faults`} in ${kmWords(exposure * PER_KM)}: ${twoDigits(rate)} in 1 000 km (${twoDigits(interval95[0])} to ${twoDigits(interval95[1])}).${
            isUneven && most
              ? ` They do not fall evenly: ${most.name} alone had ${most.n} of ${events}; the span allows for that.`
              : ''
          }`,
  };
}

function faultsOf({ faults, km }: Conversion, part?: LifePartKey): readonly Fault[] {
  return faults.filter((fault) => fault.km <= km && (part === undefined || fault.part === part));
}

export interface RateComparison {
  readonly a: string;
  readonly b: string;
  /** a ÷ b; null where b has none. */
  readonly ratio: number | null;
  readonly interval95: readonly [number, number | null];
  readonly pValue: number;
  readonly verdict: 'fewer' | 'more' | 'open';
  readonly words: string;
}

/**
 * Whether one group has more faults per km than another: exact interval of the ratio, widened as the groups' own intervals are wider than chance makes
 * them (their half-widths on logarithms in quadrature).
 */
export function compareFaultRates(a: FaultRate, b: FaultRate): RateComparison {
  const exact = poissonRateRatio({ events: a.faults, exposure: a.km }, { events: b.faults, exposure: b.km });
  const { ratio, pValue } = exact;
  const [low, high] = widened(exact.interval, ratio, a, b);
  const isUneven = a.isUneven || b.isUneven;
  const verdict = low > 1 ? 'more' : high < 1 ? 'fewer' : 'open';
  const span = `${twoDigits(low)} to ${Number.isFinite(high) ? twoDigits(high) : 'any number of'} times`;
  const words =
    a.faults + b.faults === 0
      ? `Neither ${a.label} nor ${b.label} had a fault: nothing tells them apart.`
      : verdict === 'open'
        ? `${a.label} against ${b.label}: ${span} as many; ${
            isUneven
              ? 'single bikes weigh too much for a verdict between kits.'
              : 'so far it cannot be told which has fewer.'
          }`
        : `${a.label} has ${verdict} faults in a kilometre than ${b.label}: ${span} as many.${
            Math.min(a.conversions, b.conversions) < FEW_BIKES
              ? ' That is said of these bikes: with fewer than three of a kit, one bad bike cannot be told from the kit.'
              : ''
          }`;
  return {
    a: a.label,
    b: b.label,
    ratio: Number.isFinite(ratio) ? ratio : null,
    interval95: [low, Number.isFinite(high) ? high : null],
    pValue,
    verdict,
    words,
  };
}

function widened(
  [low, high]: readonly [number, number],
  ratio: number,
  a: FaultRate,
  b: FaultRate,
): readonly [number, number] {
  const isWide = [a, b].some(
    ({ faults, km, interval95 }) =>
      interval95[1] > poissonRate({ events: faults, exposure: km / PER_KM }).interval[1] * (1 + 1e-9),
  );
  if (!isWide) return [low, high];
  // One without a fault has no logarithm: end against end.
  if (b.faults === 0) return [Math.min(low, a.interval95[0] / b.interval95[1]), high];
  if (a.faults === 0) return [low, Math.max(high, a.interval95[1] / b.interval95[0])];
  const half = (up: FaultRate, down: FaultRate): number =>
    Math.hypot(Math.log(up.interval95[1] / up.rate), Math.log(down.rate / down.interval95[0]));
  return [Math.min(low, ratio * Math.exp(-half(b, a))), Math.max(high, ratio * Math.exp(half(a, b)))];
}

export interface FaultTrend {
  readonly verdict: 'early' | 'none' | 'too-few' | 'wear-out';
  readonly shape: number | null;
  readonly interval95: readonly [number, number] | null;
  readonly words: string;
}

/** Whether faults become rarer or more frequent with use: power-law (Crow–AMSAA) over all conversions together. */
export function faultTrend(conversions: readonly Conversion[], part?: LifePartKey): FaultTrend {
  const trend = powerLawProcess(watchedOf(conversions, part));
  if (!trend.ok)
    return { verdict: 'too-few', shape: null, interval95: null, words: 'Fewer than three faults tell no trend.' };
  const { shape, shapeInterval, n } = trend.value;
  const [low, high] = shapeInterval;
  const verdict = high < 1 ? 'early' : low > 1 ? 'wear-out' : 'none';
  const number = `exponent ${twoDigits(shape)} (${twoDigits(low)} to ${twoDigits(high)})`;
  return {
    verdict,
    shape,
    interval95: shapeInterval,
    words: {
      early: `They become rarer with use, ${number}: early trouble that settles.`,
      'wear-out': `They become more frequent with use, ${number}: something wears out.`,
      none: `${n} faults tell no trend over the kilometres, ${number}.`,
    }[verdict],
  };
}

/** Mean number of faults of one conversion over its kilometres. */
export function faultCurve(conversions: readonly Conversion[], part?: LifePartKey): MeanCumulativePoint[] {
  return meanCumulativeFunction(watchedOf(conversions, part));
}

/** A fault on the very day of fitting has no kilometres yet; it counts from the first metres. */
const FIRST_KM = 0.1;
function watchedOf(conversions: readonly Conversion[], part?: LifePartKey): Watched[] {
  return conversions.map((one) => ({
    end: one.km,
    events: faultsOf(one, part)
      .map(({ km }) => Math.min(one.km, Math.max(km, Math.min(FIRST_KM, one.km))))
      .sort((a, b) => a - b),
  }));
}

export interface Reliability {
  readonly all: FaultRate;
  readonly groups: readonly FaultRate[];
  readonly comparisons: readonly RateComparison[];
  readonly trend: FaultTrend;
  readonly parts: readonly (FaultRate & { readonly part: LifePartKey; readonly trend: FaultTrend })[];
}

/** All of it: rates by group and by part, pairs of groups, trends. Conversions without kilometres do not count and are named by the caller. */
export function reliability(
  conversions: readonly Conversion[],
  by: GroupBy,
  part?: LifePartKey,
): Reliability | undefined {
  const counted = conversions.filter(({ km }) => km > 0);
  if (counted.length === 0) return undefined;
  const names = [...new Set(counted.map(({ groups }) => groups[by]))].sort();
  const groups = names.map((name) =>
    faultRate(
      name || 'not known',
      counted.filter((one) => one.groups[by] === name),
      part,
    ),
  );
  const parts = [...new Set(counted.flatMap((one) => faultsOf(one).map((fault) => fault.part)))];
  return {
    all: faultRate('all', counted, part),
    groups,
    comparisons: groups.flatMap((a, k) => groups.slice(k + 1).map((b) => compareFaultRates(a, b))),
    trend: faultTrend(counted, part),
    parts: parts
      .map((one) => ({ part: one, ...faultRate(one, counted, one), trend: faultTrend(counted, one) }))
      .sort((a, b) => b.faults - a.faults),
  };
}

function kmWords(km: number): string {
  return `${Math.round(km)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, ' ')} km`;
}
export function twoDigits(value: number): string {
  if (value === 0) return '0';
  return value >= 100 ? String(Math.round(value)) : String(Number(value.toPrecision(2)));
}
