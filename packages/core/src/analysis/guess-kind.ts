import type { CleanLog } from '../logs/index.js';
import { mean } from '../numeric/index.js';
import { analyseCoasts } from './coast-down/analyse-coasts.js';
import { electricalPower } from './range/ride-integrals.js';
import type { TestKind } from './test-kinds.js';

const MIN_STARTS = 3;
const STEEP = 0.03;
const MIN_LEVELS = 3;
const COASTING_SHARE = 0.3;
const TURN_SHARE = 0.5;
const MOVING_MPS = 0.5;

/**
 * The kind of test that a part of a log looks like, and why in words: level changes, coasts without current, standing starts,
 * a climb of 3 % or more, passes with turns between them; else range. `distanceM` is null where no distance is known.
 */
export function guessKind(part: CleanLog, distanceM: number | null): [TestKind, string] {
  const { speed, altitude, assistLevel } = part.channels;
  if (isSteppedLoad(part)) return ['battery', 'load steps on a standing bike'];
  const levels = assistLevel ? heldLevels(part, assistLevel) : 0;
  if (levels >= MIN_LEVELS) return ['assist-levels', `${levels} levels, each held for half a minute`];
  if (speed && part.channels.current) {
    const coasts = analyseCoasts(part, {}, () => undefined).coasts;
    const coastingS = coasts.reduce((sum, { startS, endS }) => sum + endS - startS, 0);
    if (coasts.length >= 2 && coastingS > COASTING_SHARE * (part.timeS.at(-1)! - part.timeS[0]!))
      return ['coast-down', `${coasts.length} coasts without current`];
  }
  const starts = speed ? standingStarts(part, speed) : 0;
  if (starts >= MIN_STARTS && (distanceM === null || distanceM < 1500))
    return ['assist-response', `${starts} standing starts`];
  const climb = altitude && distanceM !== null ? meanGrade(altitude, distanceM) : undefined;
  if (climb !== undefined && climb > STEEP && distanceM! > 100)
    return ['hill-climb', `it climbs at ${(100 * climb).toFixed(1)} %`];
  const passes = speed ? fastPasses(part, speed) : 0;
  if (passes >= 2 && (distanceM === null || distanceM < 5000))
    return ['top-speed', `${passes} fast passes with turns between`];
  return ['range', 'an ordinary ride'];
}

export function secondsWhere({ timeS, report }: CleanLog, holds: (k: number) => boolean): number {
  let seconds = 0;
  for (let k = 1; k < timeS.length; k++) {
    const step = timeS[k]! - timeS[k - 1]!;
    if (step <= report.gapLimitS && holds(k)) seconds += step;
  }
  return seconds;
}

/** Current in steps while nothing moves: a pack under test at the bench. */
export function isSteppedLoad(part: CleanLog): boolean {
  const { speed, current } = part.channels;
  if (!current || (speed && secondsWhere(part, (k) => speed[k]! > MOVING_MPS) > 5)) return false;
  const power = electricalPower(part.channels);
  if (!power) return false;
  const loadedS = secondsWhere(part, (k) => current[k]! > 2);
  const idleS = secondsWhere(part, (k) => Math.abs(current[k]!) < 0.5);
  return loadedS > 20 && idleS > 20;
}

function heldLevels(part: CleanLog, assistLevel: Float64Array): number {
  const seconds = new Map<number, number>();
  for (let k = 1; k < assistLevel.length; k++)
    if (!Number.isNaN(assistLevel[k]!))
      seconds.set(assistLevel[k]!, (seconds.get(assistLevel[k]!) ?? 0) + part.timeS[k]! - part.timeS[k - 1]!);
  return [...seconds.values()].filter((held) => held >= 30).length;
}

function standingStarts({ timeS }: CleanLog, speed: Float64Array): number {
  let starts = 0;
  let wasStanding = false;
  for (let k = 0; k < timeS.length; k++) {
    if (speed[k]! < 0.3) wasStanding = true;
    else if (wasStanding && speed[k]! > 2) {
      starts++;
      wasStanding = false;
    }
  }
  return starts;
}

function meanGrade(altitude: Float64Array, distanceM: number): number | undefined {
  const known = altitude.filter((value) => !Number.isNaN(value));
  if (known.length < 10) return undefined;
  const few = Math.min(5, known.length >> 1);
  return (mean(known.subarray(-few)) - mean(known.subarray(0, few))) / distanceM;
}

function fastPasses(part: CleanLog, speed: Float64Array): number {
  const top = speed.reduce((most, v) => (v > most ? v : most), 0);
  if (!(top > 3)) return 0;
  let passes = 0;
  let fromS: number | undefined;
  for (let k = 0; k < speed.length; k++) {
    if (Number.isNaN(speed[k]!)) continue;
    if (speed[k]! > TURN_SHARE * top) fromS ??= part.timeS[k]!;
    else if (fromS !== undefined) {
      if (part.timeS[k]! - fromS >= 8 && part.timeS[k]! - fromS < 120) passes++;
      fromS = undefined;
    }
  }
  if (fromS !== undefined && part.timeS.at(-1)! - fromS >= 8 && part.timeS.at(-1)! - fromS < 120) passes++;
  return passes;
}
