import type { CleanLog } from '../../logs/index.js';
import { addRangeFigures } from '../range/range-figures.js';
import {
  derivationNumber as num,
  fromLimit,
  fromResolution,
  makeFigure,
  type Contribution,
  type Figure,
  type Warn,
} from '../figure.js';
import type { TestContext } from '../test-context.js';
import type { TestKind } from '../test-kinds.js';
import { manualEnergy } from './manual-energy.js';
import { passesOf, type ManualPass, type ManualReadings } from './manual-readings.js';
import { addTemperatureFigures } from './manual-temperatures.js';

/** A thumb on a stopwatch at a gate is early or late by up to this. */
export const THUMB_LIMIT_S = 0.3;
/** A display's distance rests on the wheel size typed into it. */
const DISPLAY_GAIN_LIMIT = 0.015;
/** A course's length, paced or drawn. */
const COURSE_LENGTH_LIMIT = 0.005;
const DEFAULT_TRIP_STEP_KM = 0.1;
/** A trip counter at zero has counted nothing: no figure per km. */
const MIN_TRIP_KM = 0.001;
const DEFAULT_SPEED_STEP_KMH = 0.1;
const DEFAULT_GAIN_LIMIT_M = 2;

/**
 * All figures that stopwatch, display, gauge, voltmeter, socket meter and thermometer carry, for one kind of test.
 *
 * Figures: `distance`, `movingTime`, `meanMovingSpeed`, `energyOut`, `netConsumption`, the four schools of range;
 * `climbTime`, `meanSpeed`, `gain`, `meanGrade`, `verticalSpeed`, `energyPer100m`; `twoWayTopSpeed`;
 * `motorTemperatureRise`, `coolingHalfLife`; `meanHeartRate`. What is lacking is named in a warning.
 * Method: docs/methods.md, "without a logger"; uncertainty after JCGM 100:2008 from the stated steps and limits.
 */
export function manualFigures(
  kind: TestKind,
  manualReadings: ManualReadings,
  context: TestContext,
  warn: Warn,
): Figure[] {
  const figures: Figure[] = [];
  const passes = passesOf(manualReadings.laps);
  const gateM = context.course && context.course.finishM - context.course.startM;
  if (kind === 'top-speed' || kind === 'coast-down') addTopSpeed(passes, gateM, figures, warn);
  else if (kind === 'hill-climb') addClimb(passes, gateM, manualReadings, context, figures, warn);
  else addRide(passes, gateM, manualReadings, context, figures, warn);
  addTemperatureFigures(manualReadings, context, figures, warn);
  addHeartRate(manualReadings, figures);
  if (figures.length === 0)
    warn(
      'nothing-by-hand',
      'Nothing was timed or read off that gives a figure of this test. Type in what is on paper.',
    );
  return figures;
}

/** Two presses, start and finish: each early or late on its own. */
function thumb(passes: number): Contribution {
  return { source: 'reaction on the stopwatch', standardUncertainty: Math.sqrt(2 * passes) * fromLimit(THUMB_LIMIT_S) };
}

function addRide(
  passes: readonly ManualPass[],
  gateM: number | undefined,
  manualReadings: ManualReadings,
  context: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const seconds = passes.reduce((sum, pass) => sum + pass.seconds, 0);
  const distance = manualDistance(passes, gateM, manualReadings);
  if (distance) figures.push(distance);
  else
    warn(
      'no-distance',
      'Neither a trip distance nor a timed pass of a course with a length: no per-km figure can be given.',
    );
  if (seconds > 0)
    figures.push(
      makeFigure({
        key: 'movingTime',
        label: 'Time by the stopwatch, stops included',
        value: seconds,
        unit: 's',
        n: passes.length,
        contributions: [thumb(passes.length)],
        formula: 'finish − start, all passes',
        substituted: `${num(seconds)} s`,
        inputs: ['stopwatch'],
      }),
    );
  if (manualReadings.displayMeanKmh !== undefined)
    figures.push(
      makeFigure({
        key: 'meanMovingSpeed',
        label: 'Mean moving speed',
        value: manualReadings.displayMeanKmh,
        unit: 'km/h',
        n: 1,
        contributions: [
          {
            source: 'wheel size in the display',
            standardUncertainty: fromLimit(DISPLAY_GAIN_LIMIT * manualReadings.displayMeanKmh),
            isSystematic: true,
          },
          {
            source: 'step of the display',
            standardUncertainty: fromResolution(manualReadings.displayStepKmh ?? DEFAULT_SPEED_STEP_KMH),
          },
        ],
        formula: 'mean speed of the display',
        substituted: `${num(manualReadings.displayMeanKmh)} km/h`,
        inputs: ['display'],
      }),
    );
  else if (distance && seconds > 0) {
    const value = (distance.value * 3600) / seconds;
    figures.push(
      makeFigure({
        key: 'meanMovingSpeed',
        label: 'Mean speed, stops included',
        value,
        unit: 'km/h',
        n: passes.length,
        contributions: [
          ...scaled(distance, value / distance.value),
          {
            ...thumb(passes.length),
            standardUncertainty: (thumb(passes.length).standardUncertainty * value) / seconds,
          },
        ],
        formula: 'distance ÷ time',
        substituted: `${num(distance.value)} km ÷ ${num(seconds)} s = ${num(value)} km/h`,
        inputs: distance.derivation.inputs.concat('stopwatch'),
        warnings: [{ code: 'stops-included', message: 'Timed from start to finish: stops count as riding time.' }],
      }),
    );
  }
  const [energy] = manualEnergy(manualReadings, context, warn);
  if (energy) figures.push(energy);
  if (energy && distance) {
    const net = ratio('netConsumption', 'Net consumption', energy, distance, 'Wh/km', 'energy ÷ distance');
    figures.push(net);
    addRangeFigures(net, distance.value, NO_CHANNELS, context, figures, warn);
  } else if (distance)
    warn('no-energy', 'No bars, rest voltages or socket meter: no energy, so no consumption and no range.');
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
        {
          source: 'wheel size in the display',
          standardUncertainty: fromLimit(DISPLAY_GAIN_LIMIT * trip),
          isSystematic: true,
        },
        {
          source: 'step of the trip counter',
          standardUncertainty: fromResolution(manualReadings.tripStepKm ?? DEFAULT_TRIP_STEP_KM),
        },
      ],
      formula: 'trip distance of the display',
      substituted: `${num(trip)} km`,
      inputs: ['display'],
    });
  if (gateM === undefined || !(gateM > 0) || passes.length === 0) return undefined;
  const value = (passes.length * gateM) / 1000;
  return makeFigure({
    key: 'distance',
    label: 'Distance',
    value,
    unit: 'km',
    n: passes.length,
    contributions: [
      {
        source: 'length of the course',
        standardUncertainty: fromLimit(COURSE_LENGTH_LIMIT * value),
        isSystematic: true,
      },
    ],
    formula: 'passes × distance between the gates',
    substituted: `${passes.length} × ${num(gateM / 1000)} km = ${num(value)} km`,
    inputs: ['gates'],
  });
}

function addClimb(
  passes: readonly ManualPass[],
  gateM: number | undefined,
  manualReadings: ManualReadings,
  context: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const [pass] = passes;
  if (!pass) {
    warn('no-pass', 'No pass from start to finish gate was timed: the climb has no time.');
    return;
  }
  if (passes.length > 1) warn('several-passes', 'More than one pass was timed; the first one is the climb.');
  const span = { fromS: pass.startS, toS: pass.endS };
  const time = makeFigure({
    key: 'climbTime',
    label: 'Climb time',
    value: pass.seconds,
    unit: 's',
    n: 1,
    contributions: [thumb(1)],
    formula: 'finish − start',
    substituted: `${num(pass.seconds)} s`,
    inputs: ['stopwatch'],
    ...span,
  });
  figures.push(time);
  const way = gateM !== undefined && gateM > 0 ? lengthFigure(gateM) : undefined;
  if (way) figures.push(ratio('meanSpeed', 'Mean climb speed', way, time, 'km/h', 'distance ÷ time', 3.6));
  else warn('no-length', 'The course has no length between its gates: no speed.');
  const { gainM, gainUncertaintyM = fromLimit(DEFAULT_GAIN_LIMIT_M) } = context.course ?? {};
  if (gainM === undefined || !(gainM > 0)) {
    warn('no-gain', 'The course has no profile that rises between its gates: no grade and no climbing.');
    return;
  }
  const gain = makeFigure({
    key: 'gain',
    label: 'Climbed between the gates',
    value: gainM,
    unit: 'm',
    n: 1,
    contributions: [{ source: 'profile of the course', standardUncertainty: gainUncertaintyM, isSystematic: true }],
    formula: 'altitude at the finish − altitude at the start',
    substituted: `${num(gainM)} m`,
    inputs: ['course profile'],
  });
  figures.push(gain, ratio('verticalSpeed', 'Vertical speed', gain, time, 'm/h', 'climbed ÷ time', 3600));
  if (way) figures.push(ratio('meanGrade', 'Mean grade', gain, way, '%', 'climbed ÷ distance', 100));
  const [energy] = manualEnergy(manualReadings, context, warn);
  if (energy)
    figures.push(
      energy,
      ratio('energyPer100m', 'Energy per 100 m climbed', energy, gain, 'Wh', 'energy ÷ climbed × 100 m', 100),
    );
}

function lengthFigure(gateM: number): Figure {
  return makeFigure({
    key: 'gateDistance',
    label: 'Distance between the gates',
    value: gateM,
    unit: 'm',
    n: 1,
    contributions: [
      {
        source: 'length of the course',
        standardUncertainty: fromLimit(COURSE_LENGTH_LIMIT * gateM),
        isSystematic: true,
      },
    ],
    formula: 'finish gate − start gate',
    substituted: `${num(gateM)} m`,
    inputs: ['gates'],
  });
}

function addTopSpeed(passes: readonly ManualPass[], gateM: number | undefined, figures: Figure[], warn: Warn): void {
  if (gateM === undefined || !(gateM > 0)) {
    warn('no-length', 'The course has no length between its gates: passes give no speed.');
    return;
  }
  const speedsOf = (direction: 1 | -1): number[] =>
    passes.filter((pass) => pass.direction === direction).map(({ seconds }) => (3.6 * gateM) / seconds);
  const [there, back] = [speedsOf(1), speedsOf(-1)];
  if (there.length === 0 || back.length === 0) {
    warn('one-direction', 'Passes in one direction only: wind and slope stay in them. Ride both directions.');
    return;
  }
  const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
  const value = (mean(there) + mean(back)) / 2;
  const perPass = (direction: 1 | -1): number[] =>
    passes
      .filter((pass) => pass.direction === direction)
      .map(({ seconds }) => ((3.6 * gateM) / seconds ** 2) * Math.SQRT2 * fromLimit(THUMB_LIMIT_S));
  const thumbs = [1, -1].map(
    (direction) => Math.hypot(...perPass(direction as 1 | -1)) / perPass(direction as 1 | -1).length,
  );
  const scatter = [there, back].map((speeds) => {
    const centre = mean(speeds);
    return speeds.length < 2
      ? 0
      : speeds.reduce((sum, speed) => sum + (speed - centre) ** 2, 0) / (speeds.length - 1) / speeds.length;
  });
  const degreesOfFreedom = there.length + back.length - 2;
  figures.push(
    makeFigure({
      key: 'twoWayTopSpeed',
      label: 'Two-way top speed',
      value,
      unit: 'km/h',
      n: passes.length,
      contributions: [
        { source: 'reaction on the stopwatch', standardUncertainty: Math.hypot(...thumbs) / 2 },
        {
          source: 'length of the course',
          standardUncertainty: fromLimit(COURSE_LENGTH_LIMIT * value),
          isSystematic: true,
        },
        ...(degreesOfFreedom > 0
          ? [
              {
                source: 'scatter between passes',
                standardUncertainty: Math.sqrt(scatter[0]! + scatter[1]!) / 2,
                degreesOfFreedom,
              },
            ]
          : []),
      ],
      formula: 'mean of the two directions’ means',
      substituted: `(${num(mean(there))} + ${num(mean(back))}) ÷ 2 = ${num(value)} km/h`,
      inputs: ['stopwatch', 'gates'],
      warnings:
        Math.abs(mean(there) - mean(back)) > 0.1 * value
          ? [
              {
                code: 'uneven-directions',
                message:
                  'The directions differ by more than a tenth: wind or slope. The mean keeps a bias of about the square of the wind over the speed.',
              },
            ]
          : [],
    }),
  );
}

function addHeartRate({ heartRates = [] }: ManualReadings, figures: Figure[]): void {
  if (heartRates.length === 0) return;
  const mean = heartRates.reduce((sum, { bpm }) => sum + bpm, 0) / heartRates.length;
  const variance = heartRates.reduce((sum, { bpm }) => sum + (bpm - mean) ** 2, 0) / Math.max(1, heartRates.length - 1);
  figures.push(
    makeFigure({
      key: 'meanHeartRate',
      label: 'Mean heart rate',
      value: mean,
      unit: 'bpm',
      n: heartRates.length,
      contributions: [
        { source: 'heart-rate strap', standardUncertainty: fromLimit(3), isSystematic: true },
        ...(heartRates.length > 1
          ? [
              {
                source: 'scatter of readings',
                standardUncertainty: Math.sqrt(variance / heartRates.length),
                degreesOfFreedom: heartRates.length - 1,
              },
            ]
          : [{ source: 'one reading for the whole ride', standardUncertainty: fromLimit(15) }]),
      ],
      formula: 'mean of the readings',
      substituted: `${num(mean)} bpm`,
      inputs: ['heart rate'],
    }),
  );
}

/** Contributions of a figure, multiplied by a sensitivity. */
function scaled(figure: Figure, factor: number): Contribution[] {
  return figure.derivation.contributions.map(({ share: _share, ...part }) => ({
    ...part,
    standardUncertainty: Math.abs(part.standardUncertainty * factor),
  }));
}

function ratio(
  key: string,
  label: string,
  a: Figure,
  b: Figure,
  unit: Figure['unit'],
  formula: string,
  factor = 1,
): Figure {
  const value = (factor * a.value) / b.value;
  return makeFigure({
    key,
    label,
    value,
    unit,
    n: Math.min(a.n, b.n),
    contributions: [...scaled(a, factor / b.value), ...scaled(b, value / b.value)],
    formula,
    substituted: `${factor === 1 ? '' : `${factor} × `}${num(a.value)} ${a.unit} ÷ ${num(b.value)} ${b.unit} = ${num(value)} ${unit}`,
    inputs: [...new Set([...a.derivation.inputs, ...b.derivation.inputs])],
  });
}
