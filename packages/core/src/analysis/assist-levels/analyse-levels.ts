import type { CleanLog } from '../../logs/index.js';
import { fitLocalLines } from '../../signal/index.js';
import {
  derivationNumber as num,
  fromLimit,
  makeFigure,
  type Contribution,
  type Figure,
  type Warn,
} from '../figure.js';
import { givenSpans, type Chart, type Span } from '../findings.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { electricalPower, firstAtOrAfter } from '../range/ride-integrals.js';
import type { TestContext } from '../test-context.js';
import { meanOfSpan } from '../uneven-scatter.js';
import { currentGain, voltageGain, wheelCircumference } from '../contributions.js';

export interface LevelResult {
  readonly level: number;
  readonly steadySpeed: Figure;
  readonly consumption: Figure | null;
  readonly meanPower: Figure | null;
  /** Levels that do not differ from this one beyond uncertainty, in speed and in power. */
  readonly sameAs: readonly number[];
  readonly fromS: number;
  readonly toS: number;
}

/** Slower change than this counts as steady, m/s². */
const STEADY_MPS2 = 0.05;
const MIN_STEADY_S = 30;
/** More of the steady end is not needed, and the speed may still creep before it. */
const MAX_STEADY_S = 90;
const SLOPE_WINDOW_S = 10;
/** Two-sided 95 %. */
const COVERAGE = 1.96;

/**
 * Steady speed, consumption and power of each assist level.
 *
 * Method: a level's stretch is where the logged level stands; its steady window is the last part (at most 90 s, at least
 * 30 s) over which the speed, fitted by local lines of 10 s, changes by less than 0.05 m/s². Two levels are named the
 * same when neither speed nor power differs by more than 1.96 standard errors of the difference; what both share (wheel,
 * gains) cancels. Levels without a steady window are named in a warning. Windows that a tester set are taken as they are.
 */
export function analyseLevels(log: CleanLog, context: TestContext, warn: Warn): LevelResult[] {
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const { assistLevel, speed } = log.channels;
  const given = givenSpans(log, context.spans, 'level');
  if (!speed || !log.hasClock || (!assistLevel && !given)) {
    warn(
      'no-level',
      'Levels need the assist level and the speed over time; this log lacks one of them. Note the levels with marks, or log them.',
    );
    return [];
  }
  const power = electricalPower(log.channels);
  if (!power) warn('no-power', 'The log has no voltage with current, and no power: speeds of the levels only.');
  const results: Omit<LevelResult, 'sameAs'>[] = [];
  const spans = given ? longestOfEach(named(given, assistLevel)) : longestOfEach(spansOf(assistLevel!));
  for (const { level, from, to } of spans) {
    const window: [number, number] | undefined = given ? [from, to] : steadyEnd(log.timeS, speed, from, to);
    if (!window) {
      warn('not-steady', `Level ${level} was not held steady for ${MIN_STEADY_S} s: it is left out.`);
      continue;
    }
    const [a, b] = given ? window : settledPart(log.timeS, speed, window);
    const span = { fromS: log.timeS[a]!, toS: log.timeS[b]! };
    const seconds = span.toS - span.fromS;
    const mean = meanOfSpan(speed.subarray(a, b + 1));
    if (!mean || !(mean.mean > 0)) continue;
    const kmh = mean.mean * 3.6;
    const wheel: Contribution = wheelCircumference(instrument, kmh);
    const steadySpeed = makeFigure({
      key: `steadySpeedLevel${level}`,
      label: `Steady speed, level ${level}`,
      value: kmh,
      unit: 'km/h',
      n: mean.count,
      contributions: [
        { source: 'scatter within the window', standardUncertainty: mean.standardError * 3.6 },
        { source: 'still settling', standardUncertainty: settling(log.timeS, speed, a, b) * 3.6 },
        wheel,
      ],
      formula: 'mean speed of the steady window',
      substituted: `${num(kmh)} km/h over ${num(seconds)} s`,
      inputs: ['speed', 'assist level'],
      ...span,
    });
    const watts = power && meanOfSpan(power.powerW.subarray(a, b + 1));
    const gains = (value: number): Contribution[] => [
      voltageGain(instrument, value),
      currentGain(instrument, value),
      {
        source: 'current offset',
        standardUncertainty:
          watts && watts.mean !== 0
            ? Math.abs((fromLimit(instrument.currentOffsetA) * meanVoltage(log, a, b) * value) / watts.mean)
            : 0,
        isSystematic: true,
      },
    ];
    // Means, not sums: what a gap left out is missing in both alike.
    const consumptionValue = watts === undefined ? undefined : watts.mean / 3.6 / mean.mean;
    results.push({
      level,
      ...span,
      steadySpeed,
      meanPower:
        watts === undefined
          ? null
          : makeFigure({
              key: `meanPowerLevel${level}`,
              label: `Mean power, level ${level}`,
              value: watts.mean,
              unit: 'W',
              n: watts.count,
              contributions: [
                { source: 'scatter within the window', standardUncertainty: watts.standardError },
                { source: 'still settling', standardUncertainty: settling(log.timeS, power!.powerW, a, b) },
                ...gains(watts.mean),
              ],
              formula: 'mean of V·I in the steady window',
              substituted: `${num(watts.mean)} W`,
              inputs: ['voltage', 'current'],
              ...span,
            }),
      consumption:
        watts === undefined || consumptionValue === undefined
          ? null
          : makeFigure({
              key: `consumptionLevel${level}`,
              label: `Consumption, level ${level}`,
              value: consumptionValue,
              unit: 'Wh/km',
              n: watts.count,
              contributions: [
                {
                  source: 'scatter within the window',
                  standardUncertainty:
                    consumptionValue * Math.hypot(watts.standardError / watts.mean, mean.standardError / mean.mean),
                },
                {
                  source: 'still settling',
                  standardUncertainty:
                    consumptionValue *
                    Math.abs(
                      settling(log.timeS, power!.powerW, a, b) / watts.mean -
                        settling(log.timeS, speed, a, b) / mean.mean,
                    ),
                },
                ...gains(consumptionValue),
                wheelCircumference(instrument, consumptionValue),
              ],
              formula: 'mean power ÷ mean speed of the steady window',
              substituted: `${num(watts.mean)} W ÷ ${num(mean.mean * 3.6)} km/h = ${num(consumptionValue)} Wh/km`,
              inputs: ['voltage', 'current', 'speed'],
              ...span,
            }),
    });
  }
  for (const [k, one] of results.entries())
    for (const other of results.slice(k + 1))
      if (isSame(one, other))
        warn(
          'levels-alike',
          `Levels ${one.level} and ${other.level} do not differ beyond their uncertainty, in speed or in power: on this stretch they are one.`,
        );
  return results.map((one) => ({
    ...one,
    sameAs: results.filter((other) => other !== one && isSame(one, other)).map(({ level }) => level),
  }));
}

export function levelSpans(levels: readonly LevelResult[]): Span[] {
  return levels.map(({ level, fromS, toS }) => ({ kind: 'level', fromS, toS, level, label: `Level ${level}` }));
}

/** Consumption and speed of the levels beside one another, with their intervals. */
export function levelCharts(levels: readonly LevelResult[]): Chart[] {
  const chart = (
    key: string,
    title: string,
    y: Chart['y'],
    figureOf: (level: LevelResult) => Figure | null,
  ): Chart[] => {
    const known = levels.flatMap((level) => {
      const figure = figureOf(level);
      return figure ? [{ level: level.level, figure }] : [];
    });
    if (known.length === 0) return [];
    return [
      {
        key,
        title,
        x: { label: 'Assist level', unit: 'level' },
        y,
        series: [
          {
            label: y.label,
            drawAs: 'points',
            x: known.map(({ level }) => level),
            y: known.map(({ figure }) => figure.value),
            plusMinus: known.map(({ figure }) => (figure.interval95[1] - figure.interval95[0]) / 2),
          },
        ],
        lines: [],
      },
    ];
  };
  return [
    ...chart('consumption', 'Consumption by level', { label: 'Consumption', unit: 'Wh/km' }, (l) => l.consumption),
    ...chart('speed', 'Steady speed by level', { label: 'Steady speed', unit: 'km/h' }, (l) => l.steadySpeed),
    ...chart('power', 'Mean power by level', { label: 'Mean power', unit: 'W' }, (l) => l.meanPower),
  ];
}

interface LevelSpan {
  readonly level: number;
  readonly from: number;
  readonly to: number;
}

function spansOf(assistLevel: Float64Array): LevelSpan[] {
  const spans: { level: number; from: number; to: number }[] = [];
  for (let k = 0; k < assistLevel.length; k++) {
    const level = assistLevel[k]!;
    if (Number.isNaN(level)) continue;
    const last = spans.at(-1);
    if (last && last.level === level) last.to = k;
    else spans.push({ level, from: k, to: k });
  }
  return spans;
}

/** The level that a tester gave a stretch, else that the log shows in its middle; without either it cannot be named. */
function named(
  given: readonly { readonly level?: number; readonly from: number; readonly to: number }[],
  assistLevel: Float64Array | undefined,
): LevelSpan[] {
  return given.flatMap(({ level, from, to }) => {
    const known = level ?? assistLevel?.[(from + to) >> 1] ?? NaN;
    return Number.isFinite(known) ? [{ level: known, from, to }] : [];
  });
}

/** A level ridden several times counts where it was held longest. */
function longestOfEach(spans: readonly LevelSpan[]): LevelSpan[] {
  const best = new Map<number, LevelSpan>();
  for (const logSpan of spans) {
    const known = best.get(logSpan.level);
    if (!known || logSpan.to - logSpan.from > known.to - known.from) best.set(logSpan.level, logSpan);
  }
  return [...best.values()].sort((a, b) => a.level - b.level);
}

/** Parts of a window this many standard errors apart are not the same: the window has not settled. */
const APART_ERRORS = 2;

/** The window without its beginning, as long as that differs from the rest and 30 s are left. */
function settledPart(timeS: Float64Array, speed: Float64Array, [from, to]: [number, number]): [number, number] {
  let first = from;
  for (;;) {
    const middle = firstAtOrAfter(timeS, (timeS[first]! + timeS[to]!) / 2);
    if (timeS[to]! - timeS[middle]! < MIN_STEADY_S) return [first, to];
    const [before, after] = [meanOfSpan(speed.subarray(first, middle)), meanOfSpan(speed.subarray(middle, to + 1))];
    if (!before || !after) return [first, to];
    if (Math.abs(before.mean - after.mean) < APART_ERRORS * Math.hypot(before.standardError, after.standardError))
      return [first, to];
    first = firstAtOrAfter(timeS, timeS[first]! + 5);
  }
}

/** What a value may still change by: the last third of the window against all of it. */
function settling(timeS: Float64Array, values: Float64Array, from: number, to: number): number {
  const last = firstAtOrAfter(timeS, timeS[to]! - (timeS[to]! - timeS[from]!) / 3);
  const [all, end] = [meanOfSpan(values.subarray(from, to + 1)), meanOfSpan(values.subarray(last, to + 1))];
  return all && end ? Math.abs(end.mean - all.mean) : 0;
}

/** First and last sample of the steady end of a stretch. */
function steadyEnd(timeS: Float64Array, speed: Float64Array, from: number, to: number): [number, number] | undefined {
  const kept: number[] = [];
  for (let k = from; k <= to; k++) if (!Number.isNaN(speed[k]!)) kept.push(k);
  if (kept.length < 5) return undefined;
  const { slope } = fitLocalLines(
    kept.map((k) => timeS[k]!),
    kept.map((k) => speed[k]!),
    SLOPE_WINDOW_S,
  );
  const end = timeS[kept.at(-1)!]!;
  // Within half a window of an end the line leans on one side only: the last full window speaks for it.
  let first = kept.length - 1;
  while (first > 0 && end - timeS[kept[first]!]! < MAX_STEADY_S) {
    const isEdge = end - timeS[kept[first]!]! < SLOPE_WINDOW_S / 2;
    if (!isEdge && Math.abs(slope[first]!) >= STEADY_MPS2) break;
    first--;
  }
  return end - timeS[kept[first]!]! >= MIN_STEADY_S ? [kept[first]!, kept.at(-1)!] : undefined;
}

function meanVoltage(log: CleanLog, a: number, b: number): number {
  const { voltage } = log.channels;
  return voltage ? (meanOfSpan(voltage.subarray(a, b + 1))?.mean ?? 0) : 0;
}

function isSame(a: Omit<LevelResult, 'sameAs'>, b: Omit<LevelResult, 'sameAs'>): boolean {
  const own = (figure: Figure | null): number =>
    Math.hypot(
      ...(figure?.derivation.contributions ?? []).filter((c) => !c.isSystematic).map((c) => c.standardUncertainty),
    );
  const alike = (x: Figure | null, y: Figure | null): boolean =>
    x === null || y === null || Math.abs(x.value - y.value) <= COVERAGE * Math.hypot(own(x), own(y));
  return alike(a.steadySpeed, b.steadySpeed) && alike(a.meanPower, b.meanPower);
}
