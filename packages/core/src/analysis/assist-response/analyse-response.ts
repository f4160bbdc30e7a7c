import type { ChannelName, CleanLog } from '../../logs/index.js';
import { firstAtOrAfter, median } from '../../numeric/index.js';
import { derivationNumber as num, fromLimit, fromResolution, makeFigure } from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { curveOf, givenSpans, type Chart, type Span } from '../findings.js';
import { delayByMotion } from './delay-by-motion.js';
import { pulsesOf, readStart, withoutGhost, type ResponseEvent } from './find-starts.js';
import { assistEnds } from './assist-ends.js';
import { middleOf } from './middle-of-starts.js';
import { responseByMotion } from './response-by-motion.js';
import type { ResponseResult } from './response-result.js';
import { electricalPower } from '../range/ride-integrals.js';
import type { TestContext } from '../test-context.js';
import { wheelCircumference } from '../contributions.js';

/** Slower logs cannot place an edge: a tenth of a second is what is asked about. */
const SLOWEST_STEP_S = 0.1;
const THROTTLE_ON = 0.05;
/** A crank sensor has magnets, a current sensor a filter: neither tells at once. */
const SENSOR_DELAY_S = 0.02;
/** A speed that is crept up to is reached at no certain time. */
const SLOWEST_PACE_MPS2 = 0.01;
/** Where a log does not tell the pace at an edge. */
const USUAL_RPM = 60;
const USUAL_MPS = 8;

/**
 * Assist response: per start `latency`, crank turn, `riseTime` (10–90 %), `overrun` after pedalling stops, `brakeCutoff`,
 * `time0to20`, `time0to25`, `peakAcceleration` m/s² over one second; over all starts their medians, and `assistEnds` km/h.
 *
 * Method: a start is where cadence (else throttle) begins after a second of quiet; help is there when the power exceeds
 * the quiet power by five of its standard deviations and 5 % of the start's plateau; it is gone below 5 % of the plateau.
 * Edges are placed to a sample: Δt/√12 each. Medians carry 1.253·s/√n of the scatter. Assist ends where the power crosses
 * half of its plateau on a logistic curve over speed, fitted to means over 0.3 km/h of the faster samples under pedalling.
 * Refuses, by name, logs with fewer than 10 samples a second; what a phone felt is then taken instead (response-by-motion.ts).
 */
export function analyseResponse(log: CleanLog, context: TestContext, warn: Warn): ResponseResult {
  const nothing: ResponseResult = { events: [], charts: [], figures: [] };
  const { cadence, throttle, speed } = log.channels;
  const drive = cadence ?? throttle;
  const power = electricalPower(log.channels)?.powerW;
  if (log.hasClock && log.motion && (!drive || !power || log.report.medianStepS > SLOWEST_STEP_S + 1e-9))
    return responseByMotion(log, log.motion, context, warn);
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
  const given = givenSpans(log, context.spans, 'start');
  const found = given ?? pulsesOf(timeS, drive.length, isOn);
  const pulses = given || !cadence || !speed ? found : found.map((pulse) => withoutGhost(timeS, cadence, speed, pulse));
  const ghosts = pulses.filter(({ from }, k) => from !== found[k]!.from).length;
  if (ghosts > 0)
    warn(
      'cranks-turned-before',
      `In ${ghosts} of ${pulses.length} starts the cranks were turned before the bike moved: the delay counts from the pedalling that moved it.`,
    );
  const events = pulses.map((pulse) => readStart(log, power, pulse));
  if (events.length === 0) {
    warn('no-start', 'No start is in this log: pedalling never begins after a second of quiet.');
    return nothing;
  }
  const moved =
    cadence && speed
      ? delayByMotion(
          timeS,
          speed,
          pulses.filter(({ from }, k) => from === found[k]!.from),
        )
      : undefined;
  const late = cadence ? cadenceDelay(context, moved) : { seconds: 0, limitS: 0, isTold: true };
  if (!late.isTold)
    warn(
      'sensor-delay-unknown',
      'How late the cadence sensor shows the pedals is not known: up to a third of a second is allowed for. Say it at the logger, or film a start, and the delay of the assist is known better.',
    );
  const edges = Math.SQRT2 * fromResolution(medianStepS);
  const figures: Figure[] = [];
  const differing: string[] = [];
  const put = (
    key: keyof ResponseEvent,
    label: string,
    unit: Figure['unit'],
    formula: string,
    // Of one start's value: what its samples leave open, and what is common to all starts.
    own: number,
    common: readonly Contribution[],
    // What the sensors show late, in the figure's unit.
    shift = 0,
  ): void => {
    const values = events.flatMap((event) => {
      const value = event[key];
      return typeof value === 'number' && Number.isFinite(value) ? [Math.max(0, value + shift)] : [];
    });
    if (values.length === 0) return;
    const { value, others, scatter } = middleOf(values, own);
    if (others.length > 0)
      differing.push(`${label.toLowerCase()} ${others.map(num).join(', ')} beside ${num(value)} ${unit}`);
    figures.push(
      makeFigure({
        key,
        label,
        value,
        unit,
        n: values.length,
        contributions: [{ source: 'scatter between starts, and their time step', ...scatter }, ...common],
        formula: `median over ${values.length} ${values.length === 1 ? 'start' : 'starts'} of: ${formula}`,
        substituted: values.map(num).join(', '),
        inputs: [cadence ? 'cadence' : 'throttle', 'power'],
        fromS: events[0]!.startS,
        toS: events.at(-1)!.endS,
      }),
    );
  };
  /** A figure of two edges, and what a second between them is worth in its unit. */
  const putEdges = (
    key: keyof ResponseEvent,
    label: string,
    unit: Figure['unit'],
    formula: string,
    perSecond = 1,
    beside = 0,
    isFromPedals = false,
    also: readonly Contribution[] = [],
  ): void => {
    const own = perSecond * edges + beside;
    const pedals: Contribution[] =
      isFromPedals && late.limitS > 0
        ? [
            {
              source: 'delay of the cadence sensor',
              standardUncertainty: fromLimit(perSecond * late.limitS),
              isSystematic: true,
            },
          ]
        : [];
    const contributions: Contribution[] = [
      { source: 'where an edge counts as one', standardUncertainty: fromLimit(own / 2), isSystematic: true },
      {
        source: 'delays of the sensors themselves',
        standardUncertainty: (fromLimit(SENSOR_DELAY_S) * own) / edges,
        isSystematic: true,
      },
      ...pedals,
      ...also,
    ];
    put(key, label, unit, formula, own, contributions, isFromPedals ? perSecond * late.seconds : 0);
  };
  putEdges(
    'latency',
    'Delay until the drive pulls',
    's',
    'first power above the quiet level − first pedalling',
    1,
    0,
    true,
  );
  // What a second at an edge is worth: the crank's pace when help comes, and the bike's while it runs on.
  const degreesPerS = median(
    events.flatMap(({ startS, latency }) =>
      latency === null || !cadence ? [] : 6 * (cadence[firstAtOrAfter(timeS, startS + latency)] ?? NaN),
    ),
  );
  const metresPerS = median(
    events.flatMap(({ overrun, overrunM }) =>
      overrun !== null && overrunM !== null && overrun > 0 ? overrunM / overrun : [],
    ),
  );
  putEdges(
    'crankTurn',
    'Crank turn before assist',
    'deg',
    '∫ cadence dt over the delay',
    degreesPerS || 6 * USUAL_RPM,
    0,
    true,
  );
  putEdges('riseTime', 'Assist rise, 10 to 90 %', 's', 'time at 90 % − time at 10 % of the plateau');
  putEdges('overrun', 'Run-on after pedalling stops', 's', 'power below 5 % − last pedalling', 1, 0, true);
  putEdges('overrunM', 'Run-on distance', 'm', 'run-on × speed', metresPerS || USUAL_MPS, 0, true);
  putEdges('brakeCutoff', 'Brake cut-off', 's', 'power below 5 % − brake pulled');
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  for (const [key, paceKey, kmh] of [
    ['time0to20', 'paceAt20', 20],
    ['time0to25', 'paceAt25', 25],
  ] as const) {
    // A wheel that shows too much is at a speed too early, the more so the slower it is reached.
    const pace = median(events.flatMap((event) => (event[paceKey]! > SLOWEST_PACE_MPS2 ? event[paceKey]! : [])));
    const wheel = pace === undefined ? [] : [wheelCircumference(instrument, kmh / 3.6 / pace)];
    putEdges(key, `From 0 to ${kmh} km/h`, 's', `speed reaches ${kmh} km/h − first pedalling`, 1, 0.05, false, wheel);
  }
  const lineErrors = events.flatMap(({ accelerationError }) => accelerationError ?? []);
  const hardest = median(events.flatMap(({ peakAcceleration }) => peakAcceleration ?? [])) ?? 0;
  const lineError = median(lineErrors) ?? 0;
  put('peakAcceleration', 'Peak acceleration', 'm/s²', 'steepest line through 1 s of the speed', lineError, [
    // The steepest of many lines is steeper than what they waver about.
    {
      source: 'choice of the steepest second',
      standardUncertainty: fromLimit(2 * lineError),
      isSystematic: true,
    },
    wheelCircumference(instrument, hardest),
  ]);
  if (differing.length > 0)
    warn(
      'starts-differ',
      `Some starts were unlike the others: ${differing.join('; ')}. Each figure is the middle of all; starts on another slope or at another effort belong in a test of their own.`,
    );
  if (speed) {
    const ends = assistEnds(log, power, isOn, pulses, context, warn);
    if (ends) figures.push(ends);
    else
      warn(
        'help-does-not-end',
        'The power does not fall with speed in this log, so it does not show where assist ends. Ride faster than the limit.',
      );
  }
  return { events, charts: responseCharts(timeS, power, events), figures };
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

const MOST_CURVES = 40;
/** Starts laid over one another from the moment of pedalling, and endings from the moment it stops. */
function responseCharts(timeS: Float64Array, power: Float64Array, events: readonly ResponseEvent[]): Chart[] {
  const overlay = (key: string, title: string, x: string, zeroOf: (event: ResponseEvent) => number): Chart => ({
    key,
    title,
    x: { label: x, unit: 's' },
    y: { label: 'Power', unit: 'W' },
    series: events.flatMap((event, k) => {
      // More curves than this are a cloud: some of them, evenly.
      if (k % Math.ceil(events.length / MOST_CURVES) !== 0) return [];
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
    overlay('starts', 'Assist from the moment of pedalling', 'Time from the first pedalling', ({ startS }) => startS),
    overlay('endings', 'Assist when pedalling stops or the brake is pulled', 'Time from the end', ({ endS }) => endS),
  ];
}

/** A crank that counts by magnets, and a filter behind it: so late where nothing tells, and how far that may be off, s. */
const USUAL_DELAY_S = 0.04;
const USUAL_DELAY_LIMIT_S = 0.255;
const TOLD_LIMIT_S = 0.03;
/** The wheel's own sensor is late by some of it too. */
const SEEN_LIMIT_S = 0.1;
/** Less than this is the first turn of the wheel, not a sensor. */
const LEAST_DELAY_S = 0.12;

interface Delay {
  readonly seconds: number;
  readonly limitS: number;
  readonly isTold: boolean;
}
/** How late the cadence shows the pedals: as told, else as the wheel shows that moved before them, else as is usual. */
function cadenceDelay({ sensorDelayS }: TestContext, seenS: number | undefined): Delay {
  if (sensorDelayS === undefined) {
    if (seenS === undefined) return { seconds: USUAL_DELAY_S, limitS: USUAL_DELAY_LIMIT_S, isTold: false };
    return { seconds: seenS < LEAST_DELAY_S ? 0 : seenS, limitS: SEEN_LIMIT_S, isTold: true };
  }
  const of = (channel: ChannelName): number =>
    typeof sensorDelayS === 'number' ? (channel === 'cadence' ? sensorDelayS : 0) : (sensorDelayS[channel] ?? 0);
  // What is seen late on both sides of a difference is late by the difference.
  const electrical = Math.max(of('current'), of('power'));
  return { seconds: of('cadence') - electrical, limitS: TOLD_LIMIT_S, isTold: true };
}
