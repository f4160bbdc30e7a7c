import { say } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import {
  derivationQuantity as qty,
  derivationNumber as num,
  fromLimit,
  makeFigure,
  type Figure,
  type Warn,
} from '../figure.js';
import { electricalPower } from '../range/ride-integrals.js';

const BLOCK_S = 15;
/** Power that falls by more than this while the rider asks for as much is cut back. */
const MIN_FALL = 0.15;
/** Cut-back by heat comes near the hottest. */
const WITHIN_K = 10;
/** More than this change of what the rider asks for explains a fall of the power. */
const SAME_DEMAND = 0.05;
const SENSOR_LIMIT_K = 1;
/** Power below this share was switched off, not cut back. */
const OFF_SHARE = 0.1;
/** What wavers below this share of the strongest load is a display, or a bike that stands: nothing is there to cut back. */
const LOADED_SHARE = 0.2;

interface Block {
  readonly fromS: number;
  readonly powerW: number;
  readonly temperatureC: number;
  readonly demand: number;
}

/**
 * Power cut back by heat: `cutBackTime` s from the start of the load, `cutBackTemperature` °C.
 *
 * Method: means over 15 s; the first that lies more than 15 % below the mean of the two minutes before it while throttle (else
 * cadence and level) are unchanged and the motor is within 10 K of its hottest. Nothing without a channel that tells what the rider asked for.
 */
export function findCutBack(log: CleanLog, warn: Warn): Figure[] {
  const { motorTemperature, throttle, cadence, assistLevel } = log.channels;
  const power = electricalPower(log.channels)?.powerW;
  const demand = throttle ?? cadence;
  if (!power || !motorTemperature || !demand) return [];
  const blocks = blocksOf(log, power, motorTemperature, demand, assistLevel);
  const hottest = blocks.reduce((most, { temperatureC }) => Math.max(most, temperatureC), -Infinity);
  const strongest = blocks.reduce((most, { powerW }) => (powerW > most ? powerW : most), 0);
  const loadStart = blocks.find(({ powerW }) => powerW > 0.5 * strongest);
  for (let k = 8; k < blocks.length; k++) {
    const block = blocks[k]!;
    const before = blocks.slice(k - 8, k);
    const mean = (of: (one: Block) => number): number => before.reduce((sum, one) => sum + of(one), 0) / before.length;
    const [powerBefore, demandBefore] = [mean(({ powerW }) => powerW), mean(({ demand }) => demand)];
    if (
      !(powerBefore > LOADED_SHARE * strongest) ||
      block.powerW > (1 - MIN_FALL) * powerBefore ||
      block.powerW < OFF_SHARE * powerBefore
    )
      continue;
    if (Math.abs(block.demand - demandBefore) > SAME_DEMAND * Math.abs(demandBefore)) continue;
    if (block.temperatureC < hottest - WITHIN_K) continue;
    const seconds = block.fromS - (loadStart?.fromS ?? blocks[0]!.fromS);
    warn(
      'cut-back',
      say`The controller cuts the power back at ${qty(Math.round(block.temperatureC), '°C')}: stop there, and let the motor cool before going on.`,
    );
    const parts = {
      n: 1,
      inputs: ['power', 'motor temperature', throttle ? 'throttle' : 'cadence'],
      fromS: before[0]!.fromS,
      toS: block.fromS + BLOCK_S,
    };
    const place = { source: 'length of the windows', standardUncertainty: fromLimit(BLOCK_S) };
    const slope = Math.abs(block.temperatureC - before[0]!.temperatureC) / (8 * BLOCK_S);
    return [
      makeFigure({
        key: 'cutBackTime',
        label: 'Time until power is cut back',
        value: seconds,
        unit: 's',
        contributions: [place],
        formula: 'first 15 s with more than 15 % less power at unchanged demand − start of the load',
        substituted: `${num(seconds)} s; ${num(block.powerW)} W after ${num(powerBefore)} W`,
        ...parts,
      }),
      makeFigure({
        key: 'cutBackTemperature',
        label: 'Motor temperature at cut-back',
        value: block.temperatureC,
        unit: '°C',
        contributions: [
          { source: 'temperature sensor', standardUncertainty: fromLimit(SENSOR_LIMIT_K), isSystematic: true },
          { ...place, standardUncertainty: place.standardUncertainty * slope },
        ],
        formula: 'mean motor temperature of those 15 s',
        substituted: say`${qty(block.temperatureC, '°C')}`,
        ...parts,
      }),
    ];
  }
  return [];
}

/** Of what is there from one sample up to before another; NaN where fewer than two are. */
function meanOf(values: Float64Array, from: number, to: number): number {
  let [sum, count] = [0, 0];
  for (let k = from; k < to; k++) {
    const value = values[k]!;
    if (Number.isNaN(value)) continue;
    sum += value;
    count++;
  }
  return count < 2 ? NaN : sum / count;
}

function blocksOf(
  { timeS }: CleanLog,
  power: Float64Array,
  temperature: Float64Array,
  drive: Float64Array,
  level: Float64Array | undefined,
): Block[] {
  const blocks: Block[] = [];
  let from = 0;
  for (let k = 1; k < timeS.length; k++) {
    if (timeS[k]! - timeS[from]! < BLOCK_S) continue;
    const powerW = meanOf(power, from, k);
    const temperatureC = meanOf(temperature, from, k);
    // A change of level is a change of what is asked for, whatever the cranks do.
    const demand = meanOf(drive, from, k) * (level ? 1 + meanOf(level, from, k) : 1);
    if (Number.isFinite(powerW) && Number.isFinite(temperatureC) && Number.isFinite(demand))
      blocks.push({ fromS: timeS[from]!, powerW, temperatureC, demand });
    from = k;
  }
  return blocks;
}
