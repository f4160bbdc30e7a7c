import type { CleanLog } from '../../logs/index.js';
import { derivationNumber as num, fromLimit, makeFigure } from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import { directionsOf } from '../directions.js';
import { givenSpans, type Chart, type Span } from '../findings.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { airDensityOf, type TestContext } from '../test-context.js';
import { correlationInflation } from '../uneven-scatter.js';
import { findCoasts, MIN_COAST_S } from './find-coasts.js';
import { MOST_ROLLING, oddCoasts } from './odd-coasts.js';
import { stripUnevenness } from './strip-unevenness.js';
import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import { fitCoasts, type Coast, type CoastParameter } from './fit-coasts.js';
import { chartOf } from './coast-charts.js';

export interface CoastSpan {
  readonly direction: 1 | -1;
  readonly startS: number;
  readonly endS: number;
}
export interface CoastResult {
  readonly charts: readonly Chart[];
  readonly coasts: readonly CoastSpan[];
  readonly figures: readonly Figure[];
}

const MAX_SAMPLES = 2500;
const MASS_LIMIT = 0.01;
const DENSITY_LIMIT = 0.01;
const INERTIA_LIMIT = 0.01;
/** Of the rolling resistance: less is not worth a word. */
const UNEVEN_SHARE = 0.03;
const DEFAULT_ROTATING_MASS_FACTOR = 1.02;

/**
 * Drag area `cda` m², rolling resistance `crr`, `slope` and `wind` m/s (head wind in direction +1) of coasts.
 *
 * A coast is where the battery gives no current and the speed falls, for 8 s or more, until somebody brakes. With coasts in both directions all
 * four are found; with one direction only, slope and wind stand in rolling and drag and cannot be separated: they are
 * taken as 0, and that is said. Method: `fitCoasts`; standard errors widened by the residuals' autocorrelation, and by the
 * limits of mass (1 %), air density (1 %), rotating mass (1 %) and speed.
 */
export function analyseCoasts(log: CleanLog, context: TestContext, warn: Warn): CoastResult {
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const { totalMassKg } = context;
  if (!log.channels.speed || !log.hasClock) {
    warn('no-speed', 'Coasts need the speed over time; this log has none.');
    return { coasts: [], charts: [], figures: [] };
  }
  const given = givenSpans(log, context.spans, 'coast');
  const found = given ?? findCoasts(log);
  const directions = directionsOf(log, found, context.directions);
  const coasts = found.map(({ from, to }, k): CoastSpan & { from: number; to: number } => ({
    from,
    to,
    direction: directions.of[k]!,
    startS: log.timeS[from]!,
    endS: log.timeS[to]!,
  }));
  const shown = coasts.map(({ direction, startS, endS }) => ({ direction, startS, endS }));
  if (coasts.length === 0) {
    warn('no-coast', `No coast is in this log: coast for ${MIN_COAST_S} s or more, motor off, hands off the brakes.`);
    return { coasts: shown, charts: [], figures: [] };
  }
  const every = Math.max(1, Math.ceil(coasts.reduce((sum, { from, to }) => sum + to - from + 1, 0) / MAX_SAMPLES));
  const columns = coasts.map(({ direction, from, to }) => columnsOf(log, direction, from, to, every));
  const refused = { coasts: shown, charts: [chartOf(columns, undefined)], figures: [] };
  if (totalMassKg === undefined) {
    warn('no-mass', 'Drag and rolling need the mass of bike, rider and load.');
    return refused;
  }
  if (directions.isInTurns && coasts.length > 1)
    warn('directions-in-turns', 'Nothing shows the direction of the coasts: they are assumed to alternate.');
  const density = airDensityOf(context);
  if (density === undefined) {
    warn('no-air-temperature', 'Drag needs the air density: add the temperature to the outing.');
    return refused;
  }
  const isBothWays =
    coasts.some(({ direction }) => direction === 1) && coasts.some(({ direction }) => direction === -1);
  const free: CoastParameter[] = isBothWays ? ['cda', 'crr', 'slope', 'wind'] : ['cda', 'crr'];
  if (!isBothWays)
    warn(
      'not-separable',
      'Coasts in one direction only: slope ends up in the rolling resistance and wind in the drag. Both are taken as 0. Coast both ways.',
    );
  const rotatingMassFactor = context.rotatingMassFactor ?? DEFAULT_ROTATING_MASS_FACTOR;
  const fit = fitCoasts(columns, { totalMassKg, airDensity: density, rotatingMassFactor }, free);
  if (!fit || !(fit.values.cda > 0)) {
    warn('not-separable', 'Drag and rolling cannot be separated on these coasts: start faster and coast longer.');
    return refused;
  }
  const inflation = correlationInflation(fit.residuals);
  const span = { fromS: coasts[0]!.startS, toS: coasts.at(-1)!.endS };
  const degreesOfFreedom = Math.max(3, Math.round(fit.samples / inflation ** 2) - free.length - coasts.length);
  const figure = (
    key: CoastParameter,
    label: string,
    unit: Figure['unit'],
    systematic: readonly Contribution[],
  ): Figure => {
    const k = free.indexOf(key);
    const value = fit.values[key];
    return makeFigure({
      key,
      label,
      value,
      unit,
      n: coasts.length,
      contributions: [
        {
          source: 'scatter about the fitted coasts',
          standardUncertainty: Math.max(
            Math.sqrt(fit.covariance[k]![k]!) * inflation,
            Math.sqrt(fit.betweenCoasts?.[k]?.[k] ?? 0),
          ),
          degreesOfFreedom,
        },
        ...systematic,
      ],
      formula: 'least squares of the integrated equation of motion over all coasts at once',
      substituted: `${num(value)} ${unit === '1' ? '' : unit}${correlationText(fit, k)}`.trimEnd(),
      inputs: ['speed', 'mass', 'air density'],
      ...span,
    });
  };
  const share = (source: string, limit: number, value: number): Contribution => ({
    source,
    standardUncertainty: fromLimit(limit * Math.abs(value)),
    isSystematic: true,
  });
  const { cda, crr } = fit.values;
  const uneven = stripUnevenness(columns, fit.residuals);
  const unevenCrr = uneven.heightM / uneven.lengthM;
  const dragPerArea = 0.5 * density * uneven.meanSpeedMps ** 2;
  const strip = (limit: number): Contribution[] =>
    limit > 0
      ? [{ source: 'humps of the strip, or gusts', standardUncertainty: fromLimit(limit), isSystematic: true }]
      : [];
  if (unevenCrr > UNEVEN_SHARE * crr)
    warn(
      'strip-uneven',
      `The coasts waver with their place on the strip as if it had humps of ${num(Number((100 * uneven.heightM).toPrecision(2)))} cm (or as gusts do): drag and rolling are less certain for it. A level, even strip and still air tell more.`,
    );
  if (crr > MOST_ROLLING)
    warn(
      'brake-drags',
      `A rolling resistance of ${num(Number(crr.toPrecision(2)))} is more than tyres have: a brake or a bearing drags, or the motor does. Turn both wheels by hand and listen.`,
    );
  for (const { index, moreCrr } of oddCoasts(columns, fit.residuals, crr, rotatingMassFactor))
    warn(
      'coast-differs',
      `Coast ${index + 1} slowed down ${moreCrr > 0 ? 'more' : 'less'} than the others do, as if it rolled with ${num(Number(Math.abs(moreCrr).toPrecision(2)))} ${moreCrr > 0 ? 'more' : 'less'}: a brake that touched, a gust, or a bend. Look at it in the chart, and take it out if you know why.`,
    );
  const figures = [
    figure('cda', 'Drag area', 'm²', [
      share('mass', MASS_LIMIT, cda),
      share('air density', DENSITY_LIMIT, cda),
      share('rotating mass', INERTIA_LIMIT, cda),
      share('wheel circumference', instrument.distanceGain, cda),
      ...strip((totalMassKg * STANDARD_GRAVITY_MPS2 * unevenCrr) / dragPerArea),
    ]),
    figure('crr', 'Rolling resistance', '1', [
      share('rotating mass', INERTIA_LIMIT, crr),
      share('wheel circumference', instrument.distanceGain, crr),
      ...strip(unevenCrr),
    ]),
  ];
  const { slope, wind } = fit.values;
  if (isBothWays)
    figures.push(
      figure('slope', 'Slope in the first direction, rise over distance', '1', [
        share('rotating mass', INERTIA_LIMIT, slope),
        share('wheel circumference', instrument.distanceGain, slope),
        ...strip(unevenCrr),
      ]),
      figure('wind', 'Head wind in the first direction', 'm/s', [
        share('wheel circumference', instrument.distanceGain, wind),
        ...strip((totalMassKg * STANDARD_GRAVITY_MPS2 * unevenCrr) / (density * cda * uneven.meanSpeedMps)),
      ]),
    );
  return { coasts: shown, charts: [chartOf(columns, fit.residuals)], figures };
}

export function coastSpans(coasts: readonly CoastSpan[]): Span[] {
  return coasts.map(({ direction, startS, endS }, k) => ({
    kind: 'coast',
    fromS: startS,
    toS: endS,
    direction,
    label: `Coast ${k + 1}, ${direction === 1 ? 'there' : 'back'}`,
  }));
}

function correlationText(fit: NonNullable<ReturnType<typeof fitCoasts>>, k: number): string {
  const others = fit.free.flatMap((name, j) => {
    if (j === k) return [];
    const correlation = fit.covariance[k]![j]! / Math.sqrt(fit.covariance[k]![k]! * fit.covariance[j]![j]!);
    return Math.abs(correlation) > 0.5 ? [`${name} ${correlation.toFixed(2)}`] : [];
  });
  return others.length > 0 ? `; correlated with ${others.join(', ')}` : '';
}

/** Means of so many samples each: the noise of a sample is not worth a step of the integration. */
function columnsOf(log: CleanLog, direction: 1 | -1, from: number, to: number, every: number): Coast {
  const timeS: number[] = [];
  const speedMps: number[] = [];
  for (let k = from; k <= to; k += every) {
    let [t, v, n] = [0, 0, 0];
    for (let j = k; j < k + every && j <= to; j++) {
      if (Number.isNaN(log.channels.speed![j]!)) continue;
      t += log.timeS[j]!;
      v += log.channels.speed![j]!;
      n++;
    }
    if (n === 0) continue;
    timeS.push(t / n);
    speedMps.push(v / n);
  }
  return { direction, timeS, speedMps };
}
