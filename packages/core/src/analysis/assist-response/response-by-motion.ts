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
import { alongBike, type AlongBike, type NotAlong } from '../motion/along-bike.js';
import { meanWithin } from '../motion/mean-within.js';
import type { TestContext } from '../test-context.js';
import {
  standstillBefore,
  startAt,
  startsOf,
  stopsOf,
  EDGE_LIMIT_S,
  EDGE_S,
  type FeltStart,
  type FeltStop,
} from './felt-starts.js';
import type { ResponseResult } from './response-result.js';
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

/** A push is a straight ramp only nearly, s. */
const RAMP_LIMIT_S = 0.08;
/** A phone's sensor is so far out at most, of what it shows. */
const SENSOR_GAIN = 0.02;

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
  const set = givenSpans(log, context.spans, 'start')?.map(({ from }) =>
    standstillBefore(along.value, log.timeS[from]!),
  );
  const starts = (set ?? startsOf(along.value)).flatMap((stood) => startAt(along.value, push, stood) ?? []);
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
        {
          source: 'delay of the speed',
          standardUncertainty: fromLimit(delayLimitS(along.value.speedDelayS)),
          isSystematic: true,
        },
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

/** The receiver's own filter: what is left of it after both were put together, s; more where it filters for long. */
const delayLimitS = (delayS: number): number => 0.1 + 0.15 * Math.max(0, delayS - 1);
/** What slope and sensor leave in an offset, m/s². */
const OFFSET_ERROR_MPS2 = 0.06;

const middleOrNought = (values: readonly number[]): number => (values.length === 0 ? 0 : middleOf(values, 0).value);

function toEvent({
  startS,
  endS,
  time0to20,
  time0to25,
  paceAt20,
  paceAt25,
  peakAcceleration,
}: FeltStart): ResponseEvent {
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
  starts: readonly FeltStart[],
  stops: readonly FeltStop[],
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
