import type { CleanLog } from '../../logs/index.js';
import { derivationNumber as num, type Figure, type Warn } from '../figure.js';
import { givenSpans } from '../findings.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { electricalPower } from '../range/ride-integrals.js';
import type { TestContext } from '../test-context.js';
import { findLevels, MIN_STEADY_S } from './find-levels.js';
import { measureLevel, type MeasuredLevel } from './measure-level.js';

export interface LevelResult extends MeasuredLevel {
  /** Levels that do not differ from this one beyond uncertainty, in speed and in power. */
  readonly sameAs: readonly number[];
}

/** Two-sided 95 %. */
const COVERAGE = 1.96;

/**
 * Steady speed, consumption and power of each assist level.
 *
 * Method: a level's span is where the logged level stands; its steady window is the last part (at most 90 s, at least
 * 30 s) over which the speed, fitted by local lines of 10 s, changes by less than 0.05 m/s². Two levels are named the
 * same when neither speed nor power differs by more than 1.96 standard errors of the difference; what both share (wheel,
 * gains) cancels. Levels without a steady window are named in a warning. Windows that a tester set are taken as they are.
 */
export function analyseLevels(log: CleanLog, context: TestContext, warn: Warn): LevelResult[] {
  const { assistLevel, speed } = log.channels;
  const given = givenSpans(log, context.spans, 'level');
  if (!speed || !log.hasClock || (!assistLevel && !given)) {
    warn(
      'no-level',
      'Levels need the assist level and the speed over time; this log lacks one of them. Note the levels with marks, or log them.',
    );
    return [];
  }
  const powerW = electricalPower(log.channels)?.powerW;
  if (!powerW) warn('no-power', 'The log has no voltage with current, and no power: speeds of the levels only.');
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const measured = findLevels(log, speed, given).flatMap((window) => {
    if (!window.isSteady) {
      warn('not-steady', `Level ${window.level} was not held steady for ${MIN_STEADY_S} s: it is left out.`);
      return [];
    }
    return measureLevel(log, speed, powerW, window, instrument, context) ?? [];
  });
  const sloping = measured.filter(({ grade }) => grade !== 0);
  if (sloping.length > 0)
    warn(
      'road-not-level',
      `The road was not level: ${sloping.map(({ level, grade }) => `level ${level} at ${num(Number((100 * grade).toPrecision(2)))} %`).join(', ')}. What that does to speed and power is in their intervals; a level road, or each level both ways, tells more.`,
    );
  return compareLevels(measured, warn);
}

/** Names the levels that are one within their uncertainty. */
function compareLevels(levels: readonly MeasuredLevel[], warn: Warn): LevelResult[] {
  for (const [k, one] of levels.entries())
    for (const other of levels.slice(k + 1))
      if (isSame(one, other))
        warn(
          'levels-alike',
          `Levels ${one.level} and ${other.level} do not differ beyond their uncertainty, in speed or in power: here they are one.`,
        );
  return levels.map((one) => ({
    ...one,
    sameAs: levels.filter((other) => other !== one && isSame(one, other)).map(({ level }) => level),
  }));
}

function isSame(a: MeasuredLevel, b: MeasuredLevel): boolean {
  const own = (figure: Figure | null): number =>
    Math.hypot(
      ...(figure?.derivation.contributions ?? []).filter((c) => !c.isSystematic).map((c) => c.standardUncertainty),
    );
  const alike = (x: Figure | null, y: Figure | null): boolean =>
    x === null || y === null || Math.abs(x.value - y.value) <= COVERAGE * Math.hypot(own(x), own(y));
  return alike(a.steadySpeed, b.steadySpeed) && alike(a.meanPower, b.meanPower);
}
