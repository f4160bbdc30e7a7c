import type { CleanLog } from '../../logs/index.js';
import { median } from '../../numeric/index.js';
import { fitLocalLines } from '../../signal/index.js';
import {
  derivationNumber as num,
  fromLimit,
  fromResolution,
  makeFigure,
  type Contribution,
  type Figure,
  type Warn,
} from '../figure.js';
import { curveOf, givenSpans, type Picture, type Span } from '../findings.js';
import { helpEnds, plateauOf } from './help-ends.js';
import { electricalPower, firstAtOrAfter } from '../range/ride-integrals.js';
import type { TestContext } from '../test-context.js';

/** One start under assistance and how it ended; null where the log does not show it. */
export interface ResponseEvent {
  /** Pedalling (or throttle) begins. */
  readonly startS: number;
  readonly endS: number;
  /** The last pedalling, which an edge of the start's stretch marks. */
  readonly lastPedalS: number;
  readonly latency: number | null;
  /** Degrees the crank turned before help came. */
  readonly crankTurn: number | null;
  readonly riseTime: number | null;
  readonly overrun: number | null;
  readonly overrunM: number | null;
  readonly brakeCutoff: number | null;
  readonly time0to20: number | null;
  readonly time0to25: number | null;
  readonly endsBy: 'pedalling stops' | 'brake' | 'end of the log';
}
export interface ResponseResult {
  readonly pictures: readonly Picture[];
  readonly events: readonly ResponseEvent[];
  readonly figures: readonly Figure[];
}

/** Slower logs cannot place an edge: a tenth of a second is what is asked about. */
const SLOWEST_STEP_S = 0.1;
const QUIET_BEFORE_S = 1;
const LEAST_ACTIVE_S = 1;
const NOISE_MULTIPLE = 5;
const OFF_SHARE = 0.05;
/** The plateau of a start is looked for in this time after pedalling begins. */
const PLATEAU_WITHIN_S = 6;
const STANDING_MPS = 0.5;
const SPEED_LINE_S = 0.3;
const GIVE_UP_S = 3;
const THROTTLE_ON = 0.05;
/** A crank sensor has magnets, a current sensor a filter: neither tells at once. */
const SENSOR_DELAY_S = 0.02;

/**
 * Assist response: per start `latency`, crank turn, `riseTime` (10–90 %), `overrun` after pedalling stops, `brakeCutoff`,
 * `time0to20`; over all starts their medians, and `assistEnds` km/h.
 *
 * Method: a start is where cadence (else throttle) begins after a second of quiet; help is there when the power exceeds
 * the quiet power by five of its standard deviations and 5 % of the start's plateau; it is gone below 5 % of the plateau.
 * Edges are placed to a sample: Δt/√12 each. Medians carry 1.253·s/√n of the scatter. Help ends where the power crosses
 * half of its plateau on a logistic curve over speed, fitted to means over 0.3 km/h of the faster samples under pedalling.
 * Refuses, by name, logs with fewer than 10 samples a second.
 */
export function analyseResponse(log: CleanLog, context: TestContext, warn: Warn): ResponseResult {
  const nothing: ResponseResult = { events: [], pictures: [], figures: [] };
  const { cadence, throttle, brake, speed } = log.channels;
  const drive = cadence ?? throttle;
  const power = electricalPower(log.channels)?.powerW;
  if (!log.hasClock || !drive || !power) {
    warn(
      'no-pedalling-or-power',
      'Assist response needs cadence or throttle, and voltage with current (or power); this log lacks one of them.',
    );
    return nothing;
  }
  const { medianStepS } = log.report;
  if (medianStepS > SLOWEST_STEP_S + 1e-9) {
    warn('too-slow', `Assist response needs at least 10 samples a second; this log has ${num(1 / medianStepS)}.`);
    return nothing;
  }
  const { timeS } = log;
  const isOn = (k: number): boolean => drive[k]! > (cadence ? 0 : THROTTLE_ON);
  const pulses = givenSpans(log, context.spans, 'start') ?? pulsesOf(timeS, drive.length, isOn);
  const events = pulses.map(({ from, to }): ResponseEvent => {
    const startS = timeS[from]!;
    const stopS = timeS[to]!;
    const quiet = slice(power, firstAtOrAfter(timeS, startS - QUIET_BEFORE_S), from);
    const base = quiet.length > 0 ? quiet.reduce((sum, one) => sum + one, 0) / quiet.length : 0;
    const spread = Math.sqrt(quiet.reduce((sum, one) => sum + (one - base) ** 2, 0) / Math.max(1, quiet.length - 1));
    const plateau = plateauOf(timeS, power, from, Math.min(to, firstAtOrAfter(timeS, startS + PLATEAU_WITHIN_S)));
    const threshold = Math.max(base + NOISE_MULTIPLE * spread, base + OFF_SHARE * (plateau - base));
    const helpAt =
      plateau > base + NOISE_MULTIPLE * spread ? firstLasting(power, from, to, (w) => w > threshold) : undefined;
    const brakeAt = brake
      ? firstIn(from, Math.min(power.length, to + Math.round(GIVE_UP_S / medianStepS)), (k) => brake[k]! > 0.5)
      : undefined;
    const isBraked = brakeAt !== undefined && timeS[brakeAt]! <= stopS + 2 * medianStepS;
    const isLast = to >= power.length - 2;
    const endIndex = isBraked ? brakeAt : to + 1;
    const off = base + OFF_SHARE * (plateau - base);
    const wasHelped = helpAt !== undefined && !isLast && power[Math.min(endIndex, power.length - 1)]! > off;
    const goneAt = wasHelped
      ? firstLasting(
          power,
          endIndex,
          Math.min(power.length - 1, endIndex + Math.round(GIVE_UP_S / medianStepS)),
          (w) => w < off,
        )
      : undefined;
    const goneS = goneAt === undefined ? null : timeS[goneAt]! - timeS[endIndex]!;
    const rise = helpAt === undefined ? null : riseTime(timeS, power, from, to, base, plateau);
    return {
      startS,
      endS: timeS[Math.min(endIndex, timeS.length - 1)]!,
      lastPedalS: stopS,
      latency: helpAt === undefined ? null : timeS[helpAt]! - startS,
      crankTurn: helpAt === undefined || !cadence ? null : crankDegrees(timeS, cadence, from, helpAt),
      riseTime: rise,
      overrun: isBraked ? null : goneS,
      overrunM:
        isBraked || goneS === null || !speed ? null : goneS * (speed[Math.min(endIndex, speed.length - 1)] ?? NaN),
      brakeCutoff: isBraked ? goneS : null,
      time0to20: speed ? timeTo(timeS, speed, from, to, 20 / 3.6) : null,
      time0to25: speed ? timeTo(timeS, speed, from, to, 25 / 3.6) : null,
      endsBy: isBraked ? 'brake' : isLast ? 'end of the log' : 'pedalling stops',
    };
  });
  if (events.length === 0) {
    warn('no-start', 'No start is in this log: pedalling never begins after a second of quiet.');
    return nothing;
  }
  const edges = Math.SQRT2 * fromResolution(medianStepS);
  const figures: Figure[] = [];
  const put = (
    key: keyof ResponseEvent,
    label: string,
    unit: Figure['unit'],
    formula: string,
    edgeUncertainty: number,
  ): void => {
    const values = events.flatMap((event) => {
      const value = event[key];
      return typeof value === 'number' && Number.isFinite(value) ? [value] : [];
    });
    if (values.length === 0) return;
    const value = median(values)!;
    const mean = values.reduce((sum, one) => sum + one, 0) / values.length;
    const variance = values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / Math.max(1, values.length - 1);
    const contributions: Contribution[] = [
      // The scatter between starts has the time step in it; with few starts it may hide it.
      {
        source: 'scatter between starts, and their time step',
        standardUncertainty:
          Math.max(edgeUncertainty, values.length > 1 ? MEDIAN_FACTOR * Math.sqrt(variance) : 0) /
          Math.sqrt(values.length),
        ...(values.length > 1 && { degreesOfFreedom: values.length - 1 }),
      },
      {
        source: 'where an edge counts as one',
        standardUncertainty: fromLimit(edgeUncertainty / 2),
        isSystematic: true,
      },
      {
        source: 'delays of the sensors themselves',
        standardUncertainty: (fromLimit(SENSOR_DELAY_S) * edgeUncertainty) / edges,
        isSystematic: true,
      },
    ];
    figures.push(
      makeFigure({
        key,
        label,
        value,
        unit,
        n: values.length,
        contributions,
        formula: `median over ${values.length} ${values.length === 1 ? 'start' : 'starts'} of: ${formula}`,
        substituted: values.map(num).join(', '),
        inputs: [cadence ? 'cadence' : 'throttle', 'power'],
        fromS: events[0]!.startS,
        toS: events.at(-1)!.endS,
      }),
    );
  };
  put('latency', 'Delay until help', 's', 'first power above the quiet − first pedalling', edges);
  put('crankTurn', 'Crank turn before help', 'deg', '∫ cadence dt over the delay', 6 * 60 * edges);
  put('riseTime', 'Rise of the help, 10 to 90 %', 's', 'time at 90 % − time at 10 % of the plateau', edges);
  put('overrun', 'Run-on after pedalling stops', 's', 'power below 5 % − last pedalling', edges);
  put('overrunM', 'Way of the run-on', 'm', 'run-on × speed', 8 * edges);
  put('brakeCutoff', 'Cut-off by the brake', 's', 'power below 5 % − brake pulled', edges);
  put('time0to20', 'From 0 to 20 km/h', 's', 'speed reaches 20 km/h − first pedalling', edges + 0.05);
  put('time0to25', 'From 0 to 25 km/h', 's', 'speed reaches 25 km/h − first pedalling', edges + 0.05);
  if (speed) {
    const ends = helpEnds(log, power, isOn, pulses, context, warn);
    if (ends) figures.push(ends);
    else
      warn(
        'help-does-not-end',
        'The power does not fall with speed in this log: where help ends is not shown by it. Ride faster than the limit.',
      );
  }
  return { events, pictures: responsePictures(timeS, power, events), figures };
}

export function startSpans(events: readonly ResponseEvent[]): Span[] {
  return events.map(({ startS, lastPedalS }, k) => ({
    kind: 'start',
    fromS: startS,
    toS: lastPedalS,
    label: `Start ${k + 1}`,
  }));
}

const SHOWN_BEFORE_S = 0.5;
const SHOWN_AFTER_S = 4;

/** Starts laid over one another from the moment of pedalling, and endings from the moment it stops. */
function responsePictures(timeS: Float64Array, power: Float64Array, events: readonly ResponseEvent[]): Picture[] {
  const overlay = (key: string, title: string, x: string, zeroOf: (event: ResponseEvent) => number): Picture => ({
    key,
    title,
    x: { label: x, unit: 's' },
    y: { label: 'Power', unit: 'W' },
    series: events.map((event, k) => {
      const zero = zeroOf(event);
      return {
        label: `Start ${k + 1}${key === 'endings' ? `, ${event.endsBy}` : ''}`,
        drawAs: 'line' as const,
        ...curveOf(
          (j) => timeS[j]! - zero,
          (j) => power[j]!,
          firstAtOrAfter(timeS, zero - SHOWN_BEFORE_S),
          firstAtOrAfter(timeS, zero + SHOWN_AFTER_S) - 1,
        ),
      };
    }),
    lines: [],
  });
  return [
    overlay('starts', 'Help from the moment of pedalling', 'Time from the first pedalling', ({ startS }) => startS),
    overlay('endings', 'Help when pedalling stops or the brake is pulled', 'Time from the end', ({ endS }) => endS),
  ];
}

/** Standard error of a median of normal values, in standard errors of their mean. */
const MEDIAN_FACTOR = 1.2533;

/** Stretches in which the drive is on, begun after a second of quiet and lasting a second or more. */
function pulsesOf(timeS: Float64Array, length: number, isOn: (k: number) => boolean): { from: number; to: number }[] {
  const pulses: { from: number; to: number }[] = [];
  let from = -1;
  let lastOn = -1;
  for (let k = 0; k < length; k++) {
    if (!isOn(k)) continue;
    if (lastOn < 0 || timeS[k]! - timeS[lastOn]! > QUIET_BEFORE_S / 2) {
      if (from >= 0) pulses.push({ from, to: lastOn });
      from = k;
    }
    lastOn = k;
  }
  if (from >= 0) pulses.push({ from, to: lastOn });
  return pulses.filter(
    ({ from: a, to: b }) =>
      a > 0 && timeS[a]! - timeS[0]! >= QUIET_BEFORE_S / 2 && timeS[b]! - timeS[a]! >= LEAST_ACTIVE_S,
  );
}

function slice(values: Float64Array, from: number, to: number): number[] {
  return Array.from(values.subarray(from, to)).filter((value) => !Number.isNaN(value));
}

/** First sample from which the condition holds for three samples: one alone is noise. */
function firstLasting(
  power: Float64Array,
  from: number,
  to: number,
  holds: (watts: number) => boolean,
): number | undefined {
  for (let k = from; k <= to && k < power.length; k++) {
    let lasting = 0;
    while (lasting < 3 && k + lasting < power.length && holds(power[k + lasting]!)) lasting++;
    if (lasting === 3) return k;
  }
  return undefined;
}

function firstIn(from: number, to: number, holds: (k: number) => boolean): number | undefined {
  for (let k = from; k < to; k++) if (holds(k)) return k;
  return undefined;
}

function riseTime(
  timeS: Float64Array,
  power: Float64Array,
  from: number,
  to: number,
  base: number,
  plateau: number,
): number | null {
  const cross = (share: number): number | undefined =>
    firstLasting(power, from, to, (watts) => watts > base + share * (plateau - base));
  const [low, high] = [cross(0.1), cross(0.9)];
  return low === undefined || high === undefined || high <= low ? null : timeS[high]! - timeS[low]!;
}

/** Degrees: 1/min are 6 degrees a second. */
function crankDegrees(timeS: Float64Array, cadence: Float64Array, from: number, to: number): number {
  let degrees = 0;
  for (let k = from + 1; k <= to; k++) degrees += 3 * (cadence[k]! + cadence[k - 1]!) * (timeS[k]! - timeS[k - 1]!);
  return degrees;
}

/** Time from the start of pedalling, at a standstill, until a speed is reached; null where it is not. */
function timeTo(timeS: Float64Array, speed: Float64Array, from: number, to: number, wanted: number): number | null {
  if (!(speed[from]! < STANDING_MPS)) return null;
  const kept = Array.from({ length: Math.min(speed.length, to + 1) - from }, (_, k) => from + k).filter(
    (k) => !Number.isNaN(speed[k]!),
  );
  const { level } = fitLocalLines(
    kept.map((k) => timeS[k]!),
    kept.map((k) => speed[k]!),
    SPEED_LINE_S,
  );
  const at = level.findIndex((value) => value >= wanted);
  return at < 0 ? null : timeS[kept[at]!]! - timeS[from]!;
}
