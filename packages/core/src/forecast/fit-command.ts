import { median } from '../numeric/index.js';
import { sampleQuantile } from '../statistics/index.js';
import { LIMIT_SHARE, type CommandFit, type CommandLaw, type Learnt } from './command-fit.js';
import { fitPedals } from './fit-pedals.js';
import { copperAt, powerOfPull, pullOfPower, type DriveLosses } from './motor-law.js';
import type { FixedOfBike, Priors } from './parameters.js';
import type { RideRecord } from './ride-record.js';

interface Moment {
  readonly ride: number;
  readonly demand: number;
  readonly speedMps: number;
  readonly powerW: number;
  readonly currentA: number;
  readonly voltageV: number;
  readonly copperLoss: number;
}

const LEAST_DEMAND = 0.08;
const LEAST_MOMENTS = 30;
/** Of one setting from day to day, σ of the logarithm. */
const SETTING_SCATTER = 0.01;
const MOST_MOMENTS = 3000;
/** Near the limit, and so much of the time with help that it is one. */
const LIMIT_HELD = 0.04;
/** A limit that was stated, not guessed; and a plateau that is too low to be it. */
const STATED_SD = 0.1;
const LEVEL_SHARE = 0.8;
/** Drawing less than this share of what was ordered, near the highest speeds, is running out of voltage. */
const SHORT_SHARE = 0.93;
const FAST_SHARE = 0.85;
const LEAST_SHORT = 8;

/**
 * Which order the throttle or level gives, and the limits at full help, from moments in which help was asked for and the end of help was
 * far. Each law is fitted by its own robust constant, and the one whose currents come nearest to those logged is taken.
 */
export function fitCommand(
  records: readonly RideRecord[],
  priors: Priors,
  fixed: FixedOfBike,
  losses: DriveLosses,
): CommandFit {
  const asPrior = (name: 'fullCurrent' | 'fullForce' | 'noLoadSpeed'): Learnt => ({ ...priors[name], from: 'prior' });
  const none: CommandFit = {
    law: 'current',
    fullCurrent: limitSeen(currentsOf(records), asPrior('fullCurrent')),
    fullForce: limitSeen(pullsOf(records, fixed, losses), asPrior('fullForce')),
    noLoadSpeed: asPrior('noLoadSpeed'),
    levels: [],
    highestDemand: null,
  };
  const moments = thinned(records.flatMap((record, ride) => momentsOf(record, ride, fixed, losses)));
  const throttled = moments.filter(({ demand }) => demand > LEAST_DEMAND);
  if (throttled.length >= LEAST_MOMENTS) {
    const base = byThrottle(throttled, none, priors, fixed, losses);
    return { ...base, levels: levelsOf(records, base, fixed) };
  }
  return fitPedals(records, none, fixed, losses) ?? { ...none, levels: levelsOf(records, none, fixed) };
}

function byThrottle(
  moments: readonly Moment[],
  none: CommandFit,
  priors: Priors,
  fixed: FixedOfBike,
  losses: DriveLosses,
): CommandFit {
  const highestDemand = moments.reduce((most, { demand }) => Math.max(most, demand), 0);
  const current = constantOf(moments, ({ currentA, demand }) => currentA / demand);
  const capA = sampleQuantile(
    moments.map(({ currentA }) => currentA),
    0.99,
  );
  const misfit = (predicted: (moment: Moment) => number): number =>
    median(moments.map((moment) => Math.abs(predicted(moment) - moment.currentA))) ?? Infinity;
  const pullAt = (m: Moment): number => pullOfPower(m.powerW, m.speedMps, losses.idlePower, m.copperLoss);
  const currentFor = (m: Moment, forceN: number): number =>
    powerOfPull(Math.max(0, forceN), m.speedMps, losses.idlePower, m.copperLoss) / m.voltageV;
  const free = moments.filter(({ currentA }) => currentA < 0.95 * capA);
  const force = constantOf(free.length > LEAST_MOMENTS ? free : moments, (m) => pullAt(m) / m.demand);
  // Voltage: F = (d·v₀·V/Vₙ − v)/k; v₀ from each moment, since k is known from the losses.
  const voltage = constantOf(
    free.length > LEAST_MOMENTS ? free : moments,
    (m) => ((m.speedMps + m.copperLoss * pullAt(m)) * fixed.nominalVoltageV) / (m.voltageV * m.demand),
  );
  const byCurrent = misfit(({ demand }) => current.value * demand);
  const byForce = misfit((m) => Math.min(capA, currentFor(m, force.value * m.demand)));
  const byVoltage = misfit((m) =>
    Math.min(
      capA,
      currentFor(m, (m.demand * voltage.value * (m.voltageV / fixed.nominalVoltageV) - m.speedMps) / m.copperLoss),
    ),
  );
  const law: CommandLaw =
    byCurrent <= byForce && byCurrent <= byVoltage ? 'current' : byForce <= byVoltage ? 'force' : 'voltage';
  const cap: Learnt =
    none.fullCurrent.from === 'data'
      ? none.fullCurrent
      : reachedAtLeast({ ...priors.fullCurrent, from: 'prior' }, capA);
  const middle = (of: (moment: Moment) => number): number =>
    median((law === 'current' ? moments : free).map(of)) ?? NaN;
  const seenAt = { demand: middle(({ demand }) => demand), speedMps: middle(({ speedMps }) => speedMps), powerW: NaN };
  const usualN =
    law === 'voltage'
      ? (seenAt.demand * voltage.value - seenAt.speedMps) / losses.copperLoss
      : seenAt.demand * force.value;
  seenAt.powerW = powerOfPull(Math.max(0, usualN), seenAt.speedMps, losses.idlePower, losses.copperLoss);
  return {
    ...none,
    law,
    ...(law !== 'current' && usualN > 0 && { seenAt }),
    fullCurrent: law === 'current' ? current : cap,
    // What was pulled was not beyond the limit.
    fullForce: law === 'force' ? force : reachedAtLeast(none.fullForce, sampleQuantile(moments.map(pullAt), 0.99)),
    noLoadSpeed:
      law === 'voltage'
        ? voltage
        : noLoad(
            moments,
            none.noLoadSpeed,
            fixed,
            pullAt,
            law === 'current'
              ? ({ demand }) => current.value * demand
              : (m) => Math.min(capA, currentFor(m, force.value * m.demand)),
          ),
    highestDemand,
  };
}

/**
 * Pull or free speed at full order for other losses than those it was learned with: the power that was drawn at the usual moment stays, since
 * it was logged. As a factor on what was learned; 1 where the order is for current.
 */
export function factorForLosses(
  { law, seenAt, fullForce, noLoadSpeed }: CommandFit,
  { copperLoss, idlePower }: Pick<DriveLosses, 'copperLoss' | 'idlePower'>,
): number {
  if (!seenAt) return 1;
  const pull = pullOfPower(seenAt.powerW, seenAt.speedMps, idlePower, copperLoss);
  return law === 'force'
    ? pull / seenAt.demand / fullForce.value
    : law === 'voltage'
      ? (seenAt.speedMps + copperLoss * pull) / seenAt.demand / noLoadSpeed.value
      : 1;
}

/**
 * Where the motor runs out of voltage: F = (v₀·V/Vₙ − v)/k at moments when less was drawn than ordered. Without such moments v₀ lies beyond
 * the fastest at which it still pulled.
 */
function noLoad(
  moments: readonly Moment[],
  prior: Learnt,
  { nominalVoltageV, isGeared }: FixedOfBike,
  pullAt: (m: Moment) => number,
  expectedA: (m: Moment) => number,
): Learnt {
  // Behind gears the motor's own speed hardly changes: it does not run out of voltage by the bike's.
  if (isGeared) return prior;
  const free = (m: Moment): number => ((m.speedMps + m.copperLoss * pullAt(m)) * nominalVoltageV) / m.voltageV;
  const pulling = moments.filter((m) => pullAt(m) > 2);
  const fastest = sampleQuantile(
    pulling.map(({ speedMps }) => speedMps),
    0.99,
  );
  const short = pulling.filter((m) => m.currentA < SHORT_SHARE * expectedA(m) && m.speedMps > FAST_SHARE * fastest);
  if (short.length < LEAST_SHORT) {
    return reachedAtLeast(
      prior,
      pulling.reduce((most, m) => Math.max(most, free(m)), 0),
    );
  }
  const found = short.map(free);
  const value = median(found)!;
  const scatter = (sampleQuantile(found, 0.84) - sampleQuantile(found, 0.16)) / 2 / value;
  // Neighbouring moments are one: some five independent ones at the most.
  return { value, sd: Math.hypot(0.006, scatter / Math.sqrt(Math.min(5, short.length / LEAST_SHORT))), from: 'data' };
}

/** A limit that nothing ran into yet: as it was thought, but beyond what was reached. */
function reachedAtLeast(prior: Learnt, reached: number): Learnt {
  return { ...prior, value: Math.max(prior.value, 1.1 * reached), atLeast: reached };
}

/** A robust constant with the scatter between rides; with one ride the doubt about a setting is what is usual. */
function constantOf(moments: readonly Moment[], of: (moment: Moment) => number): Learnt {
  const all = moments.map(of).filter((value) => value > 0);
  const value = median(all) ?? NaN;
  const rides = [...new Set(moments.map(({ ride }) => ride))];
  const logs = rides.flatMap((ride) => {
    const own = moments
      .filter((m) => m.ride === ride)
      .map(of)
      .filter((x) => x > 0);
    return own.length >= 10 ? [Math.log(median(own)! / value)] : [];
  });
  const scatter = logs.length > 1 ? Math.sqrt(logs.reduce((sum, x) => sum + x * x, 0) / (logs.length - 1)) : 0.03;
  return { value, sd: Math.hypot(scatter, SETTING_SCATTER), from: 'data' };
}

function momentsOf(record: RideRecord, ride: number, fixed: FixedOfBike, losses: DriveLosses): Moment[] {
  const { count, throttle, speedMps, powerW, currentA, voltageV, isBraking, motorC } = record;
  const moments: Moment[] = [];
  for (let k = 1; k + 1 < count; k++) {
    const demand = throttle[k]!;
    const steady = Math.abs(throttle[k + 1]! - throttle[k - 1]!) < 0.05;
    if (!(demand > 0) || !steady || isBraking[k] || !(powerW[k]! > 0) || !(voltageV[k]! > 5)) continue;
    if (!(speedMps[k]! > 0.5) || speedMps[k]! > (fixed.speedLimitMps ?? Infinity) - 1) continue;
    moments.push({
      ride,
      demand,
      speedMps: speedMps[k]!,
      powerW: powerW[k]!,
      currentA: Number.isNaN(currentA[k]!) ? powerW[k]! / voltageV[k]! : currentA[k]!,
      voltageV: voltageV[k]!,
      copperLoss: copperAt(losses, speedMps[k]!, motorC[k]!),
    });
  }
  return moments;
}

/** By the display's level: current while help was clearly on and its end far, as a share of full help. */
function levelsOf(
  records: readonly RideRecord[],
  { fullCurrent }: CommandFit,
  fixed: FixedOfBike,
): CommandFit['levels'] {
  const seen = new Map<number, number[]>();
  for (const { count, level, currentA, speedMps } of records)
    for (let k = 0; k < count; k++) {
      const at = level[k]!;
      const current = currentA[k]!;
      if (!(at > 0) || !(current > 0.08 * fullCurrent.value) || speedMps[k]! > (fixed.speedLimitMps ?? Infinity) - 1)
        continue;
      const key = Math.round(at);
      const shares = seen.get(key) ?? [];
      if (shares.length === 0) seen.set(key, shares);
      shares.push(current / fullCurrent.value);
    }
  return [...seen]
    .filter(([, shares]) => shares.length >= LEAST_MOMENTS)
    .sort(([a], [b]) => a - b)
    .map(([level, shares]) => ({
      level,
      demand: Math.min(1, sampleQuantile(shares, 0.75)),
      sd: Math.max(0.03, (sampleQuantile(shares, 0.85) - sampleQuantile(shares, 0.5)) / 2),
      seconds: shares.length,
    }));
}

/**
 * A limit without a throttle in the log, of current or of pull: what the rides run into again and again is the limit; else it lies somewhere
 * beyond the most that was seen.
 */
function limitSeen(drawn: readonly number[], prior: Learnt): Learnt {
  if (drawn.length < LEAST_MOMENTS) return prior;
  const most = sampleQuantile(drawn, 0.995);
  const close = drawn.filter((value) => value > LIMIT_SHARE * most);
  if (close.length >= LEAST_MOMENTS && close.length > LIMIT_HELD * drawn.length)
    // Far below what is stated, it is the limit of a level: full help was not asked for.
    return prior.sd <= STATED_SD && median(close)! < LEVEL_SHARE * prior.value
      ? prior
      : { value: median(close)!, sd: 0.04, from: 'data' };
  return reachedAtLeast(prior, most);
}

function currentsOf(records: readonly RideRecord[]): number[] {
  return records.flatMap(({ currentA }) => Array.from(currentA).filter((value) => value > 1));
}

/** Pulls in full seconds of help, N at the tyre. */
function pullsOf(records: readonly RideRecord[], fixed: FixedOfBike, losses: DriveLosses): number[] {
  return records.flatMap(({ count, powerW, speedMps, motorC, isBraking }) => {
    const pulls: number[] = [];
    for (let k = 0; k < count; k++) {
      if (
        !(powerW[k]! > 20) ||
        !(speedMps[k]! > 1) ||
        isBraking[k] ||
        speedMps[k]! > (fixed.speedLimitMps ?? Infinity) - 1
      )
        continue;
      pulls.push(pullOfPower(powerW[k]!, speedMps[k]!, losses.idlePower, copperAt(losses, speedMps[k]!, motorC[k]!)));
    }
    return pulls;
  });
}

function thinned(moments: readonly Moment[]): readonly Moment[] {
  const every = Math.max(1, Math.ceil(moments.length / MOST_MOMENTS));
  return every === 1 ? moments : moments.filter((_, k) => k % every === 0);
}
