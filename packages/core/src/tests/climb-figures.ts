import type { CleanLog } from '../logs/index.js';
import { derivationNumber as num, fromLimit, fromResolution, makeFigure, type Figure, type Warn } from './figure.js';
import { RIDER_POWER_LIMIT } from './range/rider-figures.js';
import { smoothProfile, type AltitudeProfile } from './range/climbing.js';
import { referenceClimb } from './hill-climb/reference-climb.js';
import { isWayOf } from './quality/course-flags.js';
import { rideDistance } from './range/ride-integrals.js';
import { DEFAULT_INSTRUMENT, type InstrumentErrors } from './instrument.js';
import { dragForceN } from '../physics/index.js';
import { JOULES_PER_WATT_HOUR, STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import { electricalPower, integrateOverRide } from './range/ride-integrals.js';
import { estimateNoise } from '../signal/index.js';
import { meanOfStretch } from './uneven-scatter.js';
import { airDensityOf, type TestContext } from './test-context.js';

/** Time, speed and energy of a climb from a log that is cut at its gates. */
export function addClimbFigures(log: CleanLog, context: TestContext, figures: Figure[], warn: Warn): void {
  if (!log.hasClock) return;
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const [fromS, toS] = [log.timeS[0]!, log.timeS.at(-1)!];
  const seconds = toS - fromS;
  const distance = rideDistance(log);
  if (!distance || !(distance.distanceM > 0) || !(seconds > 0)) return;
  const speedMps = distance.distanceM / seconds;
  // Positions meet a gate within their wandering, a wheel within its circumference.
  const meetsU =
    distance.source === 'positions'
      ? Math.SQRT2 * POSITION_LIMIT_M
      : fromLimit(instrument.distanceGain * distance.distanceM);
  const gate = [
    { source: 'time step at the gates', standardUncertainty: Math.SQRT2 * fromResolution(log.report.medianStepS) },
    {
      // A distance that counts too far meets the finish gate too early.
      source: 'distance at the gates',
      standardUncertainty: meetsU / speedMps,
      isSystematic: true,
    },
  ];
  const put = (parts: Omit<Parameters<typeof makeFigure>[0], 'fromS' | 'n' | 'toS'>): void => {
    figures.push(makeFigure({ n: log.timeS.length, fromS, toS, ...parts }));
  };
  put({
    key: 'climbTime',
    label: 'Time of the climb',
    value: seconds,
    unit: 's',
    contributions: gate,
    formula: 'finish gate − start gate',
    substituted: `${num(seconds)} s`,
    inputs: ['time', distance.source],
  });
  put({
    key: 'meanSpeed',
    label: 'Mean speed of the climb',
    value: speedMps * 3.6,
    unit: 'km/h',
    contributions: [
      {
        source: distance.source === 'positions' ? 'positions' : 'wheel circumference',
        standardUncertainty: (meetsU * speedMps * 3.6) / distance.distanceM,
        isSystematic: true,
      },
      {
        source: 'time step at the gates',
        standardUncertainty: (gate[0]!.standardUncertainty * speedMps * 3.6) / seconds,
      },
    ],
    formula: 'way ÷ time',
    substituted: `${num(distance.distanceM)} m ÷ ${num(seconds)} s = ${num(speedMps * 3.6)} km/h`,
    inputs: [distance.source, 'time'],
  });
  addClimbRiding(log, put, instrument);
  const profile = log.channels.altitude && smoothProfile(distance.cumulativeM, log.channels.altitude);
  const logged = profile && profile.altitudeM.at(-1)! - profile.altitudeM[0]!;
  // A course says what was climbed only of the way from gate to gate.
  const course = context.course && isWayOf(context.course, distance.distanceM) ? context.course : undefined;
  const gainM = course?.gainM ?? logged;
  const gainU =
    course?.gainM !== undefined
      ? (course.gainUncertaintyM ?? fromLimit(2))
      : Math.SQRT2 * Math.hypot(fromLimit(instrument.altitudeM), profile ? edgeScatter(profile) : 0);
  if (gainM === undefined || !(gainM > 0)) {
    warn(
      'no-gain',
      'Neither the course nor the log has a profile that rises between the gates: no grade and no energy per climbing.',
    );
    return;
  }
  // Two readings, each within its limit: their difference is no rectangle.
  const gainParts = (sensitivity: number) =>
    ['altitude at the start gate', 'altitude at the finish gate'].map((source) => ({
      source,
      standardUncertainty: (Math.abs(sensitivity) * gainU) / Math.SQRT2,
      isSystematic: true,
    }));
  put({
    key: 'gain',
    label: 'Climbed between the gates',
    value: gainM,
    unit: 'm',
    contributions: gainParts(1),
    formula: 'altitude at the finish − altitude at the start',
    substituted: `${num(gainM)} m`,
    inputs: [course?.gainM === undefined ? 'altitude' : 'course profile'],
  });
  put({
    key: 'verticalSpeed',
    label: 'Vertical speed',
    value: (3600 * gainM) / seconds,
    unit: 'm/h',
    contributions: [
      ...gainParts(3600 / seconds),
      ...gate.map((part) => ({
        ...part,
        standardUncertainty: (part.standardUncertainty * 3600 * gainM) / seconds ** 2,
      })),
    ],
    formula: 'climbed ÷ time',
    substituted: `${num(gainM)} m ÷ ${num(seconds)} s = ${num((3600 * gainM) / seconds)} m/h`,
    inputs: ['gain', 'climbTime'],
  });
  put({
    key: 'meanGrade',
    label: 'Mean grade',
    value: (100 * gainM) / distance.distanceM,
    unit: '%',
    contributions: gainParts(100 / distance.distanceM),
    formula: 'climbed ÷ way',
    substituted: `${num(gainM)} m ÷ ${num(distance.distanceM)} m`,
    inputs: ['gain', distance.source],
  });
  if (profile) addSteepest(profile, distance.distanceM, put);
  addStalls(log, warn);
  const stepShare = (Math.SQRT2 * fromResolution(log.report.medianStepS)) / seconds;
  const energy = withGates(figures, 'energyOut', context, instrument, stepShare);
  if (energy)
    addDriveEfficiency(
      log,
      context,
      { gainM, gainU, energyWh: energy.value, energyU: energy.standardUncertainty, distanceM: distance.distanceM },
      put,
      warn,
    );
  if (energy) {
    const value = (100 * energy.value) / gainM;
    put({
      key: 'energyPer100m',
      label: 'Energy per 100 m climbed',
      value,
      unit: 'Wh',
      contributions: [
        ...energy.derivation.contributions.map(({ share: _share, ...part }) => ({
          ...part,
          standardUncertainty: (part.standardUncertainty * 100) / gainM,
        })),
        ...gainParts(value / gainM),
      ],
      formula: 'energy ÷ climbed × 100 m',
      substituted: `${num(energy.value)} Wh ÷ ${num(gainM)} m × 100 = ${num(value)} Wh`,
      inputs: ['energyOut', 'gain'],
    });
  }
}

/** A sum between gates also rests on where the wheel met them; the figure in the list is replaced. */
function withGates(
  figures: Figure[],
  key: string,
  { course }: TestContext,
  { distanceGain }: InstrumentErrors,
  stepShare: number,
): Figure | undefined {
  const k = figures.findIndex((one) => one.key === key);
  const figure = figures[k];
  if (!figure || !course || course.isWhole) return figure;
  const { derivation, ...parts } = figure;
  figures[k] = makeFigure({
    ...parts,
    ...derivation,
    contributions: [
      ...derivation.contributions.map(({ share: _share, ...part }) => part),
      {
        source: 'wheel distance at the gates',
        standardUncertainty: fromLimit(distanceGain * Math.abs(figure.value)),
        isSystematic: true,
      },
      {
        source: 'time step at the gates',
        standardUncertainty: Math.abs(figure.value) * stepShare,
      },
    ],
  });
  return figures[k];
}

/** Positions of a phone wander by about this. */
const POSITION_LIMIT_M = 3;

/** Standard error of the smoothed altitude at an end of the profile: half a window of readings, and a line that leans. */
function edgeScatter({ distanceM, scatterM }: AltitudeProfile): number {
  const spacing = (distanceM.at(-1)! - distanceM[0]!) / Math.max(1, distanceM.length - 1);
  return (2 * scatterM) / Math.sqrt(Math.max(1, 25 / Math.max(spacing, 1e-9)));
}

function meanVolts(voltage: Float64Array | undefined): number {
  return voltage ? (meanOfStretch(voltage)?.mean ?? 0) : 0;
}

type Put = (parts: Omit<Parameters<typeof makeFigure>[0], 'fromS' | 'n' | 'toS'>) => void;

const MIN_SPEED_WINDOW_S = 3;
const HEART_LIMIT_BPM = 3;
const SENSOR_LIMIT_K = 1;

/** How the climb was ridden: lowest speed over 3 s, power, highest current, rider's work and heart, rise of the motor. */
function addClimbRiding(log: CleanLog, put: Put, instrument: InstrumentErrors): void {
  const { speed, current, riderPower, heartRate, motorTemperature } = log.channels;
  const slowest = speed && lowestMean(log.timeS, speed, MIN_SPEED_WINDOW_S);
  if (slowest)
    put({
      key: 'minSpeed',
      label: 'Lowest speed, mean of 3 s',
      value: slowest.mean * 3.6,
      unit: 'km/h',
      contributions: [
        { source: 'scatter of the speed', standardUncertainty: slowest.standardError * 3.6 },
        {
          source: 'wheel circumference',
          standardUncertainty: fromLimit(instrument.distanceGain * slowest.mean * 3.6),
          isSystematic: true,
        },
        // The lowest of many means lies a little low.
        { source: 'choice of the lowest 3 s', standardUncertainty: fromLimit(slowest.standardError * 3.6) },
        // Between two samples the bike may have been slower yet.
        { source: 'time step', standardUncertainty: fromLimit(slowest.changeMps * 3.6) },
      ],
      formula: 'lowest mean speed over 3 s',
      substituted: `${num(slowest.mean * 3.6)} km/h`,
      inputs: ['speed'],
    });
  const power = electricalPower(log.channels);
  const seconds = log.timeS.at(-1)! - log.timeS[0]!;
  const energyJ = power && integrateOverRide(log.timeS, power.powerW, log.report.gapLimitS).measured;
  if (energyJ !== undefined) {
    const watts = energyJ / seconds;
    put({
      key: 'meanPower',
      label: 'Mean electrical power',
      value: watts,
      unit: 'W',
      contributions: [
        { source: 'voltage gain', standardUncertainty: fromLimit(instrument.voltageGain * watts), isSystematic: true },
        { source: 'current gain', standardUncertainty: fromLimit(instrument.currentGain * watts), isSystematic: true },
        {
          source: 'current offset',
          standardUncertainty: fromLimit(instrument.currentOffsetA) * meanVolts(log.channels.voltage),
          isSystematic: true,
        },
      ],
      formula: 'energy ÷ time',
      substituted: `${num(energyJ / JOULES_PER_WATT_HOUR)} Wh ÷ ${num(seconds)} s = ${num(watts)} W`,
      inputs: ['voltage', 'current', 'time'],
    });
  }
  const highest = current?.reduce((most, value) => (value > most ? value : most), -Infinity);
  if (highest !== undefined && Number.isFinite(highest))
    put({
      key: 'peakCurrent',
      label: 'Highest battery current',
      value: highest,
      unit: 'A',
      contributions: [
        {
          source: 'current gain',
          standardUncertainty: fromLimit(instrument.currentGain * Math.abs(highest)),
          isSystematic: true,
        },
        { source: 'current offset', standardUncertainty: fromLimit(instrument.currentOffsetA), isSystematic: true },
      ],
      formula: 'highest reading',
      substituted: `${num(highest)} A`,
      inputs: ['current'],
    });
  if (riderPower) {
    const workWh = integrateOverRide(log.timeS, riderPower, log.report.gapLimitS).measured / JOULES_PER_WATT_HOUR;
    put({
      key: 'riderWork',
      label: 'Work of the rider',
      value: workWh,
      unit: 'Wh',
      contributions: [
        {
          source: 'rider power meter',
          standardUncertainty: fromLimit(RIDER_POWER_LIMIT * Math.abs(workWh)),
          isSystematic: true,
        },
      ],
      formula: '∫ rider power dt',
      substituted: `${num(workWh)} Wh`,
      inputs: ['rider power'],
    });
  }
  const heart = heartRate && meanOfStretch(heartRate);
  if (heart)
    put({
      key: 'meanHeartRate',
      label: 'Mean heart rate',
      value: heart.mean,
      unit: 'bpm',
      contributions: [
        { source: 'reading of the strap', standardUncertainty: fromLimit(HEART_LIMIT_BPM), isSystematic: true },
        { source: 'scatter', standardUncertainty: heart.standardError },
      ],
      formula: 'mean of the readings',
      substituted: `${num(heart.mean)} bpm`,
      inputs: ['heart rate'],
    });
  const edges = motorTemperature && edgeMeans(log.timeS, motorTemperature);
  if (edges)
    put({
      key: 'motorTemperatureRise',
      label: 'Rise of the motor temperature',
      value: edges.rise,
      unit: 'K',
      contributions: [
        { source: 'scatter of the readings', standardUncertainty: edges.standardError },
        { source: 'temperature sensor', standardUncertainty: fromLimit(0.5 * SENSOR_LIMIT_K), isSystematic: true },
      ],
      formula: 'end of a line through the last readings − start of one through the first',
      substituted: `${num(edges.rise)} K`,
      inputs: ['motor temperature'],
    });
}

const STEEP_M = 50;

/** Steepest 50 m by the smoothed profile. */
function addSteepest(profile: AltitudeProfile, lengthM: number, put: Put): void {
  const { distanceM, altitudeM, gradeFraction, gradeStandardError } = profile;
  if (lengthM < 2 * STEEP_M) return;
  let best = { grade: -Infinity, error: 0 };
  let from = 0;
  for (let to = 0; to < distanceM.length; to++) {
    while (distanceM[to]! - distanceM[from + 1]! >= STEEP_M) from++;
    const way = distanceM[to]! - distanceM[from]!;
    const grade = (altitudeM[to]! - altitudeM[from]!) / way;
    const error = gradeStandardError[(from + to) >> 1]!;
    // Where the readings lie too far apart nothing tells how far the line may be off.
    if (way >= STEEP_M && grade > best.grade && Number.isFinite(error)) best = { grade, error };
  }
  if (!Number.isFinite(best.grade)) return;
  const meanOfGrades = gradeFraction.reduce((sum, one) => sum + one, 0) / gradeFraction.length;
  put({
    key: 'maxGrade',
    label: 'Steepest 50 m',
    value: 100 * best.grade,
    unit: '%',
    contributions: [
      { source: 'scatter of the altitude', standardUncertainty: 100 * best.error },
      // The steepest of many stretches looks a little steeper than it is, and smoothing takes a little off.
      {
        source: 'choice of the steepest, smoothing',
        standardUncertainty: fromLimit(10 * Math.abs(best.grade - meanOfGrades)),
      },
    ],
    formula: 'greatest rise over 50 m of the altitude smoothed over 50 m',
    substituted: `${num(100 * best.grade)} %`,
    inputs: ['altitude', 'distance'],
  });
}

/** Standing or walking pace on the climb: it stalled, or the rider had to push. */
const PUSHING_MPS = 1.6;
const LEAST_PUSH_S = 4;

function addStalls(log: CleanLog, warn: Warn): void {
  const { speed } = log.channels;
  if (!speed) return;
  let from = -1;
  let pushed = 0;
  let stretches = 0;
  for (let k = 0; k <= speed.length; k++) {
    if (k < speed.length && (Number.isNaN(speed[k]!) || speed[k]! < PUSHING_MPS)) {
      if (from < 0 && !Number.isNaN(speed[k]!)) from = k;
      continue;
    }
    if (from >= 0 && log.timeS[k - 1]! - log.timeS[from]! >= LEAST_PUSH_S) {
      pushed += log.timeS[k - 1]! - log.timeS[from]!;
      stretches++;
    }
    from = -1;
  }
  if (stretches > 0)
    warn(
      'stalled',
      `On the climb the bike stood or went at walking pace ${stretches === 1 ? 'once' : `${stretches} times`}, ${num(Math.round(pushed))} s in all: it stalled, or the rider pushed.`,
    );
}

/** What of the electrical energy became climbing, rolling, air and speed, less what the rider did. */
function addDriveEfficiency(
  log: CleanLog,
  context: TestContext,
  climb: { gainM: number; gainU: number; energyWh: number; energyU: number; distanceM: number },
  put: Put,
  warn: Warn,
): void {
  const { totalMassKg, cdaM2, crr } = context;
  const { speed, riderPower } = log.channels;
  const density = airDensityOf(context);
  if (totalMassKg === undefined || cdaM2 === undefined || crr === undefined || density === undefined || !speed) {
    warn('no-drive-efficiency', 'Drive efficiency needs mass, drag area, rolling resistance, air and speed.');
    return;
  }
  const weight = totalMassKg * STANDARD_GRAVITY_MPS2;
  const wind = context.windMps ?? 0;
  const airJ = integrateOverRide(
    log.timeS,
    speed.map((v) => dragForceN(density, cdaM2, v, wind) * v),
    log.report.gapLimitS,
  ).measured;
  const known = speed.filter((v) => !Number.isNaN(v));
  const few = Math.min(5, known.length);
  const mean = (values: Float64Array): number => values.reduce((sum, v) => sum + v, 0) / values.length;
  const [v0, v1] = [mean(known.subarray(0, few)), mean(known.subarray(-few))];
  const inertia = totalMassKg * (context.rotatingMassFactor ?? 1.02);
  const climbJ = weight * climb.gainM;
  const rollingJ = weight * crr * climb.distanceM;
  const kineticJ = (inertia * (v1 * v1 - v0 * v0)) / 2;
  const riderJ = riderPower ? integrateOverRide(log.timeS, riderPower, log.report.gapLimitS).measured : 0;
  if (!riderPower) warn('rider-not-measured', 'Rider power was not logged: what the rider did counts as the motor’s.');
  const electricalJ = climb.energyWh * JOULES_PER_WATT_HOUR;
  if (!(electricalJ > 0)) return;
  const usefulJ = climbJ + rollingJ + airJ + kineticJ - riderJ;
  const value = usefulJ / electricalJ;
  put({
    key: 'driveEfficiency',
    label: 'Efficiency of the drive',
    value,
    unit: '1',
    contributions: [
      {
        source: 'climb between the gates',
        standardUncertainty: (weight * climb.gainU) / electricalJ,
        isSystematic: true,
      },
      {
        source: 'mass',
        standardUncertainty: fromLimit((0.01 * (climbJ + rollingJ + kineticJ)) / electricalJ),
        isSystematic: true,
      },
      {
        source: 'rolling resistance',
        standardUncertainty: fromLimit((0.1 * rollingJ) / electricalJ),
        isSystematic: true,
      },
      {
        source: 'drag area and wind',
        standardUncertainty: fromLimit((0.1 * Math.abs(airJ)) / electricalJ),
        isSystematic: true,
      },
      {
        source: 'rider power',
        standardUncertainty: fromLimit((RIDER_POWER_LIMIT * Math.abs(riderJ)) / electricalJ),
        isSystematic: true,
      },
      {
        source: 'electrical energy',
        standardUncertainty: Math.abs((value * climb.energyU) / climb.energyWh),
        isSystematic: true,
      },
    ],
    formula: '(climbing + rolling + air + speed gained − rider) ÷ electrical energy',
    substituted: `(${num(climbJ / 3600)} + ${num(rollingJ / 3600)} + ${num(airJ / 3600)} + ${num(kineticJ / 3600)} − ${num(riderJ / 3600)}) Wh ÷ ${num(climb.energyWh)} Wh`,
    inputs: ['mass', 'drag area', 'rolling resistance', 'air density', 'speed', 'voltage', 'current'],
  });
  const seconds = log.timeS.at(-1)! - log.timeS[0]!;
  const reference = referenceClimb(
    { wheelW: (usefulJ + riderJ) / seconds, riderW: riderJ / seconds, efficiency: value },
    { cdaM2, crr },
    { efficiencyU: climb.gainU * (weight / electricalJ), wheelU: (weight * climb.gainU) / seconds },
    { grade: climb.gainM / climb.distanceM, totalMassKg },
    warn,
  );
  reference.forEach((figure) => put(figure));
}

/** Lowest mean over a window, with the standard error that the sensor's noise leaves: the window itself may rise or fall. */
function lowestMean(
  timeS: Float64Array,
  speed: Float64Array,
  windowS: number,
): { mean: number; standardError: number; changeMps: number } | undefined {
  const noise = estimateNoise(speed);
  let best: { mean: number; standardError: number; changeMps: number } | undefined;
  let from = 0;
  for (let to = 0; to < speed.length; to++) {
    // The shortest stretch that lasts the whole window.
    while (from + 1 < to && timeS[to]! - timeS[from + 1]! >= windowS - 1e-9) from++;
    if (timeS[to]! - timeS[from]! < windowS - 1e-9) continue;
    const inside = meanOfStretch(speed.subarray(from, to + 1));
    if (inside && (!best || inside.mean < best.mean))
      best = {
        mean: inside.mean,
        standardError: noise / Math.sqrt(inside.count),
        // Change over one step, at the slope of the window.
        changeMps: Math.abs(speed[to]! - speed[from]!) / Math.max(1, to - from) || 0,
      };
  }
  return best;
}

/** Part of the climb whose readings make the line to its end. */
const EDGE_SHARE = 0.1;

/** Rise between the ends of lines through the first and the last readings: a motor that warms is not averaged away. */
function edgeMeans(timeS: Float64Array, values: Float64Array): { rise: number; standardError: number } | undefined {
  const known = Array.from(values.keys()).filter((k) => !Number.isNaN(values[k]!));
  const few = Math.max(5, Math.round(EDGE_SHARE * known.length));
  if (known.length < 2 * few) return undefined;
  const [start, end] = [
    lineEnd(known.slice(0, few).reverse(), timeS, values),
    lineEnd(known.slice(-few), timeS, values),
  ];
  return { rise: end.value - start.value, standardError: Math.hypot(start.standardError, end.standardError) };
}

/** Value of the least-squares line at the last of these samples, with its standard error. */
function lineEnd(
  samples: readonly number[],
  timeS: Float64Array,
  values: Float64Array,
): { value: number; standardError: number } {
  const at = timeS[samples.at(-1)!]!;
  const n = samples.length;
  const x = samples.map((k) => timeS[k]! - at);
  const y = samples.map((k) => values[k]!);
  const [meanX, meanY] = [x, y].map((list) => list.reduce((sum, one) => sum + one, 0) / n) as [number, number];
  const sxx = x.reduce((sum, one) => sum + (one - meanX) ** 2, 0);
  const slope = sxx > 0 ? x.reduce((sum, one, k) => sum + (one - meanX) * (y[k]! - meanY), 0) / sxx : 0;
  const squares = y.reduce((sum, one, k) => sum + (one - meanY - slope * (x[k]! - meanX)) ** 2, 0);
  const variance = squares / Math.max(1, n - 2);
  return {
    value: meanY - slope * meanX,
    standardError: Math.sqrt(variance * (1 / n + (sxx > 0 ? meanX ** 2 / sxx : 0))),
  };
}
