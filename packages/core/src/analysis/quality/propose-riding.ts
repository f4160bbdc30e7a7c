import type { CleanLog } from '../../logs/index.js';
import { mean } from '../../numeric/index.js';
import { derivationNumber as num, type FigureWarning } from '../figure.js';

/** Code of the warning that proposes a way of riding; the way follows it. */
export const PROPOSED_WAY = 'looks-like-';
/** Likewise of an assist level. */
export const PROPOSED_LEVEL = 'level-held-';

const MOVING_MPS = 1.5;
const TURNING_RPM = 20;
const THROTTLE_OPEN = 0.05;
/** Shares of the time in motion that make a way of riding of what the rider did now and then. */
const MOSTLY = 0.6;
const HARDLY = 0.1;
const HELD = 0.95;
const MOTOR_OFF_W = 5;
const GHOST_W = 15;
const LIGHT_W = 70;
const HARD_W = 125;
const MIN_SAMPLES = 30;

/**
 * How a run looks to have been ridden, from throttle, cadence, rider power, motor power and level channels: to be confirmed by a person,
 * never taken for said. Empty where the log does not tell.
 */
export function proposeRiding(log: CleanLog): FigureWarning[] {
  const { speed, throttle, cadence, riderPower, power, current, voltage, assistLevel } = log.channels;
  const moving = indices(log).filter((k) => !speed || speed[k]! > MOVING_MPS);
  if (moving.length < MIN_SAMPLES) return [];
  const share = (channel: Float64Array, above: number): number =>
    moving.filter((k) => channel[k]! > above).length / moving.filter((k) => !Number.isNaN(channel[k]!)).length;
  const meanOf = (valueAt: (k: number) => number): number =>
    mean(moving.map(valueAt).filter((value) => !Number.isNaN(value)));
  const motorW = power
    ? meanOf((k) => power[k]!)
    : current && voltage
      ? meanOf((k) => current[k]! * voltage[k]!)
      : undefined;
  const turning = cadence && share(cadence, TURNING_RPM);
  const open = throttle && share(throttle, THROTTLE_OPEN);
  const riderW = riderPower && meanOf((k) => riderPower[k]!);
  const way = wayOf(motorW, turning, open, riderW);
  const levels = assistLevel ? heldLevel(moving.map((k) => assistLevel[k]!)) : undefined;
  return [...(way ? [way] : []), ...(levels ? [levels] : [])];
}

function wayOf(
  motorW: number | undefined,
  turning: number | undefined,
  open: number | undefined,
  riderW: number | undefined,
): FigureWarning | undefined {
  const percent = (part: number): string => `${num(Math.round(100 * part))} %`;
  if (motorW !== undefined && motorW < MOTOR_OFF_W)
    return proposal('off', `motor off: it drew ${num(Math.round(motorW))} W on average`);
  if (turning !== undefined && turning > MOSTLY) {
    const cranks = `the cranks turned in ${percent(turning)} of the time in motion`;
    if (riderW === undefined) return proposal('steady', `pedalled: ${cranks}; how hard, the log does not say`);
    const watts = `with ${num(Math.round(riderW))} W on average`;
    if (riderW < GHOST_W) return proposal('ghost', `cranks turned without force: ${cranks}, ${watts}`);
    if (riderW < LIGHT_W) return proposal('light', `pedalled lightly: ${cranks}, ${watts}`);
    return proposal(riderW > HARD_W ? 'hard' : 'steady', `pedalled: ${cranks}, ${watts}`);
  }
  const isStill = (turning !== undefined && turning < HARDLY) || (riderW !== undefined && riderW < MOTOR_OFF_W);
  if (isStill && (open === undefined || open > MOSTLY))
    return proposal(
      'throttle',
      open === undefined
        ? 'throttle only: the cranks hardly turned'
        : `throttle only: it was open in ${percent(open)} of the time in motion, and the cranks hardly turned`,
    );
  return undefined;
}

function proposal(way: string, words: string): FigureWarning {
  return { code: `${PROPOSED_WAY}${way}`, message: `How it was ridden is not written down. It looks like ${words}.` };
}

function heldLevel(levels: readonly number[]): FigureWarning | undefined {
  const counts = new Map<number, number>();
  const known = levels.filter((level) => !Number.isNaN(level));
  for (const level of known) counts.set(level, (counts.get(level) ?? 0) + 1);
  for (const [level, count] of counts)
    if (count >= HELD * known.length && known.length >= MIN_SAMPLES)
      return { code: `${PROPOSED_LEVEL}${level}`, message: `Level ${level} was held nearly all the way.` };
  return undefined;
}

function indices({ timeS }: CleanLog): number[] {
  return Array.from(timeS, (_, k) => k);
}
