import { say, type Sentence } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import {
  derivationQuantity as qty,
  derivationNumber as num,
  fromResolution,
  makeFigure,
  type Contribution,
  type Figure,
  type Warn,
} from '../figure.js';
import { addRangeFigures } from '../range/range-figures.js';
import type { TestContext } from '../test-context.js';
import { manualEnergy } from './manual-energy.js';
import {
  courseLength,
  DEFAULT_TRIP_STEP_KM,
  MIN_TRIP_KM,
  ratio,
  scaled,
  stepOfCounterM,
  stepOfWatch,
  thumb,
  wheelSizeInDisplay,
} from './manual-parts.js';
import { FASTEST_KMH, type ManualPass, type ManualReadings } from './manual-readings.js';
import { manualWay, type ManualWay } from './manual-way.js';

const DEFAULT_SPEED_STEP_KMH = 0.1;
/** A trip counter and the gates of the same way differ by less: by the wheel size, the length of the course and the counter's step. */
const SAME_WAY_SHARE = 0.05;
/** More than a loaded bike takes up a steep hill for a whole ride. */
const MOST_WH_PER_KM = 100;
/** A ride that took longer than its timed passes by more than this share went on where nobody timed it. */
const UNTIMED_SHARE = 0.25;

/** A ride by display, stopwatch, gauge and socket: distance, time, speed, energy and range. */
export function addManualRide(
  passes: readonly ManualPass[],
  gateM: number | undefined,
  manualReadings: ManualReadings,
  context: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const way = manualWay(passes, gateM, context);
  const covered = manualDistance(passes, way, manualReadings);
  const isSlip =
    isTooFarForItsTime(covered, manualReadings, warn) || isShorterThanTimed(covered, way, manualReadings, warn);
  // One of the two is wrong, and nobody knows which: nothing rests on either.
  const distance = isSlip ? undefined : covered;
  const timed = timeOf(passes, isSlip ? { ...manualReadings, durationS: 0 } : manualReadings);
  const seconds = timed?.seconds ?? 0;
  if (distance) figures.push(distance);
  else if (way.unclear) warn('laps-unclear', way.unclear);
  else if (!isSlip)
    warn(
      'no-distance',
      'Neither a trip distance nor a timed pass of a course with a length: no per-km figure can be given.',
    );
  if (timed)
    figures.push(
      makeFigure({
        key: 'movingTime',
        label: 'Time by the stopwatch, stops included',
        value: seconds,
        unit: 's',
        n: timed.count,
        contributions: timed.contributions,
        formula: 'finish − start, all passes',
        substituted: `${num(seconds)} s`,
        inputs: ['stopwatch'],
      }),
    );
  const speed = manualSpeed(distance, timed, passes, way, manualReadings, warn);
  if (speed) figures.push(speed);
  const [energy] = manualEnergy(manualReadings, context, warn, distance?.value);
  if (energy) figures.push(energy);
  if (energy && distance && isOfPartOnly(distance, passes, manualReadings))
    warn(
      'energy-of-more',
      say`The passes took ${num(seconds)} s of ${qty(manualReadings.durationS!, 's')}: the energy is of the whole ride, the distance of the passes alone. No consumption and no range; write the trip distance.`,
    );
  else if (energy && distance) {
    const net = ratio('netConsumption', 'Net consumption', energy, distance, 'Wh/km', 'energy ÷ distance');
    if (net.value - 2 * net.standardUncertainty > MOST_WH_PER_KM) {
      warn(
        'consumption-odd',
        say`${qty(energy.value, 'Wh')} over ${qty(distance.value, 'km')} would be ${qty(net.value, 'Wh/km')}, which no bike takes: the distance or the energy is written wrongly. No consumption and no range; put it right.`,
      );
      return;
    }
    figures.push(net);
    addRangeFigures(net, distance.value, NO_CHANNELS, context, figures, warn);
  } else if (distance)
    warn('no-energy', 'No bars, rest voltages or socket meter: no energy, so no consumption and no range.');
}

/** The distance is that of the timed passes, and the ride was longer. */
function isOfPartOnly(distance: Figure, passes: readonly ManualPass[], { durationS = 0 }: ManualReadings): boolean {
  const timedS = passes.reduce((sum, { seconds }) => sum + seconds, 0);
  return isByCourse(distance) && durationS > (1 + UNTIMED_SHARE) * timedS;
}

/** A display that counted less than what was timed on the course: the display, the laps or the course is wrong. */
function isShorterThanTimed(
  distance: Figure | undefined,
  way: ManualWay,
  manualReadings: ManualReadings,
  warn: Warn,
): boolean {
  if (!distance || way.timedM === undefined || isByCourse(distance)) return false;
  const timedKm = way.timedM / 1000;
  if (distance.value >= timedKm - slackKm(timedKm, manualReadings)) return false;
  warn(
    'way-unclear',
    say`The display counted ${qty(distance.value, 'km')}, less than the ${qty(timedKm, 'km')} that were timed by the course: the display, the laps or the gates are written wrongly. Nothing is given that rests on the distance; put it right.`,
  );
  return true;
}

/** By how much a counter and the course may differ over one way. */
function slackKm(km: number, manualReadings: ManualReadings): number {
  return SAME_WAY_SHARE * km + stepOfCounterM(manualReadings) / 1000;
}

const isByCourse = ({ derivation }: Figure): boolean => derivation.inputs.includes('gates');

/** A distance that no bike covers in the time that was noted for the whole ride is a slip of the pen, or that time is. */
function isTooFarForItsTime(distance: Figure | undefined, { durationS = 0 }: ManualReadings, warn: Warn): boolean {
  const kmh = distance && durationS > 0 ? (3600 * distance.value) / durationS : 0;
  if (kmh <= FASTEST_KMH) return false;
  warn(
    'too-fast',
    say`${qty(distance!.value, 'km')} in ${qty(durationS, 's')} would be ${qty(kmh, 'km/h')}, which no bike rides: one of them is written wrongly. Nothing is given that rests on either, no consumption and no range; put it right.`,
  );
  return true;
}

interface Timed {
  readonly seconds: number;
  readonly count: number;
  readonly contributions: readonly Contribution[];
}

/** Passes between gates, else the time of the whole ride as it was noted. */
function timeOf(passes: readonly ManualPass[], manualReadings: ManualReadings): Timed | undefined {
  const seconds = passes.reduce((sum, pass) => sum + pass.seconds, 0);
  if (seconds > 0) return { seconds, count: passes.length, contributions: [thumb(passes.length)] };
  return timeOfWhole(manualReadings);
}

function timeOfWhole({ durationS, durationStepS = 1 }: ManualReadings): Timed | undefined {
  if (durationS === undefined || !(durationS > 0)) return undefined;
  return { seconds: durationS, count: 1, contributions: [thumb(1), stepOfWatch(durationStepS)] };
}

/** Mean speed as the display shows it, else a distance over the time of that same distance. */
function manualSpeed(
  distance: Figure | undefined,
  timed: Timed | undefined,
  passes: readonly ManualPass[],
  way: ManualWay,
  manualReadings: ManualReadings,
  warn: Warn,
): Figure | undefined {
  if (manualReadings.displayMeanKmh !== undefined)
    return makeFigure({
      key: 'meanMovingSpeed',
      label: 'Mean moving speed',
      value: manualReadings.displayMeanKmh,
      unit: 'km/h',
      n: 1,
      contributions: [
        wheelSizeInDisplay(manualReadings.displayMeanKmh),
        {
          source: 'step of the display',
          standardUncertainty: fromResolution(manualReadings.displayStepKmh ?? DEFAULT_SPEED_STEP_KMH),
        },
      ],
      formula: 'mean speed of the display',
      substituted: say`${qty(manualReadings.displayMeanKmh, 'km/h')}`,
      inputs: ['display'],
    });
  const [part, time] = wayAndItsTime(distance, timed, passes, way, manualReadings, warn) ?? [];
  if (!part || !time) return undefined;
  const { seconds, contributions } = time;
  const value = (part.value * 3600) / seconds;
  return makeFigure({
    key: 'meanMovingSpeed',
    label: 'Mean speed, stops included',
    value,
    unit: 'km/h',
    n: time.count,
    contributions: [
      ...scaled(part, value / part.value),
      ...contributions.map((one) => ({ ...one, standardUncertainty: (one.standardUncertainty * value) / seconds })),
    ],
    formula: 'distance ÷ time',
    substituted: say`${qty(part.value, 'km')} ÷ ${num(seconds)} s = ${qty(value, 'km/h')}`,
    inputs: part.derivation.inputs.concat('stopwatch'),
    warnings: [{ code: 'stops-included', message: 'Timed from start to finish: stops count as riding time.' }],
  });
}

/** A distance and a time that are of the same: the whole ride, or what lies between the gates. */
function wayAndItsTime(
  distance: Figure | undefined,
  timed: Timed | undefined,
  passes: readonly ManualPass[],
  way: ManualWay,
  manualReadings: ManualReadings,
  warn: Warn,
): [Figure, Timed] | undefined {
  const [first, last] = [passes[0], passes.at(-1)];
  if (!timed || !first || !last) return distance && timed && [distance, timed];
  const whole = timeOfWhole(manualReadings);
  // How long the timed way is, is not known: the ride took from the first start to the last finish.
  if (way.timedM === undefined)
    return distance && [distance, whole ?? { ...timed, seconds: last.endS - first.startS, contributions: [thumb(1)] }];
  const timedKm = way.timedM / 1000;
  // What a counter says may be of more than was timed; between several passes that is the ordinary case.
  const isMore = distance !== undefined && distance.value > timedKm + slackKm(timedKm, manualReadings);
  if (distance && !isByCourse(distance) && isMore && timed.count === 1) {
    if (whole) return [distance, whole];
    warn(
      'way-unclear',
      say`The display counted ${qty(distance.value, 'km')}, the timed way is ${qty(timedKm, 'km')} by the course: which of them belongs to the ${num(timed.seconds)} s is not known, so no mean speed is given. Correct the laps or the gates, or write how long the whole ride took.`,
    );
    return undefined;
  }
  return [byGates(timed.count, timedKm, say`${qty(timedKm, 'km')}`), timed];
}

/** A ride without a log: the range figures look for logged charge and temperature and find none. */
const NO_CHANNELS = { channels: {} } as CleanLog;

function manualDistance(
  passes: readonly ManualPass[],
  way: ManualWay,
  manualReadings: ManualReadings,
): Figure | undefined {
  const trip = manualReadings.tripDistanceKm;
  if (trip !== undefined && trip > MIN_TRIP_KM)
    return makeFigure({
      key: 'distance',
      label: 'Distance',
      value: trip,
      unit: 'km',
      n: 1,
      contributions: [
        wheelSizeInDisplay(trip),
        {
          source: 'step of the trip counter',
          standardUncertainty: fromResolution(manualReadings.tripStepKm ?? DEFAULT_TRIP_STEP_KM),
        },
      ],
      formula: 'trip distance of the display',
      substituted: say`${qty(trip, 'km')}`,
      inputs: ['display'],
    });
  const { odometerStartKm: from, odometerEndKm: to, odometerStepKm = DEFAULT_TRIP_STEP_KM } = manualReadings;
  if (from !== undefined && to !== undefined && to > from)
    return makeFigure({
      key: 'distance',
      label: 'Distance',
      value: to - from,
      unit: 'km',
      n: 1,
      contributions: [
        wheelSizeInDisplay(to - from),
        {
          source: 'step of the odometer, twice',
          standardUncertainty: Math.SQRT2 * fromResolution(odometerStepKm),
        },
      ],
      formula: 'odometer after − odometer before',
      substituted: say`${num(to)} − ${num(from)} = ${qty(to - from, 'km')}`,
      inputs: ['odometer'],
    });
  return way.wholeM === undefined ? undefined : byGates(passes.length, way.wholeM / 1000, way.counted);
}

function byGates(passes: number, km: number, counted: Sentence): Figure {
  return makeFigure({
    key: 'distance',
    label: 'Distance',
    value: km,
    unit: 'km',
    n: passes,
    contributions: [courseLength(km)],
    formula: 'rounds × length of the course between the gates',
    substituted: [...counted, ...say` = ${qty(km, 'km')}`],
    inputs: ['gates'],
  });
}
