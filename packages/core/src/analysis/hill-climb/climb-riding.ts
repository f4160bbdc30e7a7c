import type { CleanLog } from '../../logs/index.js';
import { estimateNoise } from '../../signal/index.js';
import { say, JOULES_PER_WATT_HOUR } from '../../units/index.js';
import { derivationQuantity as qty, derivationNumber as num, fromLimit } from '../figure.js';
import type { InstrumentErrors } from '../instrument.js';
import { RIDER_POWER_LIMIT } from '../range/rider-figures.js';
import { electricalPower, integrateOverRide } from '../range/ride-integrals.js';
import { beyondSensor, withHidden } from '../range/sensor-at-end.js';
import { meanOfSpan } from '../uneven-scatter.js';
import type { Put } from './put-figure.js';
import { currentGain, voltageGain, wheelCircumference } from '../contributions.js';

const MIN_SPEED_WINDOW_S = 3;
const HEART_LIMIT_BPM = 3;
const SENSOR_LIMIT_K = 1;

/** How the climb was ridden: lowest speed over 3 s, power, highest current, rider's work and heart, rise of the motor. */
export function addClimbRiding(log: CleanLog, put: Put, instrument: InstrumentErrors): void {
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
        wheelCircumference(instrument, slowest.mean * 3.6),
        // The lowest of many means lies a little low.
        { source: 'choice of the lowest 3 s', standardUncertainty: fromLimit(slowest.standardError * 3.6) },
        // Between two samples the bike may have been slower yet.
        { source: 'time step', standardUncertainty: fromLimit(slowest.changeMps * 3.6) },
      ],
      formula: 'lowest mean speed over 3 s',
      substituted: say`${qty(slowest.mean * 3.6, 'km/h')}`,
      inputs: ['speed'],
    });
  const { log: shown, beyond } = withHidden(log);
  const power = electricalPower(shown.channels);
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
        voltageGain(instrument, watts),
        currentGain(instrument, watts),
        {
          source: 'current offset',
          standardUncertainty: fromLimit(instrument.currentOffsetA) * meanVolts(log.channels.voltage),
          isSystematic: true,
        },
        ...beyondSensor(beyond, watts),
      ],
      formula: 'energy ÷ time',
      substituted: `${num(energyJ / JOULES_PER_WATT_HOUR)} Wh ÷ ${num(seconds)} s = ${num(watts)} W`,
      inputs: ['voltage', 'current', 'time'],
    });
  }
  const highest = current?.reduce((most, value) => (value > most ? value : most), -Infinity);
  // At the end of its sensor's range the highest current is not known.
  if (highest !== undefined && Number.isFinite(highest) && !(beyond && beyond.addedShare > 0))
    put({
      key: 'peakCurrent',
      label: 'Peak battery current',
      value: highest,
      unit: 'A',
      contributions: [
        currentGain(instrument, Math.abs(highest)),
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
      label: 'Rider work',
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
  const heart = heartRate && meanOfSpan(heartRate);
  if (heart)
    put({
      key: 'meanHeartRate',
      label: 'Mean heart rate',
      value: heart.mean,
      unit: 'bpm',
      contributions: [
        { source: 'heart-rate strap', standardUncertainty: fromLimit(HEART_LIMIT_BPM), isSystematic: true },
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
      label: 'Motor temperature rise',
      value: edges.rise,
      unit: 'K',
      contributions: [
        { source: 'scatter of the readings', standardUncertainty: edges.standardError },
        { source: 'warming that bends at the ends', standardUncertainty: fromLimit(edges.bendK) },
        { source: 'temperature sensor', standardUncertainty: fromLimit(0.5 * SENSOR_LIMIT_K), isSystematic: true },
      ],
      formula: 'end of a line through the last readings − start of one through the first',
      substituted: `${num(edges.rise)} K`,
      inputs: ['motor temperature'],
    });
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
    // The shortest span that lasts the whole window.
    while (from + 1 < to && timeS[to]! - timeS[from + 1]! >= windowS - 1e-9) from++;
    if (timeS[to]! - timeS[from]! < windowS - 1e-9) continue;
    const inside = meanOfSpan(speed.subarray(from, to + 1));
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
const EDGE_SHARE = 0.05;
/** Twice as many tell how much the warming bends there. */
const WIDER = 2;

/**
 * Rise between the ends of lines through the first and the last readings: a motor that warms is not averaged away. `bendK`
 * is what lines twice as long would change, beyond their scatter.
 */
function edgeMeans(
  timeS: Float64Array,
  values: Float64Array,
): { rise: number; standardError: number; bendK: number } | undefined {
  const known = Array.from(values.keys()).filter((k) => !Number.isNaN(values[k]!));
  const few = Math.max(5, Math.round(EDGE_SHARE * known.length));
  if (known.length < 2 * WIDER * few) return undefined;
  const riseBy = (count: number): { rise: number; standardError: number } => {
    const start = lineEnd(known.slice(0, count).reverse(), timeS, values);
    const end = lineEnd(known.slice(-count), timeS, values);
    return { rise: end.value - start.value, standardError: Math.hypot(start.standardError, end.standardError) };
  };
  const near = riseBy(few);
  const bendK = Math.max(0, Math.abs(near.rise - riseBy(WIDER * few).rise) - near.standardError);
  return { ...near, bendK };
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

function meanVolts(voltage: Float64Array | undefined): number {
  return voltage ? (meanOfSpan(voltage)?.mean ?? 0) : 0;
}
