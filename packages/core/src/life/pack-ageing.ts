import { CHEMISTRIES, type Chemistry } from '../battery/index.js';
import { fitCommonLine, lineCrossing, studentTQuantile } from '../statistics/index.js';

/** What a pack gave, as a share of its label, after so many full cycles. */
export interface CapacityReading {
  readonly cycles: number;
  readonly share: number;
  /** From a test of the pack, or from a ride from full to cut-off: each kind has a level of its own. */
  readonly kind: 'ride' | 'test';
  readonly airTemperatureC: number | null;
}
export interface PackAgeing {
  readonly readings: number;
  /** Of what it had when new to the records, percent of it per 100 full cycles. */
  readonly fadePer100: number;
  readonly interval95: readonly [number, number];
  readonly verdict: 'fades' | 'open';
  /** As it stands now, share of the label. */
  readonly shareNow: number;
  /** Full cycles until it gives less than the share asked for; null: not as far as can be seen. */
  readonly cyclesLeft: number | null;
  readonly cyclesInterval95: readonly [number, number | null];
  readonly words: string;
}

const REFERENCE_C = 20;
/** Two tests of one pack a week apart differ by about this share of it. */
const TEST_SCATTER = 0.02;
const KNOWN_FROM = 4;
/** Heat, depth and pause move the rate of fading by about this much. */
const RATE_SCATTER = 0.3;

/**
 * How a pack fades over full cycles, readings in the cold set to 20 °C by its chemistry's loss per kelvin.
 * Method: straight line over cycles, tests and rides each with a level of their own, by least squares; interval by Student's t.
 * Undefined: fewer than two readings of a kind, or all at one count of cycles.
 */
export function packAgeing(
  readings: readonly CapacityReading[],
  chemistry: Chemistry,
  cyclesNow: number,
  lowestShare: number,
): PackAgeing | undefined {
  const { coldLossPerK } = CHEMISTRIES[chemistry];
  const points = readings.map(({ cycles, share, kind, airTemperatureC }) => ({
    x: cycles,
    y: share / (1 - Math.min(0.4, Math.max(0, REFERENCE_C - (airTemperatureC ?? REFERENCE_C)) * coldLossPerK)),
    group: kind,
  }));
  const line = fitCommonLine(points, { scatter: TEST_SCATTER, degreesOfFreedom: KNOWN_FROM });
  if (!line.ok) return undefined;
  const newest = [...points].sort((a, b) => a.x - b.x).at(-1)!;
  const { slope, slopeError, degreesOfFreedom, groups } = line.value;
  const level = groups.get(newest.group)!;
  const first = Math.min(...points.map(({ x }) => x));
  const atFirst = level.meanY + slope * (first - level.meanX);
  const from = Math.max(cyclesNow, newest.x);
  const shareNow = level.meanY + slope * (from - level.meanX);
  const toPercent = (perCycle: number): number => (-100 * 100 * perCycle) / atFirst;
  const half = studentTQuantile(0.975, degreesOfFreedom) * slopeError;
  const interval95 = [toPercent(slope + half), toPercent(slope - half)] as const;
  const crossing = lineCrossing(line.value, lowestShare, from, {
    group: newest.group,
    rateScatter: RATE_SCATTER,
    wanderFrom: newest.x,
  });
  const verdict = interval95[0] > 0 ? 'fades' : 'open';
  const isBelow = shareNow <= lowestShare;
  const cyclesLeft = isBelow ? 0 : slope >= 0 || crossing.at === null ? null : crossing.at - from;
  const to = (value: number): string => String(Number(value.toPrecision(2)));
  const percent = (share: number): string => `${Math.round(share * 100)} %`;
  return {
    readings: readings.length,
    fadePer100: toPercent(slope),
    interval95,
    verdict,
    shareNow,
    cyclesLeft,
    cyclesInterval95: [
      isBelow ? 0 : crossing.interval95[0] - from,
      isBelow ? 0 : crossing.interval95[1] === null ? null : crossing.interval95[1] - from,
    ],
    words:
      verdict === 'fades'
        ? `It loses ${to(toPercent(slope))} % in 100 full cycles (${to(interval95[0])} to ${to(interval95[1])}) and stands at ${percent(shareNow)} of its label${
            isBelow
              ? `, below the ${percent(lowestShare)} asked for.`
              : cyclesLeft === null
                ? '.'
                : `; ${percent(lowestShare)} is some ${Math.round(cyclesLeft / 10) * 10} full cycles away.`
          }`
        : `${readings.length} readings do not tell yet whether it fades: ${to(interval95[0])} to ${to(interval95[1])} % in 100 full cycles.`,
  };
}

/** Resistance of a pack at a test, after so many full cycles. */
export interface ResistanceReading {
  readonly cycles: number;
  readonly ohm: number;
  readonly airTemperatureC: number | null;
}
export interface ResistanceGrowth {
  readonly readings: number;
  /** Of what it was at the first, percent of it per 100 full cycles. */
  readonly growthPer100: number;
  readonly interval95: readonly [number, number];
  readonly verdict: 'grows' | 'open';
  readonly words: string;
}
/** Two tests of one pack differ by about this share: temperature inside, charge, current. */
const RESISTANCE_SCATTER = 0.06;
/** A pack resists more in the cold: about this share per kelvin below 20 °C. */
const COLD_RESISTANCE_PER_K = 0.015;

/**
 * How the resistance of a pack grows over full cycles, readings in the cold set to 20 °C. Straight line over cycles on logarithms, interval by
 * Student's t. Units: Ω. Undefined: fewer than two tests, or all at one count of cycles.
 */
export function resistanceGrowth(readings: readonly ResistanceReading[]): ResistanceGrowth | undefined {
  const known = readings.filter(({ ohm }) => ohm > 0);
  const points = known.map(({ cycles, ohm, airTemperatureC }) => ({
    x: cycles,
    y: Math.log(ohm / (1 + COLD_RESISTANCE_PER_K * Math.max(0, REFERENCE_C - (airTemperatureC ?? REFERENCE_C)))),
  }));
  const line = fitCommonLine(points, { scatter: RESISTANCE_SCATTER, degreesOfFreedom: KNOWN_FROM });
  if (!line.ok) return undefined;
  const { slope, slopeError, degreesOfFreedom } = line.value;
  const half = studentTQuantile(0.975, degreesOfFreedom) * slopeError;
  const toPercent = (perCycle: number): number => 100 * Math.expm1(100 * perCycle);
  const interval95 = [toPercent(slope - half), toPercent(slope + half)] as const;
  const to = (value: number): string => String(Number(value.toPrecision(2)));
  const verdict = interval95[0] > 0 ? 'grows' : 'open';
  const span = `${to(interval95[0])} to ${to(interval95[1])} %`;
  return {
    readings: known.length,
    growthPer100: toPercent(slope),
    interval95,
    verdict,
    words:
      verdict === 'grows'
        ? `Its resistance grows by ${to(toPercent(slope))} % in 100 full cycles (${span}): more sag, and cut off sooner in the cold.`
        : `${known.length} tests do not tell yet whether its resistance grows: ${span} in 100 full cycles.`,
  };
}
