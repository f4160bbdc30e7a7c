import { say } from '../../units/index.js';
import type { CleanLog, Motion } from '../../logs/index.js';
import { curveOf, givenSpans, type Chart, type Span } from '../findings.js';
import {
  derivationQuantity as qty,
  derivationNumber as num,
  fromLimit,
  fromResolution,
  makeFigure,
  type Figure,
  type Warn,
} from '../figure.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { firstAtOrAfter } from '../../numeric/index.js';
import type { TestContext } from '../test-context.js';
import { meanOfSpan } from '../uneven-scatter.js';
import { currentGain, wheelCircumference } from '../contributions.js';
import { shaking } from '../motion/shaking.js';

export interface StandResult {
  readonly figures: readonly Figure[];
  readonly spans: readonly Span[];
  readonly charts: readonly Chart[];
}

/** The free wheel is near its top where it turns this fast, as a share of its fastest. */
const NEAR_TOP_SHARE = 0.98;
const MIN_STEADY_S = 2;
/** The wheel stands where its speed is below this share. */
const STANDS_SHARE = 0.05;
const MIN_TOP_MPS = 1;

/**
 * Wheel off the ground, full throttle, then off: `noLoadSpeed` km/h, `noLoadCurrent` A, `spinDownTime` s; where it was felt too, `vibration` m/s² and `vibrationRate` Hz.
 *
 * Method: means over the longest span of 2 s or more within 2 % of the fastest speed, while the drive is on; the spin-down lasts from the end of
 * that span's drive (its current falls below half) until the wheel turns slower than 5 % of it. Spans that a
 * tester set are taken as they are.
 */
export function analyseStand(log: CleanLog, context: TestContext, warn: Warn): StandResult {
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const { speed, current } = log.channels;
  const nothing: StandResult = { figures: [], spans: [], charts: [] };
  // A phone on the stand shows no speed, or that of a place that stays.
  const turns = speed?.some((v) => v > MIN_TOP_MPS) ?? false;
  if (log.motion && !turns) return onlyShaken(log.motion, context, log, warn);
  if (!speed || !log.hasClock) {
    warn('no-speed', 'The stand test needs the speed of the wheel over time; this log has none.');
    return nothing;
  }
  const top = speed.reduce((most, v) => (v > most ? v : most), 0);
  const set = givenSpans(log, context.spans, 'no-load')?.[0];
  const window = set ?? withDrive(log, steadyTop(log.timeS, speed, top));
  if (!(top > MIN_TOP_MPS) || !window) {
    warn(
      'no-steady-top',
      `The wheel never turns steadily at its top speed for ${MIN_STEADY_S} s: hold full throttle longer.`,
    );
    return nothing;
  }
  const span = { fromS: log.timeS[window.from]!, toS: log.timeS[window.to]! };
  const mean = meanOfSpan(speed.subarray(window.from, window.to + 1))!;
  const kmh = mean.mean * 3.6;
  const figures: Figure[] = [
    makeFigure({
      key: 'noLoadSpeed',
      label: 'No-load speed',
      value: kmh,
      unit: 'km/h',
      n: mean.count,
      contributions: [
        { source: 'scatter within the window', standardUncertainty: mean.standardError * 3.6 },
        wheelCircumference(instrument, kmh),
      ],
      formula: 'mean speed of the free wheel at full throttle',
      substituted: say`${qty(kmh, 'km/h')}`,
      inputs: ['speed'],
      ...span,
    }),
  ];
  const spans: Span[] = [{ kind: 'no-load', ...span, label: 'Full throttle, no load' }];
  const amps = current && meanOfSpan(current.subarray(window.from, window.to + 1));
  if (amps)
    figures.push(
      makeFigure({
        key: 'noLoadCurrent',
        label: 'No-load current',
        value: amps.mean,
        unit: 'A',
        n: amps.count,
        contributions: [
          { source: 'scatter within the window', standardUncertainty: amps.standardError },
          currentGain(instrument, Math.abs(amps.mean)),
          { source: 'current offset', standardUncertainty: fromLimit(instrument.currentOffsetA), isSystematic: true },
        ],
        formula: 'mean battery current at full throttle, wheel free',
        substituted: `${num(amps.mean)} A`,
        inputs: ['current'],
        ...span,
      }),
    );
  else warn('no-current', 'The log has no current: no-load speed only.');
  const down =
    givenSpans(log, context.spans, 'spin-down')?.[0] ?? spinDown(log, speed, window.to, mean.mean, amps?.mean);
  if (down) {
    const [fromS, toS] = [log.timeS[down.from]!, log.timeS[down.to]!];
    spans.push({ kind: 'spin-down', fromS, toS, label: 'Spin-down' });
    figures.push(
      makeFigure({
        key: 'spinDownTime',
        label: 'Spin-down until the wheel stands',
        value: toS - fromS,
        unit: 's',
        n: down.to - down.from + 1,
        contributions: [
          {
            source: 'time step at both ends',
            standardUncertainty: Math.SQRT2 * fromResolution(log.report.medianStepS),
          },
          // Where the drive really ends is seen only through the current or the speed.
          { source: 'where the drive ends', standardUncertainty: fromLimit(Math.max(0.1, log.report.medianStepS)) },
        ],
        formula: 'wheel below 5 % of its speed − drive off',
        substituted: `${num(toS)} s − ${num(fromS)} s = ${num(toS - fromS)} s`,
        inputs: current ? ['speed', 'current'] : ['speed'],
        fromS,
        toS,
      }),
    );
  } else warn('no-spin-down', 'The wheel does not come to rest in this log: no spin-down time.');
  const shaken = log.motion && shaking(log.motion, span);
  return { figures: [...figures, ...(shaken?.figures ?? [])], spans, charts: [chartOf(log, speed, figures)] };
}

/** What a phone alone tells of a wheel on the stand. */
function onlyShaken(motion: Motion, { spans }: TestContext, log: CleanLog, warn: Warn): StandResult {
  warn(
    'shaking-only',
    'This log feels how the bike shakes, and has no speed of the wheel: no-load speed and spin-down need the display or a wheel sensor. Shaking compares with the phone in the same mount only.',
  );
  const set = givenSpans(log, spans, 'no-load')?.[0];
  const shaken = shaking(motion, set && { fromS: log.timeS[set.from]!, toS: log.timeS[set.to]! });
  if (!shaken) {
    warn('hardly-shakes', 'Nothing shakes for three seconds in this log.');
    return { figures: [], spans: [], charts: [] };
  }
  const { fromS, toS, figures } = shaken;
  return { figures, spans: [{ kind: 'no-load', fromS, toS, label: 'Shaking' }], charts: [] };
}

/** A wheel that spins on without current is near its top for a while yet. */
function withDrive(
  { timeS, channels }: CleanLog,
  window: { from: number; to: number } | undefined,
): { from: number; to: number } | undefined {
  const { current } = channels;
  if (!window || !current) return window;
  const mean = meanOfSpan(current.subarray(window.from, window.to + 1))?.mean ?? 0;
  let to = window.to;
  while (to > window.from && current[to]! < mean / 2) to--;
  return timeS[to]! - timeS[window.from]! >= MIN_STEADY_S ? { from: window.from, to } : window;
}

function steadyTop(timeS: Float64Array, speed: Float64Array, top: number): { from: number; to: number } | undefined {
  let best: { from: number; to: number } | undefined;
  let from = -1;
  let last = -1;
  const keep = (): void => {
    if (from < 0) return;
    const seconds = timeS[last]! - timeS[from]!;
    if (seconds >= MIN_STEADY_S && (!best || seconds > timeS[best.to]! - timeS[best.from]!)) best = { from, to: last };
  };
  for (let k = 0; k < speed.length; k++) {
    if (Number.isNaN(speed[k]!)) continue;
    if (speed[k]! >= NEAR_TOP_SHARE * top) {
      if (from < 0) from = k;
      last = k;
    } else {
      keep();
      from = -1;
    }
  }
  keep();
  return best;
}

function spinDown(
  { timeS, channels }: CleanLog,
  speed: Float64Array,
  after: number,
  topMps: number,
  noLoadA: number | undefined,
): { from: number; to: number } | undefined {
  const { current } = channels;
  let from = after;
  if (current && noLoadA !== undefined && noLoadA > 0) {
    // The drive may end a little before or after the speed leaves its top.
    from = firstAtOrAfter(timeS, timeS[after]! - 1);
    while (from < speed.length && !(current[from]! < noLoadA / 2)) from++;
  }
  for (let k = from; k < speed.length; k++)
    if (speed[k]! < STANDS_SHARE * topMps) return from < k ? { from, to: k } : undefined;
  return undefined;
}

function chartOf({ timeS }: CleanLog, speed: Float64Array, figures: readonly Figure[]): Chart {
  return {
    key: 'spin',
    title: 'The free wheel',
    x: { label: 'Time', unit: 's' },
    y: { label: 'Speed', unit: 'km/h' },
    series: [
      {
        label: 'Speed',
        drawAs: 'line',
        ...curveOf(
          (k) => timeS[k]!,
          (k) => speed[k]! * 3.6,
          0,
          speed.length - 1,
        ),
      },
    ],
    lines: figures
      .filter(({ key }) => key === 'noLoadSpeed')
      .map(({ value, label }) => ({ axis: 'y', at: value, label })),
  };
}
