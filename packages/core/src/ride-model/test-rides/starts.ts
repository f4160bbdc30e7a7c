import type { RideModel, ScriptStep } from '../parameters.js';
import type { RideTrace } from '../ride-trace.js';
import { simulateRide } from '../simulate-ride.js';
import { joinTraces } from '../traces.js';
import { indexAt, meanOf, integral, offBeat } from './read-trace.js';
import { PEDALS, ROLLS, BRAKES, conditionsOf, straight, contextOf } from './setting.js';
import type { Ridden, TestDay } from './test-ride.js';

const STARTS = 6;
const PEDALLED_S = 14.6;
const LEVEL_STARTS = [
  { fromS: 3.21, toS: 38 },
  { fromS: 57.83, toS: 95 },
] as const;
/** Up this slope the help settles at a steady power below its speed limit. */
const START_GRADE = 0.07;

/** Starts uphill, half of them ended by letting the pedals rest, half by the brake; then two level ones beyond the limit. */
export function rideStarts(model: RideModel, day: TestDay): Ridden {
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
      ...LEVEL_STARTS.flatMap(({ fromS, toS }) => [
        { ...PEDALS, fromS, level: 3, levelShare: 0.7, riderW: 420 },
        { ...BRAKES, fromS: toS },
      ]),
    ],
  }).trace;
  const trace = joinTraces([uphill, level]);
  const { timeS } = trace;
  const power = trace.voltageV.map((v, k) => v * trace.currentA[k]!);
  const levelFromS = timeS[uphill.timeS.length]! - level.timeS[0]!;
  const all = [
    ...starts.map((start) => ({ start, pedalledS: PEDALLED_S })),
    ...LEVEL_STARTS.map(({ fromS, toS }) => ({ start: levelFromS + fromS, pedalledS: toS - fromS })),
  ];
  const edges = all.map(({ start, pedalledS }) => {
    const from = indexAt(timeS, start);
    const to = indexAt(timeS, start + 6);
    const last = indexAt(timeS, start + pedalledS);
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
    for (let k = from; k + second < last; k++)
      hardest = Math.max(hardest, slopeOf(timeS.subarray(k, k + second + 1), speedMps.subarray(k, k + second + 1)));
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

/** Slope of the least-squares line. */
function slopeOf(x: Float64Array, y: Float64Array): number {
  const [meanX, meanY] = [meanOf(x), meanOf(y)];
  let [sxx, sxy] = [0, 0];
  x.forEach((value, k) => {
    sxx += (value - meanX) ** 2;
    sxy += (value - meanX) * (y[k]! - meanY);
  });
  return sxy / sxx;
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
