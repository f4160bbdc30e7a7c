import { say } from '../../units/index.js';
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
import { courseLength, ratio, scaled, stepOfWatch, thumb, wheelSizeInDisplay } from './manual-parts.js';
import { FASTEST_KMH, type ManualPass, type ManualReadings } from './manual-readings.js';

const DEFAULT_TRIP_STEP_KM = 0.1;
/** A trip counter at zero has counted nothing: no figure per km. */
const MIN_TRIP_KM = 0.001;
const DEFAULT_SPEED_STEP_KMH = 0.1;

/** A ride by display, stopwatch, gauge and socket: distance, time, speed, energy and range. */
export function addManualRide(
  passes: readonly ManualPass[],
  gateM: number | undefined,
  manualReadings: ManualReadings,
  context: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const covered = manualDistance(passes, gateM, manualReadings);
  const isSlip = isTooFarForItsTime(covered, manualReadings, warn);
  // One of the two is wrong, and nobody knows which: nothing rests on either.
  const distance = isSlip ? undefined : covered;
  const timed = timeOf(passes, isSlip ? { ...manualReadings, durationS: 0 } : manualReadings);
  const seconds = timed?.seconds ?? 0;
  if (distance) figures.push(distance);
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
  const speed = manualSpeed(distance, timed, manualReadings);
  if (speed) figures.push(speed);
  const [energy] = manualEnergy(manualReadings, context, warn, distance?.value);
  if (energy) figures.push(energy);
  if (energy && distance) {
    const net = ratio('netConsumption', 'Net consumption', energy, distance, 'Wh/km', 'energy ÷ distance');
    figures.push(net);
    addRangeFigures(net, distance.value, NO_CHANNELS, context, figures, warn);
  } else if (distance)
    warn('no-energy', 'No bars, rest voltages or socket meter: no energy, so no consumption and no range.');
}

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
function timeOf(passes: readonly ManualPass[], { durationS, durationStepS = 1 }: ManualReadings): Timed | undefined {
  const seconds = passes.reduce((sum, pass) => sum + pass.seconds, 0);
  if (seconds > 0) return { seconds, count: passes.length, contributions: [thumb(passes.length)] };
  if (durationS === undefined || !(durationS > 0)) return undefined;
  return { seconds: durationS, count: 1, contributions: [thumb(1), stepOfWatch(durationStepS)] };
}

/** Mean speed as the display shows it, else distance over time. */
function manualSpeed(
  distance: Figure | undefined,
  timed: Timed | undefined,
  manualReadings: ManualReadings,
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
  if (distance && timed) {
    const { seconds, contributions } = timed;
    const value = (distance.value * 3600) / seconds;
    return makeFigure({
      key: 'meanMovingSpeed',
      label: 'Mean speed, stops included',
      value,
      unit: 'km/h',
      n: timed.count,
      contributions: [
        ...scaled(distance, value / distance.value),
        ...contributions.map((one) => ({ ...one, standardUncertainty: (one.standardUncertainty * value) / seconds })),
      ],
      formula: 'distance ÷ time',
      substituted: say`${qty(distance.value, 'km')} ÷ ${num(seconds)} s = ${qty(value, 'km/h')}`,
      inputs: distance.derivation.inputs.concat('stopwatch'),
      warnings: [{ code: 'stops-included', message: 'Timed from start to finish: stops count as riding time.' }],
    });
  }
  return undefined;
}

/** A ride without a log: the range figures look for logged charge and temperature and find none. */
const NO_CHANNELS = { channels: {} } as CleanLog;

function manualDistance(
  passes: readonly ManualPass[],
  gateM: number | undefined,
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
  if (gateM === undefined || !(gateM > 0) || passes.length === 0) return undefined;
  const value = (passes.length * gateM) / 1000;
  return makeFigure({
    key: 'distance',
    label: 'Distance',
    value,
    unit: 'km',
    n: passes.length,
    contributions: [courseLength(value)],
    formula: 'passes × distance between the gates',
    substituted: say`${passes.length} × ${qty(gateM / 1000, 'km')} = ${qty(value, 'km')}`,
    inputs: ['gates'],
  });
}
