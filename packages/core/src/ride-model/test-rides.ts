import { airDensityKgPerM3 } from '../physics/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import type { TestContext, TestKind } from '../tests/index.js';
import { settledHeatK, slowTimeConstantS, warmMotor, type MotorHeat } from './motor-heat.js';
import { openCircuitVoltage } from './open-circuit-voltage.js';
import type { MotorModel, RideConditions, RideCourse, RideModel, ScriptStep } from './parameters.js';
import { simulateRide, type RideTrace } from './simulate-ride.js';
import { joinTraces, sliceTrace, START_ALTITUDE_M } from './traces.js';

/** A simulated test ride with what is true of it, by the keys of its figures and in their units. */
export interface TestRide {
  readonly kind: TestKind;
  readonly trace: RideTrace;
  readonly truth: Readonly<Record<string, number>>;
  /** What a tester would know about it. */
  readonly context: TestContext;
}
export interface TestDay {
  readonly airTemperatureC: number;
  /** Head wind on the way there, m/s. */
  readonly windMps: number;
  /** Rise over way on the way there. */
  readonly slope: number;
  readonly recordHz: number;
  /** Where the hill is climbed; 1 000 m at 6 % where not given. */
  readonly climb?: { readonly course: RideCourse; readonly startM: number; readonly finishM: number };
}

/**
 * Rides a test of each kind on the ride model, as a tester would ride it, and tells what is true of it: the model's own
 * parameters where the figure is one (drag area, time constant, resistance), else the noiseless trace.
 */
export function rideTest(kind: TestKind, model: RideModel, day: TestDay): TestRide {
  return { kind, ...RIDES[kind](model, day) };
}

type Ridden = Omit<TestRide, 'kind'>;
const RIDES: Readonly<Record<TestKind, (model: RideModel, day: TestDay) => Ridden>> = {
  range: rideRange,
  'assist-levels': rideLevels,
  'top-speed': ridePasses,
  'hill-climb': rideClimb,
  'assist-response': rideStarts,
  heating: rideHeating,
  battery: rideLoadSteps,
  'coast-down': rideCoasts,
  stand: spinWheel,
};

const FULL = 1;
const PEDALS = { pedals: true, brakes: false } as const;
// What the level asks for stands, whether it is asked or not: help may run on.
const ROLLS = { pedals: false, brakes: false, level: 3, levelShare: 0.7, riderW: 0 } as const;
const BRAKES = { pedals: false, brakes: true, level: 3, levelShare: 0.7, riderW: 0 } as const;

function conditionsOf(
  { airTemperatureC }: TestDay,
  windMps: number,
  more: Partial<RideConditions> = {},
): RideConditions {
  return {
    airTemperatureC,
    airDensity: airDensityKgPerM3(airTemperatureC),
    windMps,
    isWindAlong: true,
    startStateOfCharge: 0.98,
    startMotorC: airTemperatureC,
    ...more,
  };
}

function straight(lengthM: number, slope: number): RideCourse {
  return {
    lengthM,
    profile: [
      { distanceM: 0, altitudeM: START_ALTITUDE_M },
      { distanceM: lengthM, altitudeM: START_ALTITUDE_M + slope * lengthM },
    ],
    stops: [],
  };
}

function contextOf({ rider, bike }: RideModel, day: TestDay, windMps: number): TestContext {
  return {
    airTemperatureC: day.airTemperatureC,
    airDensity: airDensityKgPerM3(day.airTemperatureC),
    totalMassKg: rider.massKg + bike.massKg,
    cdaM2: bike.dragAreaM2,
    crr: bike.rollingResistanceCoefficient,
    rotatingMassFactor: bike.rotatingMassFactor,
    windMps,
  };
}

function indexAt(column: Float64Array, value: number): number {
  const k = column.findIndex((one) => one >= value);
  return k < 0 ? column.length - 1 : k;
}
function meanOf(values: Float64Array): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
/** ∫ f dt by trapezoid over samples [from, to]. */
function integral(timeS: Float64Array, f: (k: number) => number, from = 0, to = timeS.length - 1): number {
  let sum = 0;
  for (let k = from + 1; k <= to; k++) sum += ((f(k) + f(k - 1)) / 2) * (timeS[k]! - timeS[k - 1]!);
  return sum;
}
function between(trace: RideTrace, column: keyof RideTrace, fromS: number, toS: number): Float64Array {
  return trace[column].subarray(indexAt(trace.timeS, fromS), indexAt(trace.timeS, toS));
}

function rideRange(model: RideModel, day: TestDay): Ridden {
  const course: RideCourse = {
    lengthM: 3000,
    profile: Array.from({ length: 31 }, (_, k) => ({
      distanceM: 100 * k,
      altitudeM: 20 + 12 * Math.sin((2 * Math.PI * k) / 30),
    })),
    stops: [
      { distanceM: 900, dwellS: 12 },
      { distanceM: 2100, dwellS: 8 },
    ],
  };
  const ride = simulateRide(
    model,
    course,
    { ...conditionsOf(day, day.windMps), isWindAlong: false },
    { stepS: 0.02, recordHz: day.recordHz },
  );
  // To a whole second, so that a slow logger sees the end as well.
  const seconds = Math.floor(ride.trace.timeS.at(-1)!);
  const trace = sliceTrace(ride.trace, 0, indexAt(ride.trace.timeS, seconds));
  const { timeS, speedMps, voltageV, currentA } = trace;
  const km = (trace.distanceM.at(-1)! - trace.distanceM[0]!) / 1000;
  const watts = (k: number): number => voltageV[k]! * currentA[k]!;
  const netWh = integral(timeS, watts) / 3600;
  const regeneratedWh = integral(timeS, (k) => Math.max(0, -watts(k))) / 3600;
  const movingS = integral(timeS, (k) => (speedMps[k]! > 0.5 ? 1 : 0));
  return {
    trace,
    context: contextOf(model, day, 0),
    truth: {
      distance: km,
      movingTime: movingS,
      meanMovingSpeed: (3600 * km) / movingS,
      energyOut: netWh + regeneratedWh,
      energyRegenerated: regeneratedWh,
      netConsumption: netWh / km,
      grossConsumption: (netWh + regeneratedWh) / km,
      chargeUsed: integral(trace.timeS, (k) => trace.currentA[k]!) / 3600,
    },
  };
}

const LEVEL_S = 110;
const LEVEL_SHARES = [0.18, 0.32, 0.5, 0.75] as const;

function rideLevels(model: RideModel, day: TestDay): Ridden {
  const script = LEVEL_SHARES.map((levelShare, k): ScriptStep => ({
    ...PEDALS,
    fromS: k * LEVEL_S,
    level: k + 1,
    levelShare,
    riderW: model.rider.powerW,
  }));
  const { trace } = simulateRide(model, straight(9000, 0), conditionsOf(day, day.windMps), {
    stepS: 0.02,
    recordHz: day.recordHz,
    script,
    timeLimitS: LEVEL_SHARES.length * LEVEL_S,
  });
  const truth: Record<string, number> = {};
  LEVEL_SHARES.forEach((_, k) => {
    const [fromS, toS] = [(k + 1) * LEVEL_S - 30, (k + 1) * LEVEL_S - 1];
    const [from, to] = [indexAt(trace.timeS, fromS), indexAt(trace.timeS, toS)];
    const wh = integral(trace.timeS, (j) => trace.voltageV[j]! * trace.currentA[j]!, from, to) / 3600;
    const km = (trace.distanceM[to]! - trace.distanceM[from]!) / 1000;
    truth[`steadySpeedLevel${k + 1}`] = 3.6 * meanOf(between(trace, 'speedMps', fromS, toS));
    truth[`meanPowerLevel${k + 1}`] = (3600 * wh) / (trace.timeS[to]! - trace.timeS[from]!);
    truth[`consumptionLevel${k + 1}`] = wh / km;
  });
  return { trace, truth, context: contextOf(model, day, day.windMps) };
}

const PASS_S = 75;

function ridePasses(model: RideModel, day: TestDay): Ridden {
  const pass = (windMps: number): RideTrace =>
    simulateRide(model, straight(6000, 0), conditionsOf(day, windMps), {
      stepS: 0.02,
      recordHz: day.recordHz,
      timeLimitS: PASS_S + 14,
      script: [
        { ...PEDALS, fromS: 0, level: 5, levelShare: FULL, riderW: model.rider.powerW },
        { ...BRAKES, fromS: PASS_S },
      ],
    }).trace;
  const topOf = (trace: RideTrace): number => 3.6 * meanOf(between(trace, 'speedMps', PASS_S - 5, PASS_S));
  const [there, back] = [pass(day.windMps), pass(-day.windMps)];
  return {
    trace: joinTraces([there, back, there, back]),
    context: { ...contextOf(model, day, day.windMps), directions: [1, -1, 1, -1] },
    truth: {
      twoWayTopSpeed: (topOf(there) + topOf(back)) / 2,
      stillAirTopSpeed: topOf(pass(0)),
    },
  };
}

const CLIMB_M = 1000;

function rideClimb(model: RideModel, day: TestDay): Ridden {
  const climb = day.climb ?? { course: straight(CLIMB_M, 0.06), startM: 50, finishM: CLIMB_M - 50 };
  const { startM, finishM } = climb;
  const { trace } = simulateRide(model, climb.course, conditionsOf(day, 0), {
    stepS: 0.02,
    recordHz: day.recordHz,
    startSpeedMps: 4,
    timeLimitS: 900,
    script: [{ ...PEDALS, fromS: 0, level: 4, levelShare: 0.8, riderW: model.rider.powerW }],
  });
  const { timeS, distanceM, speedMps, altitudeM } = trace;
  const [from, to] = [indexAt(distanceM, startM), indexAt(distanceM, finishM)];
  const crossing = (metres: number): number => {
    const k = indexAt(distanceM, metres);
    return (
      timeS[k - 1]! + ((metres - distanceM[k - 1]!) / (distanceM[k]! - distanceM[k - 1]!)) * (timeS[k]! - timeS[k - 1]!)
    );
  };
  const seconds = crossing(finishM) - crossing(startM);
  const gain = altitudeM[to]! - altitudeM[from]!;
  const electricalJ = integral(timeS, (k) => trace.voltageV[k]! * trace.currentA[k]!, from, to);
  const massKg = model.rider.massKg + model.bike.massKg;
  const density = airDensityKgPerM3(day.airTemperatureC);
  const usefulJ =
    massKg * STANDARD_GRAVITY_MPS2 * (gain + model.bike.rollingResistanceCoefficient * (finishM - startM)) +
    integral(timeS, (k) => 0.5 * density * model.bike.dragAreaM2 * speedMps[k]! ** 3, from, to) +
    (massKg * model.bike.rotatingMassFactor * (speedMps[to]! ** 2 - speedMps[from]! ** 2)) / 2 -
    integral(timeS, (k) => trace.riderW[k]!, from, to);
  let minSpeed = Infinity;
  const window = Math.round(3 / (timeS[1]! - timeS[0]!));
  for (let k = from; k + window <= to; k++) minSpeed = Math.min(minSpeed, (distanceM[k + window]! - distanceM[k]!) / 3);
  return {
    trace,
    context: {
      ...contextOf(model, day, 0),
      course: { lengthM: climb.course.lengthM, startM, finishM, isWhole: false, isLoop: false },
    },
    truth: {
      climbTime: seconds,
      meanSpeed: (3.6 * (finishM - startM)) / seconds,
      minSpeed: 3.6 * minSpeed,
      gain,
      meanGrade: (100 * gain) / (finishM - startM),
      ...steepest(trace, from, to),
      verticalSpeed: (3600 * gain) / seconds,
      energyOut: electricalJ / 3600,
      energyPer100m: (100 * electricalJ) / 3600 / gain,
      meanPower: electricalJ / seconds,
      driveEfficiency: usefulJ / electricalJ,
      motorTemperatureRise: trace.motorC[to]! - trace.motorC[from]!,
      meanRiderPower: meanOf(trace.riderW.subarray(from, to)),
    },
  };
}

/** Of a climb that is long enough for it: the greatest rise over 50 m. */
function steepest({ distanceM, altitudeM }: RideTrace, from: number, to: number): { maxGrade?: number } {
  let greatest = -Infinity;
  let back = from;
  for (let k = from; k <= to; k++) {
    while (distanceM[k]! - distanceM[back + 1]! >= 50) back++;
    const way = distanceM[k]! - distanceM[back]!;
    if (way >= 50) greatest = Math.max(greatest, (100 * (altitudeM[k]! - altitudeM[back]!)) / way);
  }
  return Number.isFinite(greatest) ? { maxGrade: greatest } : {};
}

const STARTS = 6;
const PEDALLED_S = 14.6;
/** Up this slope the help settles at a steady power below its speed limit. */
const START_GRADE = 0.07;

/** Where in a second the k-th thing happens: each elsewhere, so that no logger's beat is met again and again. */
const offBeat = (k: number): number => (0.37 + 0.618034 * k) % 1;

/** Starts uphill, half of them ended by letting the pedals rest, half by the brake; then two level ones beyond the limit. */
function rideStarts(model: RideModel, day: TestDay): Ridden {
  const script: ScriptStep[] = [{ ...BRAKES, fromS: 0 }];
  const starts: number[] = [];
  let t = 3;
  for (let k = 0; k < STARTS; k++) {
    t = Math.floor(t) + offBeat(k);
    starts.push(t);
    script.push({ ...PEDALS, fromS: t, level: 3, levelShare: 0.7, riderW: 90 });
    t += PEDALLED_S;
    if (k % 2 === 0) {
      script.push({ ...ROLLS, fromS: t });
      t += 2;
    }
    script.push({ ...BRAKES, fromS: t });
    t += 12;
  }
  const strong: RideModel = { ...model, rider: { ...model.rider, targetSpeedMps: 25 } };
  const uphill = simulateRide(strong, straight(3000, START_GRADE), conditionsOf(day, 0), {
    stepS: 0.01,
    recordHz: day.recordHz,
    script,
    timeLimitS: t,
  }).trace;
  const carriedOn = { startMotorC: uphill.motorC.at(-1)!, startStateOfCharge: uphill.stateOfCharge.at(-1)! };
  const level = simulateRide(strong, straight(9000, 0), conditionsOf(day, 0, carriedOn), {
    stepS: 0.01,
    recordHz: day.recordHz,
    timeLimitS: 110,
    script: [
      { ...BRAKES, fromS: 0 },
      { ...PEDALS, fromS: 3.21, level: 3, levelShare: 0.7, riderW: 420 },
      { ...BRAKES, fromS: 38 },
      { ...PEDALS, fromS: 57.83, level: 3, levelShare: 0.7, riderW: 420 },
      { ...BRAKES, fromS: 95 },
    ],
  }).trace;
  const trace = joinTraces([uphill, level]);
  const { timeS } = trace;
  const power = trace.voltageV.map((v, k) => v * trace.currentA[k]!);
  const edges = starts.map((start) => {
    const from = indexAt(timeS, start);
    const to = indexAt(timeS, start + 6);
    const last = indexAt(timeS, start + PEDALLED_S);
    const few = Math.max(1, Math.round(0.3 / (timeS[1]! - timeS[0]!)));
    let plateau = 0;
    for (let k = from + few; k <= to; k++) plateau = Math.max(plateau, meanOf(power.subarray(k - few, k)));
    const base = power[from - 2]!;
    const cross = (share: number): number => {
      let k = from;
      while (k < to && power[k]! <= base + share * (plateau - base)) k++;
      return timeS[k]! - start;
    };
    const latency = cross(0.05);
    const { speedMps, cadenceRpm } = trace;
    const reaches = (kmh: number): number => {
      const at = speedMps.subarray(from, last).findIndex((v) => v >= kmh / 3.6);
      return at < 0 ? NaN : timeS[from + at]! - start;
    };
    const second = Math.round(1 / (timeS[1]! - timeS[0]!));
    let hardest = 0;
    for (let k = from; k + second < last; k++) hardest = Math.max(hardest, speedMps[k + second]! - speedMps[k]!);
    return {
      latency,
      rise: cross(0.9) - cross(0.1),
      crank: 6 * integral(timeS, (k) => cadenceRpm[k]!, from, indexAt(timeS, start + latency)),
      to20: reaches(20),
      hardest,
    };
  });
  const middle = (values: number[]): number => {
    const sorted = [...values].sort((a, b) => a - b);
    return (sorted[(sorted.length - 1) >> 1]! + sorted[sorted.length >> 1]!) / 2;
  };
  const { controller } = model;
  return {
    trace,
    context: contextOf(model, day, 0),
    truth: {
      latency: middle(edges.map(({ latency }) => latency)),
      riseTime: middle(edges.map(({ rise }) => rise)),
      crankTurn: middle(edges.map(({ crank }) => crank)),
      peakAcceleration: middle(edges.map(({ hardest }) => hardest)),
      ...(edges.every(({ to20 }) => to20 > 0) && { time0to20: middle(edges.map(({ to20 }) => to20)) }),
      overrun: controller.runOnS ?? 0,
      brakeCutoff: controller.brakeCutoffS ?? 0,
      assistEnds: 3.6 * halfPowerSpeed(level, controller.speedLimitMps - controller.taperMps),
    },
  };
}

/** Where the noiseless power falls to half of what it was when help began to fade. */
function halfPowerSpeed({ speedMps, cadenceRpm, voltageV, currentA }: RideTrace, fadesFromMps: number): number {
  const power = voltageV.map((v, k) => v * currentA[k]!);
  const before: number[] = [];
  const after: { v: number; w: number }[] = [];
  speedMps.forEach((v, k) => {
    if (!(cadenceRpm[k]! > 0)) return;
    if (v > 0.97 * fadesFromMps && v < fadesFromMps) before.push(power[k]!);
    if (v >= fadesFromMps) after.push({ v, w: power[k]! });
  });
  const plateau = before.reduce((sum, w) => sum + w, 0) / before.length;
  const near = after.sort((a, b) => Math.abs(a.w - plateau / 2) - Math.abs(b.w - plateau / 2)).slice(0, 5);
  return near.reduce((sum, { v }) => sum + v, 0) / near.length;
}

const LOADED_S = 900;
const COOLED_S = 1500;

function rideHeating(model: RideModel, day: TestDay): Ridden {
  const { trace, book } = simulateRide(model, straight(20_000, 0.07), conditionsOf(day, 0), {
    stepS: 0.05,
    recordHz: Math.min(day.recordHz, 20),
    timeLimitS: LOADED_S + COOLED_S,
    script: [
      { ...PEDALS, fromS: 0, level: 4, levelShare: 0.75, riderW: model.rider.powerW },
      { ...BRAKES, fromS: LOADED_S },
    ],
  });
  const tau = slowTimeConstantS(model.motor);
  const settled = settledHeatK(model.motor, book.copperLossJ / LOADED_S, book.ironLossJ / LOADED_S);
  const settledK = settled.windingK;
  const temperatureLimitC = 90;
  const allowedK = temperatureLimitC - day.airTemperatureC;
  return {
    trace,
    context: { ...contextOf(model, day, 0), ambientC: day.airTemperatureC, temperatureLimitC },
    truth: {
      timeConstant: tau,
      coolingHalfLife: halfLifeOf(model.motor, settled),
      riseAtLoad: settledK,
      headroom: allowedK - settledK,
      ...(!model.motor.winding &&
        settledK > 1.1 * allowedK && { timeToLimit: -tau * Math.log(1 - allowedK / settledK) }),
      peakTemperature: trace.motorC.reduce((most, value) => Math.max(most, value), -Infinity),
    },
  };
}

/** How long a settled motor's winding takes to lose half of its rise, s. */
function halfLifeOf(motor: MotorModel, { windingK, bodyK }: { windingK: number; bodyK: number }): number {
  const stepS = 0.1;
  let heat: MotorHeat = { windingC: windingK, bodyC: bodyK };
  let seconds = 0;
  while (heat.windingC > windingK / 2) {
    heat = warmMotor(motor, heat, { copperJ: 0, ironJ: 0 }, 0, stepS);
    seconds += stepS;
  }
  return seconds;
}

function rideLoadSteps(model: RideModel, day: TestDay): Ridden {
  const script: ScriptStep[] = [];
  for (let k = 0; k < 12; k++)
    script.push(
      { ...ROLLS, fromS: k === 0 ? 0 : 60 * k + offBeat(2 * k) },
      {
        ...PEDALS,
        fromS: 60 * k + 30 + offBeat(2 * k + 1),
        level: 1 + (k % 4),
        levelShare: 0.25 + 0.2 * (k % 4),
        riderW: 20,
      },
    );
  const { trace } = simulateRide(model, straight(12_000, 0.02), conditionsOf(day, 0), {
    stepS: 0.05,
    recordHz: Math.min(day.recordHz, 20),
    script,
    timeLimitS: 720,
  });
  const { pack } = model;
  return {
    trace,
    context: contextOf(model, day, 0),
    truth: {
      internalResistance: pack.resistanceOhm * (1 + 0.015 * Math.max(0, 20 - day.airTemperatureC)),
      openCircuitVoltage: pack.seriesCells * openCircuitVoltage(pack.chemistry, 0.98),
      energyOut: integral(trace.timeS, (k) => trace.voltageV[k]! * trace.currentA[k]!) / 3600,
      chargeUsed: integral(trace.timeS, (k) => trace.currentA[k]!) / 3600,
    },
  };
}

function rideCoasts(model: RideModel, day: TestDay): Ridden {
  const free: RideModel = { ...model, motor: { ...model.motor, hasFreewheel: true } };
  const coast = (direction: 1 | -1): RideTrace =>
    simulateRide(free, straight(6000, direction * day.slope), conditionsOf(day, direction * day.windMps), {
      stepS: 0.02,
      recordHz: day.recordHz,
      startSpeedMps: 9.5,
      timeLimitS: 62,
      script: [
        { ...PEDALS, fromS: 0, level: 5, levelShare: FULL, riderW: 150 },
        { ...ROLLS, fromS: 4 },
        { ...BRAKES, fromS: 52 },
      ],
    }).trace;
  const [there, back] = [coast(1), coast(-1)];
  return {
    trace: joinTraces([there, back, there, back]),
    context: { ...contextOf(model, day, 0), directions: [1, -1, 1, -1] },
    truth: {
      cda: model.bike.dragAreaM2,
      crr: model.bike.rollingResistanceCoefficient,
      slope: day.slope,
      wind: day.windMps,
    },
  };
}

const THROTTLE_S = 15.037;

/** The wheel alone: its inertia as a mass at the rim, its seals and bearings as rolling. */
function spinWheel(model: RideModel, day: TestDay): Ridden {
  const wheel: RideModel = {
    ...model,
    motor: { ...model.motor, hasFreewheel: true },
    rider: { ...model.rider, massKg: 0, targetSpeedMps: 60 },
    controller: { ...model.controller, speedLimitMps: 60, runOnS: 0 },
    bike: { ...model.bike, massKg: 2.4, dragAreaM2: 0.01, rollingResistanceCoefficient: 0.05, rotatingMassFactor: 1 },
  };
  const { trace } = simulateRide(wheel, straight(9000, 0), conditionsOf(day, 0), {
    stepS: 0.01,
    recordHz: day.recordHz,
    timeLimitS: THROTTLE_S + 45,
    script: [
      { ...BRAKES, fromS: 0 },
      { ...PEDALS, fromS: 2, level: 5, levelShare: FULL, riderW: 0 },
      { ...ROLLS, fromS: THROTTLE_S },
    ],
  });
  const top = meanOf(between(trace, 'speedMps', THROTTLE_S - 3, THROTTLE_S));
  const after = indexAt(trace.timeS, THROTTLE_S);
  const stands = trace.speedMps.findIndex((v, k) => k > after && v < 0.05 * top);
  return {
    trace,
    context: {},
    truth: {
      noLoadSpeed: 3.6 * top,
      noLoadCurrent: meanOf(between(trace, 'currentA', THROTTLE_S - 3, THROTTLE_S)),
      spinDownTime: trace.timeS[stands]! - THROTTLE_S,
    },
  };
}
