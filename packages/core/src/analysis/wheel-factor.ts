import type { CleanLog } from '../logs/index.js';
import type { ManualReadings } from './manual/manual-readings.js';

/**
 * A log whose wheel counted with a circumference that was set wrong, put right: its speeds and distances times `factor`, the true
 * circumference over the one set. Positions, and all else, stay. Dimensionless; the log itself is not changed.
 */
export function withWheelFactor(log: CleanLog, factor: number): CleanLog {
  const { speed, distance } = log.channels;
  const { speedComparison, ...report } = log.report;
  const times = (values: Float64Array): Float64Array => values.map((value) => factor * value);
  return {
    ...log,
    channels: {
      ...log.channels,
      ...(speed && { speed: times(speed) }),
      ...(distance && { distance: times(distance) }),
    },
    report: {
      ...report,
      ...(speedComparison && {
        speedComparison: comparisonTimes(speedComparison, factor),
      }),
    },
  };
}

/** Off by more than this, and surely, is a circumference set wrong. */
const TOLERANCE = 0.02;

function comparisonTimes(
  { ratio, lower, upper }: NonNullable<CleanLog['report']['speedComparison']>,
  factor: number,
): NonNullable<CleanLog['report']['speedComparison']> {
  const [low, high] = [lower * factor, upper * factor];
  return { ratio: ratio * factor, lower: low, upper: high, isSuspect: low > 1 + TOLERANCE || high < 1 - TOLERANCE };
}

/** Readings that a display counts by the wheel. */
const BY_WHEEL = [
  'tripDistanceKm',
  'displayMeanKmh',
  'odometerStartKm',
  'odometerEndKm',
  'highestSpeedKmh',
  'highestSpeedBackKmh',
  'lowestSpeedKmh',
] as const;

/** What was read off a display with a circumference that was set wrong, put right. */
export function readingsWithWheelFactor(readings: ManualReadings, factor: number): ManualReadings {
  const right: Partial<Record<(typeof BY_WHEEL)[number], number>> = {};
  for (const key of BY_WHEEL) if (readings[key] !== undefined) right[key] = factor * readings[key];
  return {
    ...readings,
    ...right,
    ...(readings.barsOut && { barsOut: readings.barsOut.map(({ km, left }) => ({ km: factor * km, left })) }),
  };
}
