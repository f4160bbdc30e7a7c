import type { CleanLog, Motion } from '../../logs/index.js';
import { firstAtOrAfter } from '../../numeric/index.js';
import {
  derivationNumber as num,
  fromLimit,
  makeFigure,
  type Contribution,
  type Figure,
  type Warn,
} from '../figure.js';
import { curveOf, givenSpans, type Chart } from '../findings.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { fitRamp } from '../motion/fit-ramp.js';
import { alongBike, type AlongBike, type NotAlong } from '../motion/along-bike.js';
import { meanWithin } from '../motion/mean-within.js';
import type { TestContext } from '../test-context.js';
import type { ResponseResult } from './analyse-response.js';
import type { ResponseEvent } from './find-starts.js';
import { middleOf } from './middle-of-starts.js';

/** Reasons in words, for whoever mounted it. */
export const NOT_ALONG: Readonly<Record<NotAlong, string>> = {
  'no-speed':
    'What the phone felt needs a speed beside it (position, or a wheel sensor), to tell forwards from sideways.',
  'no-gravity':
    'What the phone felt is not 1 g at rest: this sensor leaves gravity out or counts in another unit, and up is not known.',
  'moved-in-its-mount':
    'The phone turned in its mount during the ride: what it felt cannot be put along the bike. Mount it firmly.',
  'speed-hardly-changed':
    'The speed changed too little for finding how the phone is mounted: a few starts and stops on the ride tell it.',
};

const STANDING_MPS = 0.7;
const RIDING_MPS = 2.5;
/** Standing for so long before it, a start is one, s. */
const QUIET_S = 1.2;
const LOOKED_BACK_S = 3;
/** What is felt is taken over this long, s: shaking goes, an edge stays. */
const EDGE_S = 0.2;
/** Where in a push that grows its beginning is said to be, s. */
const EDGE_LIMIT_S = 0.15;
const RAMP_LIMIT_S = 0.08;
const PUSH_WITHIN_S = 5;
const STOP_FROM_MPS = 10 / 3.6;
const STOP_TO_MPS = 3 / 3.6;
/** Slower than this is rolling out, not braking, m/s². */
const LEAST_BRAKING_MPS2 = 1;
const BRAKE_BITES_MPS2 = 0.5;
/** A phone's sensor is so far out at most, of what it shows. */
const SENSOR_GAIN = 0.02;

interface Start {
  readonly startS: number;
  readonly endS: number;
  readonly time0to20: number | null;
  readonly time0to25: number | null;
  readonly paceAt20: number | null;
  readonly paceAt25: number | null;
  readonly speedError: number;
  readonly peakAcceleration: number;
  readonly pushRise: number;
  readonly startErrorS: number;
  readonly riseErrorS: number;
}
interface Stop {
  readonly fromS: number;
  readonly toS: number;
  readonly mps2: number;
  readonly errorMps2: number;
}

/**
 * What a phone on the bike tells of starting and stopping: `time0to20`, `time0to25` s, `peakAcceleration` m/s² over one second,
 * `pushRise` (10–90 % of the push) s, `deceleration` m/s² from where a brake bites to 3 km/h; medians over all.
 *
 * Method: what was felt along the bike (motion/along-bike.ts). A start follows a second of standing; it begins where the ramp begins that
 * the push rises by (motion/fit-ramp.ts). When pedalling began is not felt: the delay of the assist is refused.
 */
export function responseByMotion(log: CleanLog, motion: Motion, context: TestContext, warn: Warn): ResponseResult {
  const nothing: ResponseResult = { events: [], charts: [], figures: [] };
  const along = alongBike(motion, log);
  if (!along.ok) {
    warn(along.reason, NOT_ALONG[along.reason]);
    return nothing;
  }
  if (along.value.stepS > 0.1 + 1e-9) {
    warn(
      'too-slow',
      `Assist response needs at least 10 samples a second; what was felt came ${num(1 / along.value.stepS)} times a second.`,
    );
    return nothing;
  }
  const { timeS } = along.value;
  const push = meanWithin(timeS, along.value.accelerationMps2, EDGE_S);
  const set = givenSpans(log, context.spans, 'start')?.map(({ from }) => log.timeS[from]!);
  const starts = (set ?? startsOf(along.value)).flatMap((atS) => startAt(along.value, push, atS) ?? []);
  const stops = stopsOf(along.value, push);
  warn(
    'delay-not-felt',
    'When pedalling began is not in this log: a phone feels the push, not the pedals. The delay of the assist and its run-on need a logger with cadence and current, ten times a second or faster.',
  );
  if (starts.length === 0)
    warn('no-start', 'No start is in this log: stand still for two seconds, then ride away, and again.');
  const gain = { ...DEFAULT_INSTRUMENT, ...context.instrument }.distanceGain;
  const angle = (along.value.angleErrorDeg * Math.PI) / 180;
  const figures: Figure[] = [];
  const put = (
    key: string,
    label: string,
    unit: Figure['unit'],
    formula: string,
    values: readonly number[],
    own: number,
    common: readonly Contribution[],
    [fromS, toS]: readonly [number, number],
  ): void => {
    if (values.length === 0) return;
    const { value, scatter } = middleOf(values, own);
    figures.push(
      makeFigure({
        key,
        label,
        value,
        unit,
        n: values.length,
        contributions: [{ source: 'scatter, and what one of them leaves open', ...scatter }, ...common],
        formula: `median over ${values.length} of: ${formula}`,
        substituted: values.map(num).join(', '),
        inputs: ['acceleration', 'speed'],
        fromS,
        toS,
      }),
    );
  };
  const within: readonly [number, number] = [starts[0]?.startS ?? 0, starts.at(-1)?.endS ?? 0];
  const edge: Contribution = {
    source: 'where a push begins',
    standardUncertainty: fromLimit(EDGE_LIMIT_S),
    isSystematic: true,
  };
  const startError = middleOrNought(starts.map(({ startErrorS }) => startErrorS));
  for (const [key, pace, kmh] of [
    ['time0to20', 'paceAt20', 20],
    ['time0to25', 'paceAt25', 25],
  ] as const) {
    const reached = starts.filter((start) => start[key] !== null && start[pace]! > 0);
    const paceMps2 = middleOrNought(reached.map((start) => start[pace]!));
    const error = middleOrNought(reached.map(({ speedError }) => speedError));
    put(
      key,
      `From 0 to ${kmh} km/h`,
      's',
      `speed reaches ${kmh} km/h − push begins`,
      reached.map((start) => start[key]!),
      Math.hypot(error / Math.max(0.05, paceMps2), startError),
      [
        edge,
        {
          source: 'gain of the speed',
          standardUncertainty: fromLimit((gain * (kmh / 3.6)) / Math.max(0.05, paceMps2)),
          isSystematic: true,
        },
        { source: 'delay of the speed', standardUncertainty: fromLimit(DELAY_LIMIT_S), isSystematic: true },
      ],
      within,
    );
  }
  const peaks = starts.map(({ peakAcceleration }) => peakAcceleration);
  const peak = middleOrNought(peaks);
  const ofSensor = (value: number): Contribution[] => [
    { source: 'gain of the sensor', standardUncertainty: fromLimit(SENSOR_GAIN * value), isSystematic: true },
    // Beside the true direction less is felt: a loss by the cosine, and some of what is across.
    {
      source: 'direction of the mount',
      standardUncertainty: value * (angle * angle + 0.1 * angle),
      isSystematic: true,
    },
  ];
  put(
    'peakAcceleration',
    'Peak acceleration',
    'm/s²',
    'greatest mean over 1 s of what was felt forwards',
    peaks,
    Math.hypot(OFFSET_ERROR_MPS2, along.value.shakingMps2),
    [
      ...ofSensor(peak),
      // The greatest of many means is greater than what they waver about.
      {
        source: 'choice of the greatest second',
        standardUncertainty: fromLimit(along.value.shakingMps2 + 0.02 * peak),
        isSystematic: true,
      },
    ],
    within,
  );
  put(
    'pushRise',
    'Push rises, 10 to 90 %',
    's',
    '0.8 × length of the ramp that the push rises by',
    starts.map(({ pushRise }) => pushRise),
    middleOrNought(starts.map(({ riseErrorS }) => riseErrorS)),
    [{ source: 'a push that is no straight ramp', standardUncertainty: fromLimit(RAMP_LIMIT_S), isSystematic: true }],
    within,
  );
  const braking = stops.map(({ mps2 }) => mps2);
  put(
    'deceleration',
    'Braking',
    'm/s²',
    '(speed where the brake bites − 3 km/h) ÷ time between',
    braking,
    middleOrNought(stops.map(({ errorMps2 }) => errorMps2)),
    [
      {
        source: 'gain of the speed',
        standardUncertainty: fromLimit(gain * middleOrNought(braking)),
        isSystematic: true,
      },
      ...ofSensor(middleOrNought(braking)),
    ],
    [stops[0]?.fromS ?? 0, stops.at(-1)?.toS ?? 0],
  );
  return { events: starts.map(toEvent), charts: charts(along.value, push, starts, stops), figures };
}

/** The receiver's own filter: what is left of it after both were put together, s. */
const DELAY_LIMIT_S = 0.1;
/** What slope and sensor leave in an offset, m/s². */
const OFFSET_ERROR_MPS2 = 0.06;

const middleOrNought = (values: readonly number[]): number => (values.length === 0 ? 0 : middleOf(values, 0).value);

/** Moments at which the bike leaves a standstill for good. */
function startsOf({ timeS, speedMps }: AlongBike): number[] {
  const starts: number[] = [];
  let [stoodFromS, leftS] = [NaN, NaN];
  for (let k = 0; k < timeS.length; k++) {
    const [t, v] = [timeS[k]!, speedMps[k]!];
    if (v < STANDING_MPS) {
      if (Number.isNaN(stoodFromS)) stoodFromS = t;
      leftS = t;
    } else if (v >= RIDING_MPS) {
      if (leftS - stoodFromS >= QUIET_S) starts.push(leftS);
      stoodFromS = NaN;
    }
  }
  return starts;
}

function startAt(along: AlongBike, push: Float64Array, leftS: number): Start | undefined {
  const { timeS, speedMps, speedErrorMps } = along;
  const at = (t: number): number => firstAtOrAfter(timeS, t);
  const [quietFrom, quietTo] = [at(leftS - LOOKED_BACK_S), at(leftS - 1)];
  if (quietTo - quietFrom < 5) return undefined;
  const quiet = push.subarray(quietFrom, quietTo);
  const base = quiet.reduce((sum, one) => sum + one, 0) / quiet.length;
  const points = binned(timeS, along.accelerationMps2, timeS[quietFrom]!, leftS + PUSH_WITHIN_S).map(
    ([t, value]) => [t, value - base] as const,
  );
  const ramp = fitRamp(
    points.map(([t]) => t),
    points.map(([, value]) => value),
    leftS - 1.5,
    leftS + 1,
  );
  if (!ramp) return undefined;
  const { startS } = ramp;
  const begins = at(startS);
  let to = begins;
  for (let k = begins; k < timeS.length && timeS[k]! - startS < LONGEST_START_S; k++) {
    if (timeS[k]! - startS > 2 && speedMps[k]! < STANDING_MPS) break;
    if (speedMps[k]! > speedMps[to]!) to = k;
  }
  const reach = (kmh: number): { s: number; pace: number; error: number } | null => {
    for (let k = begins; k <= to; k++)
      if (speedMps[k]! >= kmh / 3.6)
        return {
          s: timeS[k]! - startS,
          pace: meanBetween(push, at(timeS[k]! - 0.5), at(timeS[k]! + 0.5)),
          error: speedErrorMps[k]!,
        };
    return null;
  };
  const [to20, to25] = [reach(20), reach(25)];
  const second = meanWithin(timeS, along.accelerationMps2, 1);
  let peakAcceleration = 0;
  for (let k = begins; k <= to; k++) peakAcceleration = Math.max(peakAcceleration, second[k]!);
  return {
    startS,
    endS: timeS[to]!,
    time0to20: to20?.s ?? null,
    time0to25: to25?.s ?? null,
    paceAt20: to20?.pace ?? null,
    paceAt25: to25?.pace ?? null,
    speedError: (to25 ?? to20)?.error ?? 0,
    peakAcceleration,
    pushRise: 0.8 * ramp.lengthS,
    startErrorS: ramp.startErrorS,
    riseErrorS: 0.8 * ramp.lengthErrorS,
  };
}
const LONGEST_START_S = 40;

/** Means over a twentieth of a second. */
function binned(timeS: Float64Array, values: Float64Array, fromS: number, toS: number): [number, number][] {
  const points: [number, number][] = [];
  for (let k = firstAtOrAfter(timeS, fromS); k < timeS.length && timeS[k]! < toS;) {
    const beganS = timeS[k]!;
    let [total, count, times] = [0, 0, 0];
    for (; k < timeS.length && timeS[k]! - beganS < BIN_S; k++) {
      total += values[k]!;
      times += timeS[k]!;
      count++;
    }
    points.push([times / count, total / count]);
  }
  return points;
}
const BIN_S = 0.05;

function stopsOf({ timeS, speedMps, speedErrorMps }: AlongBike, push: Float64Array): Stop[] {
  const stops: Stop[] = [];
  let isFast = false;
  for (let k = 1; k < timeS.length; k++) {
    if (speedMps[k]! >= STOP_FROM_MPS) isFast = true;
    if (!isFast || speedMps[k]! >= STOP_TO_MPS) continue;
    isFast = false;
    let from = k;
    while (from > 0 && push[from]! < -BRAKE_BITES_MPS2) from--;
    const seconds = timeS[k]! - timeS[from]!;
    const mps2 = (speedMps[from]! - speedMps[k]!) / seconds;
    if (speedMps[from]! < STOP_FROM_MPS || !(mps2 >= LEAST_BRAKING_MPS2)) continue;
    const errorMps2 = Math.hypot(speedErrorMps[from]!, speedErrorMps[k]!, mps2 * fromLimit(EDGE_LIMIT_S)) / seconds;
    stops.push({ fromS: timeS[from]!, toS: timeS[k]!, mps2, errorMps2 });
  }
  return stops;
}

function meanBetween(values: Float64Array, from: number, to: number): number {
  let total = 0;
  for (let k = from; k < to; k++) total += values[k]!;
  return to > from ? total / (to - from) : NaN;
}

function toEvent({ startS, endS, time0to20, time0to25, paceAt20, paceAt25, peakAcceleration }: Start): ResponseEvent {
  return {
    startS,
    endS,
    lastPedalS: endS,
    latency: null,
    crankTurn: null,
    riseTime: null,
    overrun: null,
    overrunM: null,
    brakeCutoff: null,
    time0to20,
    time0to25,
    paceAt20,
    paceAt25,
    peakAcceleration,
    accelerationError: null,
    endsBy: 'end of the log',
  };
}

function charts(
  { timeS, speedMps }: AlongBike,
  push: Float64Array,
  starts: readonly Start[],
  stops: readonly Stop[],
): Chart[] {
  const overlay = (
    key: string,
    title: string,
    x: string,
    y: Chart['y'],
    series: readonly { readonly zeroS: number; readonly label: string }[],
    of: (k: number) => number,
    [beforeS, afterS]: readonly [number, number],
  ): Chart => ({
    key,
    title,
    x: { label: x, unit: 's' },
    y,
    series: series.map(({ zeroS, label }) => ({
      label,
      drawAs: 'line' as const,
      ...curveOf(
        (k) => timeS[k]! - zeroS,
        of,
        firstAtOrAfter(timeS, zeroS - beforeS),
        firstAtOrAfter(timeS, zeroS + afterS) - 1,
      ),
    })),
    lines: [],
  });
  return [
    overlay(
      'starts',
      'Push from the moment it begins',
      'Time from the start',
      { label: 'Acceleration', unit: 'm/s²' },
      starts.map(({ startS }, k) => ({ zeroS: startS, label: `Start ${k + 1}` })),
      (k) => push[k]!,
      [0.5, 6],
    ),
    overlay(
      'stops',
      'Speed from where the brake bites',
      'Time from there',
      { label: 'Speed', unit: 'km/h' },
      stops.map(({ fromS }, k) => ({ zeroS: fromS, label: `Stop ${k + 1}` })),
      (k) => 3.6 * speedMps[k]!,
      [0.5, 5],
    ),
  ].filter(({ series }) => series.length > 0);
}
