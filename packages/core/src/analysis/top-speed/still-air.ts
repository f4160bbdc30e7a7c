import { findRoot, mean } from '../../numeric/index.js';
import { dragForceN, rollingForceN } from '../../physics/index.js';
import type { Warn } from '../figure.js';
import { airDensityOf, type TestContext } from '../test-context.js';
import type { DriveCurve } from './drive-curve.js';
import type { SpeedPass } from './measure-passes.js';

/** Wind up to this share of the slower direction's speed is looked for. */
const WIND_SHARE = 0.9;
/** The speed in still air lies within this share of the two directions' mean. */
const SPEED_SHARE = 0.3;

/**
 * Speed in still air, km/h: wind and drive force are those that make both directions' speeds fit their measured powers
 * (½ρC_dA(v ± w)² + rolling = η·P/v); between the two speeds the drive force is linear, or, where the current limit binds the slower and
 * not the faster of them, of constant power up to the speed at which the log shows the current leave its limit. It meets the force in still
 * air. `kinkKmh` is what is not known of that.
 * Undefined, with a warning, where the setup's data or the speeds do not carry it.
 */
export function stillAirSpeed(
  there: readonly SpeedPass[],
  back: readonly SpeedPass[],
  context: TestContext,
  warn: Warn,
  drive?: DriveCurve,
): { readonly kmh: number; readonly kinkKmh: number } | undefined {
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
  const centre = (v1 + v2) / 2;
  const [low, high] = [(1 - SPEED_SHARE) * centre, (1 + SPEED_SHARE) * centre];
  const meets = (driveN: (v: number) => number): number | undefined => {
    const surplus = (v: number): number => driveN(v) - force(v, 0);
    return surplus(low) > 0 === surplus(high) > 0 ? undefined : findRoot(surplus, low, high, 1e-9);
  };
  const straight = meets((v) => f1 + slope * (v - v1));
  if (straight === undefined) return undefined;
  const isThereSlower = v1 < v2;
  const [slower, faster] = isThereSlower ? [there, back] : [back, there];
  const kinkMps = drive && kinkBetween(drive, slower, faster);
  if (kinkMps === undefined) return { kmh: 3.6 * straight, kinkKmh: 0 };
  const [vs, fs, vf, ff] = isThereSlower ? [v1, f1, v2, f2] : [v2, f2, v1, f1];
  const kinked = (['held current', 'held force'] as const).map((below) => {
    const before = (v: number): number => (below === 'held current' ? (fs * vs) / v : fs);
    const atKink = before(kinkMps);
    return (
      meets((v) =>
        v <= kinkMps ? before(v) : atKink + ((ff - atKink) * (v - kinkMps)) / Math.max(1e-6, vf - kinkMps),
      ) ?? straight
    );
  }) as [number, number];
  // A limit of the battery's current holds the power, one of the motor's current the force: which of them it is, the log does not say.
  const value = (kinked[0] + kinked[1]) / 2;
  return {
    kmh: 3.6 * value,
    kinkKmh: 3.6 * (Math.abs(kinked[0] - kinked[1]) / 2 + KINK_UNCERTAIN * Math.abs(value - straight)),
  };
}
/** Of what the kink makes of the speed, so much is not known. */
const KINK_UNCERTAIN = 0.3;
const AT_LIMIT = 0.95;
const BELOW_LIMIT = 0.9;
/** Where the drive changes from its current limit to its voltage, m/s, if it does so between the two directions' speeds. */
function kinkBetween(
  { limitA, kinkMps, currentOf }: DriveCurve,
  slower: readonly SpeedPass[],
  faster: readonly SpeedPass[],
): number | undefined {
  const share = (group: readonly SpeedPass[]): number => mean(group.map(currentOf)) / limitA;
  if (!(share(slower) > AT_LIMIT && share(faster) < BELOW_LIMIT)) return undefined;
  const [vs, vf] = [slower, faster].map((group) => mean(group.map(({ steadySpeed }) => steadySpeed)) / 3.6);
  return Math.min(vf! - 1e-3, Math.max(vs!, kinkMps));
}

/** W; undefined where a pass of the direction has none. */
function meanPower(passes: readonly SpeedPass[]): number | undefined {
  const known = passes.flatMap(({ powerW }) => powerW ?? []);
  return known.length === passes.length ? mean(known) : undefined;
}
