import type { CleanLog } from '../../logs/index.js';
import { smoothProfile } from './climbing.js';
import type { RideDistance } from './ride-distance.js';
import { electricalPower } from './ride-integrals.js';
import { airDensityKgPerM3 } from '../../physics/index.js';
import { say, STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import { derivationQuantity as qty, derivationNumber as num, fromLimit, makeFigure } from '../figure.js';
import type { Contribution, Figure, FigureWarning } from '../figure.js';
import { airDensityOf, type TestContext } from '../test-context.js';

/** Reference conditions: 20 °C, 101 325 Pa, 50 % RH, no wind, 100 kg, level. */
export const REFERENCE_CONDITIONS = {
  airTemperatureC: 20,
  pressurePa: 101_325,
  relativeHumidity: 0.5,
  totalMassKg: 100,
} as const;

/** A correction beyond this factor leans more on the model than on the ride. */
const LARGEST_PLAIN_CORRECTION = 0.15;

interface Conditions {
  readonly airDensity: number;
  readonly totalMassKg: number;
  readonly dragAreaM2: number;
  readonly rolling: number;
  /** Mean of the head wind's square felt over a closed ride, (m/s)². */
  readonly windMps: number;
  /** Net rise per metre of way: what goes up and comes down again gives back what it took. */
  readonly climbPerMetre: number;
  /** Height per metre of way that braking downhill destroyed. */
  readonly brakedPerMetre: number;
}

/**
 * Net consumption put on reference conditions: measured × (work per metre at reference ÷ work per metre as ridden).
 * Work per metre = mean air drag + rolling + climbing, at the ride's own speeds. Undefined unless mass, drag area, rolling
 * coefficient and air temperature (or density) are known: a correction by guesses is none.
 */
export function correctToReference(
  net: Figure,
  log: CleanLog,
  distance: RideDistance,
  context: TestContext,
): { figure: Figure; warnings: FigureWarning[] } | undefined {
  const distanceKm = distance.distanceM / 1000;
  const { totalMassKg, cdaM2, crr } = context;
  const speed = log.channels.speed;
  if (totalMassKg === undefined || cdaM2 === undefined || crr === undefined || !speed) return undefined;
  const airDensity = airDensityOf(context);
  if (airDensity === undefined) return undefined;
  const heights = heightsOf(log, distance, { totalMassKg, cdaM2, crr, airDensity });
  const asRidden: Conditions = {
    airDensity,
    totalMassKg,
    dragAreaM2: cdaM2,
    rolling: crr,
    windMps: context.windMps ?? 0,
    climbPerMetre: heights.netM / (distanceKm * 1000),
    brakedPerMetre: heights.brakedM / (distanceKm * 1000),
  };
  const reference: Conditions = {
    ...asRidden,
    airDensity: airDensityKgPerM3(
      REFERENCE_CONDITIONS.airTemperatureC,
      REFERENCE_CONDITIONS.pressurePa,
      REFERENCE_CONDITIONS.relativeHumidity,
    ),
    totalMassKg: REFERENCE_CONDITIONS.totalMassKg,
    windMps: 0,
    climbPerMetre: 0,
    brakedPerMetre: 0,
  };
  const squares = meanSquareSpeed(speed);
  const ratioAt = (change: Partial<Conditions>): number =>
    workPerMetre({ ...reference, ...pick(change, ['dragAreaM2', 'rolling']) }, squares) /
    workPerMetre({ ...asRidden, ...change }, squares);
  const ratio = ratioAt({});
  const value = net.value * ratio;
  const sensitivity = (name: keyof Conditions, standardUncertainty: number, source: string): Contribution => {
    const effect = net.value * (ratioAt({ [name]: asRidden[name] + standardUncertainty }) - ratio);
    const isOfBike = name === 'dragAreaM2' || name === 'rolling';
    return { source, standardUncertainty: Math.abs(effect), ...(isOfBike && { effect }) };
  };
  const figure = makeFigure({
    key: 'netConsumptionAtReference',
    label: 'Net consumption at reference conditions',
    value,
    unit: 'Wh/km',
    n: net.n,
    contributions: [
      ...net.derivation.contributions.map(({ share: _share, ...c }) => ({
        ...c,
        standardUncertainty: c.standardUncertainty * ratio,
      })),
      sensitivity('dragAreaM2', fromLimit(0.15 * cdaM2), 'drag area'),
      sensitivity('rolling', fromLimit(0.25 * crr), 'rolling resistance'),
      sensitivity('windMps', 0.5, 'wind'),
      sensitivity('totalMassKg', fromLimit(2), 'mass'),
      ...(heights.isKnown
        ? [
            sensitivity(
              'brakedPerMetre',
              fromLimit((BRAKED_UNCERTAIN * heights.brakedM) / (distanceKm * 1000)),
              'braking downhill',
            ),
            sensitivity(
              'climbPerMetre',
              fromLimit(NET_HEIGHT_LIMIT_M / (distanceKm * 1000)),
              'height of start and finish',
            ),
          ]
        : []),
    ],
    formula: 'net consumption × work per metre at reference ÷ work per metre as ridden',
    substituted: say`${qty(net.value, 'Wh/km')} × ${num(ratio)} = ${qty(value, 'Wh/km')}`,
    inputs: ['netConsumption', 'speed', ...(heights.isKnown ? ['altitude'] : []), 'weather', 'mass', 'drag', 'rolling'],
  });
  const warnings: FigureWarning[] =
    Math.abs(ratio - 1) > LARGEST_PLAIN_CORRECTION
      ? [
          {
            code: 'large-correction',
            message: `Putting this ride on reference conditions changes it by ${Math.round((ratio - 1) * 100)} %: more than ${LARGEST_PLAIN_CORRECTION * 100} % leans on the model rather than on the ride.`,
          },
        ]
      : [];
  return { figure, warnings };
}

function workPerMetre(c: Conditions, meanSquareSpeedMps2: number): number {
  // On a closed course wind from ahead and behind cancels to first order and leaves its square.
  const drag = 0.5 * c.airDensity * c.dragAreaM2 * (meanSquareSpeedMps2 + c.windMps ** 2);
  return drag + c.totalMassKg * STANDARD_GRAVITY_MPS2 * (c.rolling + c.climbPerMetre + c.brakedPerMetre);
}

/** The height of a place may be off by so much; half of what braking destroyed is not known. */
const NET_HEIGHT_LIMIT_M = 3;
const BRAKED_UNCERTAIN = 0.5;
/** Below this share of the ride's highest power the drive is off. */
const DRIVE_OFF_SHARE = 0.1;
const STEEP_ENOUGH = -0.01;

interface Heights {
  readonly netM: number;
  readonly brakedM: number;
  readonly isKnown: boolean;
}
/**
 * Net rise of a ride, and the height that braking downhill destroyed, m: where the road falls and the drive is off, what the fall gives
 * beyond air, rolling and gain of speed.
 */
function heightsOf(
  { timeS, channels }: CleanLog,
  { cumulativeM }: RideDistance,
  { totalMassKg, cdaM2, crr, airDensity }: { totalMassKg: number; cdaM2: number; crr: number; airDensity: number },
): Heights {
  const profile = channels.altitude && smoothProfile(cumulativeM, channels.altitude);
  const { speed } = channels;
  if (!profile || !speed) return { netM: 0, brakedM: 0, isKnown: false };
  const powerW = electricalPower(channels)?.powerW;
  const most = powerW ? powerW.reduce((high, p) => (p > high ? p : high), 0) : 0;
  let brakedM = 0;
  let at = 0;
  let fromK = -1;
  // Over pieces of some seconds: within them what a speed jitters by is no braking.
  for (let k = 0; k < timeS.length; k++) {
    if (Number.isNaN(speed[k]!)) continue;
    if (fromK < 0) fromK = k;
    if (timeS[k]! - timeS[fromK]! < PIECE_S) continue;
    const metres = cumulativeM[k]! - cumulativeM[fromK]!;
    const middle = (cumulativeM[k]! + cumulativeM[fromK]!) / 2;
    while (at + 1 < profile.distanceM.length && profile.distanceM[at + 1]! < middle) at++;
    const grade = profile.gradeFraction[at]!;
    let isOff = true;
    for (let j = fromK; powerW && j <= k && isOff; j++) isOff = !(powerW[j]! > DRIVE_OFF_SHARE * most);
    const [v0, v1] = [speed[fromK]!, speed[k]!];
    if (isOff && metres > 1 && grade < STEEP_ENOUGH) {
      const drag = 0.5 * airDensity * cdaM2 * ((v0 + v1) / 2) ** 2;
      const gained = (v1 ** 2 - v0 ** 2) / (2 * STANDARD_GRAVITY_MPS2 * metres);
      const destroyed = -grade - crr - drag / (totalMassKg * STANDARD_GRAVITY_MPS2) - gained;
      brakedM += Math.max(0, destroyed) * metres;
    }
    fromK = k;
  }
  return { netM: profile.altitudeM.at(-1)! - profile.altitudeM[0]!, brakedM, isKnown: true };
}
const PIECE_S = 5;

/** Mean of v² per metre ridden: ∫v³dt ÷ ∫v dt for evenly sampled speed. */
function meanSquareSpeed(speed: Float64Array): number {
  let cubes = 0;
  let sum = 0;
  for (const v of speed) {
    if (!(v > 0)) continue;
    cubes += v * v * v;
    sum += v;
  }
  return sum > 0 ? cubes / sum : 0;
}

function pick(change: Partial<Conditions>, names: readonly (keyof Conditions)[]): Partial<Conditions> {
  return Object.fromEntries(Object.entries(change).filter(([name]) => names.includes(name as keyof Conditions)));
}
