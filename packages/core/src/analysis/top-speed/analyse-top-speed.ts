import type { CleanLog } from '../../logs/index.js';
import { findRoot } from '../../numeric/index.js';
import { fitLocalLines } from '../../signal/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import {
  derivationNumber as num,
  fromLimit,
  makeFigure,
  type Contribution,
  type Figure,
  type Warn,
} from '../figure.js';
import { directionsOf } from '../directions.js';
import { curveOf, givenSpans, type Chart, type Span } from '../findings.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { assistEnds } from '../assist-response/assist-ends.js';
import { electricalPower, firstAtOrAfter } from '../range/ride-integrals.js';
import { airDensityOf, type TestContext } from '../test-context.js';
import { meanOfSpan } from '../uneven-scatter.js';
import { wheelCircumference } from '../contributions.js';

export interface SpeedPass {
  readonly direction: 1 | -1;
  readonly startS: number;
  readonly endS: number;
  /** The steady window the speed is taken from. */
  readonly fromS: number;
  readonly toS: number;
  /** km/h, with its standard uncertainty from scatter alone. */
  readonly steadySpeed: number;
  readonly scatterKmh: number;
  /** How far the best window lies above those like it, km/h. */
  readonly choiceKmh: number;
  readonly powerW: number | null;
}
export interface TopSpeedResult {
  readonly passes: readonly SpeedPass[];
  readonly charts: readonly Chart[];
  readonly figures: readonly Figure[];
}

/** Between two passes the bike is slower than this share of its top speed. */
const APART_SHARE = 0.5;
const WINDOW_S = 5;
const STEADY_MPS2 = 0.12;
const SLOPE_WINDOW_S = 6;
const MIN_PASS_S = 8;
/** Steady windows this near the best one are taken for the same speed. */
const NEAR_SHARE = 0.01;

/**
 * Top speed of passes over a level strip: `twoWayTopSpeed` and `stillAirTopSpeed`, km/h; `assistEnds` where the power fades.
 *
 * Method: a pass is where the speed stays above half of the highest; its speed is the highest mean over 5 s in which the
 * speed changes by less than 0.12 m/s². The two-way speed is the mean of the directions' means, which leaves a bias of
 * about w²/v. Still air: wind and drive force are those that make both directions' speeds fit their measured powers
 * (½ρC_dA(v ± w)² + rolling = η·P/v); between the two speeds the drive force is linear, and meets the force in still air.
 * Directions: as set or noted, else by positions, else taken in turns, which is said. Windows that a tester set are taken as they are.
 */
export function analyseTopSpeed(log: CleanLog, context: TestContext, warn: Warn): TopSpeedResult {
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const { speed } = log.channels;
  if (!speed || !log.hasClock) {
    warn('no-speed', 'Top speed needs the speed over time; this log has none.');
    return { passes: [], charts: [], figures: [] };
  }
  const power = electricalPower(log.channels)?.powerW;
  const given = givenSpans(log, context.spans, 'pass');
  const found = given ?? findPasses(log.timeS, speed);
  const directions = directionsOf(log, found, context.directions);
  const passes = found.flatMap(({ from, to }, k, all): SpeedPass[] => {
    const window = given ? { first: from, last: to, choiceMps: 0 } : steadiest(log.timeS, speed, from, to);
    const mean = window && meanOfSpan(speed.subarray(window.first, window.last + 1));
    if (!window || !mean) return [];
    const watts = power && meanOfSpan(power.subarray(window.first, window.last + 1));
    return [
      {
        direction: directions.of[k]!,
        // A pass begins where the one before ended: between them the bike turns.
        startS: k === 0 ? log.timeS[0]! : log.timeS[all[k - 1]!.to]!,
        endS: log.timeS[to]!,
        fromS: log.timeS[window.first]!,
        toS: log.timeS[window.last]!,
        steadySpeed: mean.mean * 3.6,
        scatterKmh: mean.standardError * 3.6,
        choiceKmh: window.choiceMps * 3.6,
        powerW: watts?.mean ?? null,
      },
    ];
  });
  if (passes.length === 0) {
    warn('no-pass', 'No pass at a steady top speed of 5 s is in this log.');
    return { passes, charts: [], figures: [] };
  }
  if (directions.isInTurns)
    warn('directions-in-turns', 'Nothing shows the direction of the passes: they are assumed to alternate.');
  const there = passes.filter(({ direction }) => direction === 1);
  const back = passes.filter(({ direction }) => direction === -1);
  if (there.length === 0 || back.length === 0) {
    warn('one-direction', 'Passes in one direction only: wind and slope stay in them. Ride both directions.');
    return { passes, charts: [chartOf(log, speed, passes, [])], figures: [] };
  }
  const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
  const [v1, v2] = [
    mean(there.map(({ steadySpeed }) => steadySpeed)),
    mean(back.map(({ steadySpeed }) => steadySpeed)),
  ];
  const value = (v1 + v2) / 2;
  const between = (group: readonly SpeedPass[]): number => {
    const centre = mean(group.map(({ steadySpeed }) => steadySpeed));
    return (
      group.reduce((sum, pass) => sum + (pass.steadySpeed - centre) ** 2, 0) /
      Math.max(1, group.length - 1) /
      group.length
    );
  };
  const degreesOfFreedom = there.length + back.length - 2;
  const contributions: Contribution[] = [
    {
      source: 'scatter within the windows',
      standardUncertainty: Math.hypot(...passes.map(({ scatterKmh }) => scatterKmh)) / passes.length,
    },
    // The highest of many means lies a little high, in every pass.
    {
      source: 'choice of the best 5 s',
      standardUncertainty: mean(passes.map(({ choiceKmh }) => choiceKmh)),
    },
    ...(degreesOfFreedom > 0
      ? [
          {
            source: 'scatter between passes',
            standardUncertainty: Math.sqrt(between(there) + between(back)) / 2,
            degreesOfFreedom,
          },
        ]
      : []),
    wheelCircumference(instrument, value),
  ];
  const span = { fromS: passes[0]!.fromS, toS: passes.at(-1)!.toS };
  const figures = [
    makeFigure({
      key: 'twoWayTopSpeed',
      label: 'Two-way top speed',
      value,
      unit: 'km/h',
      n: passes.length,
      contributions,
      formula: 'mean of the two directions’ means',
      substituted: `(${num(v1)} + ${num(v2)}) ÷ 2 = ${num(value)} km/h`,
      inputs: ['speed'],
      ...span,
    }),
  ];
  const still = stillAir(there, back, context, warn);
  if (still !== undefined)
    figures.push(
      makeFigure({
        key: 'stillAirTopSpeed',
        label: 'Top speed in still air',
        value: still,
        unit: 'km/h',
        n: passes.length,
        contributions: [
          ...contributions,
          // The bias taken out rests on mass, drag and powers that are known to some per cent.
          { source: 'model of the wind', standardUncertainty: fromLimit(0.5 * Math.abs(value - still)) },
        ],
        formula: 'speed at which the drive force meets rolling and air without wind',
        substituted: `${num(value)} km/h − ${num(value - still)} km/h for the wind`,
        inputs: ['speed', 'power', 'mass', 'drag area', 'rolling resistance', 'air density'],
        ...span,
      }),
    );
  const ends = power && endOfHelp(log, power, passes, context, warn);
  if (ends) figures.push(ends);
  return { passes, charts: [chartOf(log, speed, passes, figures)], figures };
}

const THROTTLE_ON = 0.05;

/** Where help ends, if the passes show it: from where each began until its end, while pedals or throttle ask for help. */
function endOfHelp(
  log: CleanLog,
  power: Float64Array,
  passes: readonly SpeedPass[],
  context: TestContext,
  warn: Warn,
): Figure | undefined {
  const { cadence, throttle } = log.channels;
  if (!cadence && !throttle) return undefined;
  const isOn = (k: number): boolean => (cadence?.[k] ?? 0) > 0 || (throttle?.[k] ?? 0) > THROTTLE_ON;
  const spans = passes.map(({ startS, endS }) => ({
    from: firstAtOrAfter(log.timeS, startS),
    to: firstAtOrAfter(log.timeS, endS),
  }));
  return assistEnds(log, power, isOn, spans, context, warn);
}

/** Shown before and after each steady window, s. */
const BEFORE_S = 25;
const AFTER_S = 5;

export function passSpans(passes: readonly SpeedPass[]): Span[] {
  return passes.map(({ direction, fromS, toS }, k) => ({
    kind: 'pass',
    fromS,
    toS,
    direction,
    label: `Pass ${k + 1}, ${direction === 1 ? 'there' : 'back'}`,
  }));
}

/** What the lines across are called beside the picture, where the label of their figure is long. */
const LINE_NAMES: Readonly<Record<string, string>> = {
  twoWayTopSpeed: 'Two-way mean',
  stillAirTopSpeed: 'In still air',
  assistEnds: 'Assist ends',
};

/** Speed of all passes over the time from the start of their steady windows. */
function chartOf(
  { timeS }: CleanLog,
  speed: Float64Array,
  passes: readonly SpeedPass[],
  figures: readonly Figure[],
): Chart {
  return {
    key: 'passes',
    title: 'Speed of the passes, from where each is steady',
    x: { label: 'Time from the start of the steady window', unit: 's' },
    y: { label: 'Speed', unit: 'km/h' },
    series: passSpans(passes).map(({ label, fromS, toS }) => ({
      label,
      drawAs: 'line',
      ...curveOf(
        (k) => timeS[k]! - fromS,
        (k) => speed[k]! * 3.6,
        firstAtOrAfter(timeS, fromS - BEFORE_S),
        firstAtOrAfter(timeS, toS + AFTER_S) - 1,
      ),
    })),
    lines: figures.map(({ key, value, label }) => ({ axis: 'y', at: value, label: LINE_NAMES[key] ?? label })),
  };
}

function findPasses(timeS: Float64Array, speed: Float64Array): { from: number; to: number }[] {
  const sorted = speed.filter((v) => !Number.isNaN(v)).sort();
  const top = sorted[Math.floor(0.98 * (sorted.length - 1))] ?? 0;
  if (!(top > 1)) return [];
  const passes: { from: number; to: number }[] = [];
  let from = -1;
  let last = -1;
  for (let k = 0; k < speed.length; k++) {
    if (Number.isNaN(speed[k]!)) continue;
    if (speed[k]! > APART_SHARE * top) {
      if (from < 0) from = k;
      last = k;
    } else if (from >= 0) {
      passes.push({ from, to: last });
      from = -1;
    }
  }
  if (from >= 0) passes.push({ from, to: last });
  return passes.filter((pass) => timeS[pass.to]! - timeS[pass.from]! >= MIN_PASS_S);
}

/**
 * First and last sample of the steady 5 s with the highest mean, and how far that lies above the mean of all that come
 * near it, m/s: the highest of many means of a speed that wavers lies above what the bike holds.
 */
function steadiest(
  timeS: Float64Array,
  speed: Float64Array,
  from: number,
  to: number,
): { first: number; last: number; choiceMps: number } | undefined {
  const kept: number[] = [];
  for (let k = from; k <= to; k++) if (!Number.isNaN(speed[k]!)) kept.push(k);
  const times = kept.map((k) => timeS[k]!);
  const { slope } = fitLocalLines(
    times,
    kept.map((k) => speed[k]!),
    SLOPE_WINDOW_S,
  );
  let best: { first: number; last: number } | undefined;
  const means: number[] = [];
  let highest = -Infinity;
  let sum = 0;
  let start = 0;
  for (let end = 0; end < kept.length; end++) {
    sum += speed[kept[end]!]!;
    while (times[end]! - times[start]! > WINDOW_S + 1e-9) sum -= speed[kept[start++]!]!;
    const isFull = times[end]! - times[start]! >= 0.9 * WINDOW_S;
    const middle = (start + end) >> 1;
    if (!isFull || Math.abs(slope[middle]!) >= STEADY_MPS2) continue;
    const mean = sum / (end - start + 1);
    means.push(mean);
    if (mean > highest) {
      highest = mean;
      best = { first: kept[start]!, last: kept[end]! };
    }
  }
  if (!best) return undefined;
  const near = means.filter((mean) => mean >= (1 - NEAR_SHARE) * highest);
  return { ...best, choiceMps: highest - near.reduce((total, mean) => total + mean, 0) / near.length };
}

function stillAir(
  there: readonly SpeedPass[],
  back: readonly SpeedPass[],
  context: TestContext,
  warn: Warn,
): number | undefined {
  const { totalMassKg, cdaM2, crr } = context;
  const density = airDensityOf(context);
  if (totalMassKg === undefined || cdaM2 === undefined || crr === undefined || density === undefined) {
    warn(
      'no-still-air',
      'Top speed in still air needs mass, drag area, rolling resistance and air: add what is missing on the bench.',
    );
    return undefined;
  }
  const mean = (values: readonly number[]): number => values.reduce((sum, one) => sum + one, 0) / values.length;
  const v1 = mean(there.map(({ steadySpeed }) => steadySpeed)) / 3.6;
  const v2 = mean(back.map(({ steadySpeed }) => steadySpeed)) / 3.6;
  const powers = [there, back].map((group) => {
    const known = group.flatMap(({ powerW }) => powerW ?? []);
    return known.length === group.length ? mean(known) : undefined;
  });
  const [p1, p2] = [powers[0] ?? 1, powers[1] ?? 1];
  if (powers.includes(undefined))
    warn('no-power', 'Without power in the log both directions are taken to be ridden with the same.');
  const rolling = totalMassKg * STANDARD_GRAVITY_MPS2 * crr;
  const force = (v: number, w: number): number => 0.5 * density * cdaM2 * (v + w) * Math.abs(v + w) + rolling;
  // Same efficiency both ways: the ratio of forces is that of P/v.
  const imbalance = (w: number): number => (force(v1, w) * v1) / p1 - (force(v2, -w) * v2) / p2;
  const reach = 0.9 * Math.min(v1, v2);
  if (imbalance(-reach) > 0 === imbalance(reach) > 0) {
    warn(
      'no-still-air',
      'The speeds of the two directions do not fit any wind with these powers: no speed in still air.',
    );
    return undefined;
  }
  const wind = findRoot(imbalance, -reach, reach, 1e-9);
  const [f1, f2] = [force(v1, wind), force(v2, -wind)];
  // Nearly the same speeds: the force hardly changes, and the level of it is all there is.
  const slope = Math.abs(v2 - v1) < 1e-6 ? 0 : (f2 - f1) / (v2 - v1);
  const drive = (v: number): number => f1 + slope * (v - v1);
  const centre = (v1 + v2) / 2;
  const difference = (v: number): number => drive(v) - force(v, 0);
  const [low, high] = [0.7 * centre, 1.3 * centre];
  if (difference(low) > 0 === difference(high) > 0) return undefined;
  return 3.6 * findRoot(difference, low, high, 1e-9);
}
