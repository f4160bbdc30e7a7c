import { say } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import { firstAtOrAfter, mean } from '../../numeric/index.js';
import { assistEnds } from '../assist-response/assist-ends.js';
import { wheelCircumference } from '../contributions.js';
import { directionsOf } from '../directions.js';
import { bareQuantity, derivationQuantity as qty, fromLimit, makeFigure } from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import { givenSpans, type Chart } from '../findings.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { electricalPower } from '../range/ride-integrals.js';
import type { TestContext } from '../test-context.js';
import { findPasses } from './find-passes.js';
import { measurePasses, type SpeedPass } from './measure-passes.js';
import { driveCurve, type DriveCurve } from './drive-curve.js';
import { stillAirSpeed } from './still-air.js';
import { passChart } from './top-speed-charts.js';
import { twoWayMean } from './two-way-mean.js';

export interface TopSpeedResult {
  readonly passes: readonly SpeedPass[];
  readonly charts: readonly Chart[];
  readonly figures: readonly Figure[];
}

/**
 * Top speed of passes over a level strip: `twoWayTopSpeed` and `stillAirTopSpeed`, km/h; `assistEnds` where the power fades.
 *
 * Method: a pass is where the speed stays above half of the highest; its speed is the highest mean over 5 s in which the
 * speed changes by less than 0.12 m/s². The two-way speed is the mean of the directions' means, which leaves a bias of
 * about w²/v; what wind does is taken out by `stillAirSpeed`. Directions: as set or noted, else by positions, else taken in
 * turns, which is said. Windows that a tester set are taken as they are.
 */
export function analyseTopSpeed(log: CleanLog, context: TestContext, warn: Warn): TopSpeedResult {
  const { speed } = log.channels;
  if (!speed || !log.hasClock) {
    warn('no-speed', 'Top speed needs the speed over time; this log has none.');
    return { passes: [], charts: [], figures: [] };
  }
  const power = electricalPower(log.channels)?.powerW;
  const given = givenSpans(log, context.spans, 'pass');
  const found = given ?? findPasses(log.timeS, speed);
  const directions = directionsOf(log, found, context.directions);
  const ridden = measurePasses(log, speed, power, found, directions, given !== undefined, context);
  // A window that a tester set counts, with what it may still have gained in its interval.
  const passes = given ? ridden : ridden.filter(({ isSettled }) => isSettled);
  const unsettled = ridden.filter(({ isSettled }) => !isSettled);
  if (unsettled.length > 0) {
    const atLeast = Math.max(...unsettled.map(({ steadySpeed }) => steadySpeed));
    warn(
      'speed-not-settled',
      say`In ${unsettled.length} of ${ridden.length} passes the speed was still rising when they ended: at least ${qty(atLeast, 'km/h')}. Hold full power until the speed has stood still for five seconds.`,
    );
  }
  if (passes.length === 0) {
    if (unsettled.length === 0)
      warn(
        'no-pass',
        'No pass at a steady top speed of 5 s is in this log: the speed never stood still under power. Ride longer at full power.',
      );
    return { passes, charts: [], figures: [] };
  }
  if (directions.isInTurns)
    warn('directions-in-turns', 'Nothing shows the direction of the passes: they are assumed to alternate.');
  const figures = speedFigures(passes, driveCurve(log, passes), context, warn);
  const ends = figures.length > 0 && power && endOfHelp(log, power, passes, context, warn);
  if (ends) figures.push(ends);
  return { passes, charts: [passChart(log, speed, passes, figures)], figures };
}

/** Two-way speed and, where the setup's data carry it, that in still air; none from one direction alone. */
function speedFigures(
  passes: readonly SpeedPass[],
  drive: DriveCurve | undefined,
  context: TestContext,
  warn: Warn,
): Figure[] {
  const there = passes.filter(({ direction }) => direction === 1);
  const back = passes.filter(({ direction }) => direction === -1);
  if (there.length === 0 || back.length === 0) {
    warn('one-direction', 'Passes in one direction only: wind and slope stay in them. Ride both directions.');
    return [];
  }
  const speedsOf = (group: readonly SpeedPass[]): number[] => group.map(({ steadySpeed }) => steadySpeed);
  const twoWay = twoWayMean(speedsOf(there), speedsOf(back));
  const { value } = twoWay;
  const contributions: Contribution[] = [
    {
      source: 'scatter within the windows',
      standardUncertainty: Math.hypot(...passes.map(({ scatterKmh }) => scatterKmh)) / passes.length,
    },
    // The highest of many means lies a little high, in every pass.
    { source: 'choice of the best 5 s', standardUncertainty: mean(passes.map(({ choiceKmh }) => choiceKmh)) },
    ...twoWay.scatter,
    ...(passes.some(({ restKmh }) => restKmh > 0)
      ? [{ source: 'still settling', standardUncertainty: fromLimit(mean(passes.map(({ restKmh }) => restKmh))) }]
      : []),
    wheelCircumference({ ...DEFAULT_INSTRUMENT, ...context.instrument }, value),
  ];
  const common = { unit: 'km/h', n: passes.length, fromS: passes[0]!.fromS, toS: passes.at(-1)!.toS } as const;
  const figures = [
    makeFigure({
      key: 'twoWayTopSpeed',
      label: 'Two-way top speed',
      value,
      contributions,
      formula: 'mean of the two directions’ means',
      substituted: say`(${bareQuantity(twoWay.there, 'km/h')} + ${bareQuantity(twoWay.back, 'km/h')}) ÷ 2 = ${qty(value, 'km/h')}`,
      inputs: ['speed'],
      ...common,
    }),
  ];
  const found = stillAirSpeed(there, back, context, warn, drive);
  const still = found?.kmh;
  if (found && still !== undefined)
    figures.push(
      makeFigure({
        key: 'stillAirTopSpeed',
        label: 'Top speed in still air',
        value: still,
        contributions: [
          ...contributions,
          // The bias taken out rests on mass, drag and powers that are known to some per cent.
          { source: 'model of the wind', standardUncertainty: fromLimit(0.5 * Math.abs(value - still)) },
          ...(found.kinkKmh > 0
            ? [
                {
                  source: 'where the current limit gives way to the voltage',
                  standardUncertainty: fromLimit(found.kinkKmh),
                },
              ]
            : []),
        ],
        formula: 'speed at which the drive force meets rolling and air without wind',
        substituted: say`${qty(value, 'km/h')} − ${qty(value - still, 'km/h')} for the wind`,
        inputs: ['speed', 'power', 'mass', 'drag area', 'rolling resistance', 'air density'],
        ...common,
      }),
    );
  return figures;
}

/** Share of the throttle that counts as turned. */
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
