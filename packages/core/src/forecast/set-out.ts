import { knowsController, type Calibration, type Group } from './calibrate.js';
import type { Parameters } from './parameters.js';
import type { PathAir, PathBike, PathRiding } from './path.js';
import { airOf, type Scenario } from './scenario.js';

const DAY = {
  /** A wind that was measured; one that was chosen in words, and what its strength adds; one of which nothing was said. m/s. */
  windStated: 0.3,
  windInWords: 0.4,
  windShare: 0.25,
  windUnknown: 1.3,
  riderStated: 0.06,
  riderUsual: 0.25,
  demand: 0.015,
  startShare: 0.01,
  airK: 1,
  massKg: 0.4,
} as const;
const USUAL_RIDER_W = 80;
export const USUAL_AIR_C = 15;
export const USUAL_RESERVE = 0.1;
/** A day's luck beside the parameters, in standard normals. */
export interface Day {
  readonly wind: number;
  /** Across, where the way turns. */
  readonly windAcross: number;
  readonly rider: number;
  readonly demand: number;
  readonly start: number;
  readonly air: number;
  readonly mass: number;
  readonly ramp: number;
  readonly regain: number;
}
export const DAY_GROUPS: Record<keyof Day, Group> = {
  wind: 'wind',
  windAcross: 'wind',
  rider: 'rider',
  demand: 'rider',
  start: 'pack',
  air: 'day',
  mass: 'day',
  ramp: 'rider',
  regain: 'motor',
};
export const DAY_KEYS = [
  'wind',
  'windAcross',
  'rider',
  'demand',
  'start',
  'air',
  'mass',
  'ramp',
  'regain',
] as const satisfies readonly (keyof Day)[];
export const CALM_DAY: Day = {
  wind: 0,
  windAcross: 0,
  rider: 0,
  demand: 0,
  start: 0,
  air: 0,
  mass: 0,
  ramp: 0,
  regain: 0,
};

/** Bike, riding, air and start of one path. */
export function setOut(
  { fixed, command, motion, regain, parts }: Calibration,
  scenario: Scenario,
  parameters: Parameters,
  day: Day,
  lengthM: number,
): {
  bike: PathBike;
  riding: PathRiding;
  air: PathAir;
  start: { share: number; motorC: number; speedMps: number };
} {
  const { riding, secondPack } = scenario;
  const air = airOf(scenario, USUAL_AIR_C);
  const temperatureC = air.temperatureC + DAY.airK * day.air;
  const level = riding.level === undefined ? undefined : command.levels.find((seen) => seen.level === riding.level);
  const demand = riding.demand ?? (level ? level.demand + level.sd * day.demand : 1);
  const { mean: told, sd: fromRideToRide } = motion.rider;
  const riderDoubt = Math.hypot(
    riding.riderPowerW === undefined ? DAY.riderUsual : DAY.riderStated,
    motion.isRiderTold ? fromRideToRide : 0,
  );
  const stops = Math.floor(((riding.stopsPerKm ?? 0) * lengthM) / 1000);
  const isTogether = secondPack && secondPack.use !== 'in turn';
  const share = isTogether ? parameters.capacity / (parameters.capacity + secondPack.capacityAh) : 1;
  return {
    bike: {
      parameters: {
        ...parameters,
        capacity: parameters.capacity / share,
        // A second pack is taken to resist as the first does for its size.
        packResistance: parameters.packResistance * share,
        slowResistance: parameters.slowResistance * share,
      },
      fixed,
      knowsController: knowsController({ parts }),
      law: command.law,
      ...(secondPack &&
        !isTogether && {
          nextPack: {
            capacityAh: secondPack.capacityAh,
            resists: parameters.capacity / secondPack.capacityAh,
          },
        }),
      ...(command.riderRatio && {
        riderRatio: command.riderRatio.value * Math.exp(command.riderRatio.sd * day.demand),
      }),
      ...(regain && { regain: { ...regain, share: regain.share * Math.exp(regain.sd * day.regain) } }),
      massKg: scenario.totalMassKg + (secondPack?.massKg ?? 0) + DAY.massKg * day.mass,
      cutBackFromC: fixed.temperatureLimitC ?? Infinity,
      cutBackToC: (fixed.temperatureLimitC ?? Infinity) + 20,
    },
    riding: {
      demand: Math.min(1, Math.max(0, demand * Math.exp(level ? 0 : DAY.demand * day.demand))),
      targetMps: riding.targetSpeedKmh === undefined ? Infinity : riding.targetSpeedKmh / 3.6,
      riderW:
        (riding.riderPowerW ?? USUAL_RIDER_W) * Math.exp((motion.isRiderTold ? told : 0) + riderDoubt * day.rider),
      stopsM: Array.from({ length: stops }, (_, k) => ((k + 0.5) * lengthM) / stops),
      dwellS: 12,
      rampS: 1 + 0.4 * Math.max(-2, Math.min(2, day.ramp)),
    },
    air: {
      temperatureC,
      density: air.density * (1 - (DAY.airK * day.air) / 290),
      ...windOf(scenario, day),
    },
    start: {
      share: Math.min(1, scenario.startShare + DAY.startShare * day.start),
      motorC: scenario.startMotorC ?? temperatureC,
      speedMps: 2,
    },
  };
}

/** The wind of a day about what was stated, in the frame of the way's headings. */
function windOf({ windMps, wind }: Scenario, day: Day): Pick<PathAir, 'headWindMps' | 'sideWindMps'> {
  const doubt = wind
    ? Math.hypot(DAY.windInWords, DAY.windShare * wind.mps)
    : windMps === undefined
      ? DAY.windUnknown
      : DAY.windStated;
  const from = ((wind?.fromDeg ?? 0) * Math.PI) / 180;
  const mps = wind?.mps ?? windMps ?? 0;
  return {
    headWindMps: mps * Math.cos(from) + doubt * day.wind,
    sideWindMps: mps * Math.sin(from) + doubt * day.windAcross,
  };
}
