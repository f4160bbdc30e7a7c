import { median } from '../numeric/index.js';
import { LIMIT_SHARE, type CommandFit } from './command-fit.js';
import { copperAt, forceOfPower, type DriveLosses } from './motor-law.js';
import type { FixedOfBike } from './parameters.js';
import type { RideRecord } from './ride-record.js';

interface Pedalled {
  readonly ride: number;
  readonly level: number;
  readonly riderW: number;
  readonly helpW: number;
}
/** A sensor of torque is followed within seconds. */
const FOLLOWS_S = 5;
const LEAST_RIDER_W = 25;
const LEAST_PEDALLED = 40;
/** Help that follows the rider scatters less about a multiple of the rider's power than about a constant. */
const FOLLOWS_SHARE = 0.8;

/**
 * Help as a multiple of the rider's power, where both were logged and go up and down together; undefined where help does not follow.
 * Moments are means over five seconds, below the limits of current and pull and away from the end of help.
 */
export function fitPedals(
  records: readonly RideRecord[],
  none: CommandFit,
  fixed: FixedOfBike,
  losses: DriveLosses,
): CommandFit | undefined {
  const all = records.flatMap((record, ride) => pedalledIn(record, ride, fixed, losses, none));
  if (all.length < LEAST_PEDALLED) return undefined;
  const byLevel = new Map<number, Pedalled[]>();
  for (const moment of all) {
    const own = byLevel.get(moment.level) ?? [];
    if (own.length === 0) byLevel.set(moment.level, own);
    own.push(moment);
  }
  // Each level against itself: two levels are two constants, which is no following.
  let [follows, constant] = [0, 0];
  const levels: { level: number; ratio: number; sd: number; seconds: number }[] = [];
  for (const [level, own] of byLevel) {
    if (own.length < LEAST_PEDALLED / 2) continue;
    const ratio = median(own.map(({ helpW, riderW }) => helpW / riderW))!;
    const help = median(own.map(({ helpW }) => helpW))!;
    follows += own.length * median(own.map(({ helpW, riderW }) => Math.abs(helpW - ratio * riderW)))!;
    constant += own.length * median(own.map(({ helpW }) => Math.abs(helpW - help)))!;
    const medians = [...new Set(own.map(({ ride }) => ride))].map((one) =>
      median(own.filter(({ ride }) => ride === one).map(({ helpW, riderW }) => helpW / riderW))!,
    );
    const logs = medians.map((each) => Math.log(each / ratio));
    const scatter = logs.length > 1 ? Math.sqrt(logs.reduce((sum, x) => sum + x * x, 0) / (logs.length - 1)) : 0.06;
    levels.push({ level, ratio, sd: Math.hypot(scatter, 0.03), seconds: own.length * FOLLOWS_S });
  }
  if (levels.length === 0 || follows > FOLLOWS_SHARE * constant) return undefined;
  const most = levels.reduce((best, each) => (each.ratio > best.ratio ? each : best));
  return {
    ...none,
    law: 'rider',
    riderRatio: { value: most.ratio, sd: most.sd, from: 'data' },
    levels: levels
      .filter(({ level }) => level > 0)
      .sort((a, b) => a.level - b.level)
      .map(({ level, ratio, sd, seconds }) => ({
        level,
        demand: ratio / most.ratio,
        sd: Math.max(0.02, (sd * ratio) / most.ratio),
        seconds,
      })),
  };
}

function pedalledIn(
  { count, riderW, powerW, speedMps, motorC, level, isBraking, currentA }: RideRecord,
  ride: number,
  fixed: FixedOfBike,
  losses: DriveLosses,
  { fullCurrent }: CommandFit,
): Pedalled[] {
  const found: Pedalled[] = [];
  const isFree = (k: number): boolean =>
    riderW[k]! >= 0 &&
    powerW[k]! > losses.idlePower &&
    speedMps[k]! > 1.5 &&
    speedMps[k]! < (fixed.speedLimitMps ?? Infinity) - 1 &&
    isBraking[k] === 0 &&
    !(fullCurrent.from === 'data' && currentA[k]! > LIMIT_SHARE * fullCurrent.value);
  for (let from = 0; from + FOLLOWS_S <= count; from += FOLLOWS_S) {
    let [rider, help, n] = [0, 0, 0];
    for (let k = from; k < from + FOLLOWS_S; k++) {
      if (!isFree(k)) continue;
      const copper = copperAt(losses, speedMps[k]!, motorC[k]!);
      rider += riderW[k]!;
      help += Math.max(0, forceOfPower(powerW[k]!, speedMps[k]!, losses, copper)) * speedMps[k]!;
      n++;
    }
    if (n < FOLLOWS_S || !(rider / n > LEAST_RIDER_W) || !(help > 0)) continue;
    found.push({ ride, level: Math.round(level[from]! || 0), riderW: rider / n, helpW: help / n });
  }
  return found;
}
