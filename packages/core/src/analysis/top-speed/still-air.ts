import { findRoot, mean } from '../../numeric/index.js';
import { dragForceN, rollingForceN } from '../../physics/index.js';
import type { Warn } from '../figure.js';
import { airDensityOf, type TestContext } from '../test-context.js';
import type { SpeedPass } from './measure-passes.js';

/** Wind up to this share of the slower direction's speed is looked for. */
const WIND_SHARE = 0.9;
/** The speed in still air lies within this share of the two directions' mean. */
const SPEED_SHARE = 0.3;

/**
 * Speed in still air, km/h: wind and drive force are those that make both directions' speeds fit their measured powers
 * (½ρC_dA(v ± w)² + rolling = η·P/v); between the two speeds the drive force is linear, and meets the force in still air.
 * Undefined, with a warning, where the setup's data or the speeds do not carry it.
 */
export function stillAirSpeed(
  there: readonly SpeedPass[],
  back: readonly SpeedPass[],
  context: TestContext,
  warn: Warn,
): number | undefined {
  const { totalMassKg, cdaM2, crr } = context;
  const density = airDensityOf(context);
  if (totalMassKg === undefined || cdaM2 === undefined || crr === undefined || density === undefined) {
    warn(
      'no-still-air',
      'Top speed in still air needs mass, drag area, rolling resistance and air: add what is missing on the bench.',
    );
    return undefined;
  }
  const [v1, v2] = [there, back].map((group) => mean(group.map(({ steadySpeed }) => steadySpeed)) / 3.6) as [
    number,
    number,
  ];
  const [p1, p2] = [meanPower(there), meanPower(back)];
  if (p1 === undefined || p2 === undefined)
    warn('no-power', 'Without power in the log both directions are taken to be ridden with the same.');
  const rolling = rollingForceN({ totalMassKg, rollingResistanceCoefficient: crr, dragAreaM2: cdaM2 }, 0);
  const force = (v: number, w: number): number => dragForceN(density, cdaM2, v, w) + rolling;
  // Same efficiency both ways: the ratio of forces is that of P/v.
  const imbalance = (w: number): number => (force(v1, w) * v1) / (p1 ?? 1) - (force(v2, -w) * v2) / (p2 ?? 1);
  const reach = WIND_SHARE * Math.min(v1, v2);
  if (imbalance(-reach) > 0 === imbalance(reach) > 0) {
    warn(
      'no-still-air',
      'The speeds of the two directions do not fit any wind with these powers: no speed in still air.',
    );
    return undefined;
  }
  const wind = findRoot(imbalance, -reach, reach, 1e-9);
  const [f1, f2] = [force(v1, wind), force(v2, -wind)];
  // Nearly the same speeds: the force hardly changes, and the level of it is all there is.
  const slope = Math.abs(v2 - v1) < 1e-6 ? 0 : (f2 - f1) / (v2 - v1);
  const surplus = (v: number): number => f1 + slope * (v - v1) - force(v, 0);
  const centre = (v1 + v2) / 2;
  const [low, high] = [(1 - SPEED_SHARE) * centre, (1 + SPEED_SHARE) * centre];
  if (surplus(low) > 0 === surplus(high) > 0) return undefined;
  return 3.6 * findRoot(surplus, low, high, 1e-9);
}

/** W; undefined where a pass of the direction has none. */
function meanPower(passes: readonly SpeedPass[]): number | undefined {
  const known = passes.flatMap(({ powerW }) => powerW ?? []);
  return known.length === passes.length ? mean(known) : undefined;
}
