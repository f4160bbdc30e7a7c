import type { Chemistry } from '../battery/index.js';

export interface PackModel {
  readonly chemistry: Chemistry;
  readonly seriesCells: number;
  readonly capacityAh: number;
  /** At 20 °C; rises towards the cold. */
  readonly resistanceOhm: number;
  readonly cutoffV: number;
}

export interface MotorModel {
  /** Back-EMF and torque constant at the motor shaft, V·s/rad = N·m/A. */
  readonly torqueConstant: number;
  readonly windingOhmAt25C: number;
  /** Motor turns per wheel turn (hub) or per crank turn (mid). */
  readonly gearRatio: number;
  readonly ironLossNm: number;
  readonly heatCapacityJPerK: number;
  readonly thermalResistanceKPerW: number;
  /** A winding that is warmer than the body around it, where the model has two nodes; heat capacity and resistance above are then the body's. */
  readonly winding?: { readonly heatCapacityJPerK: number; readonly thermalResistanceKPerW: number };
  readonly kind: 'hub' | 'mid';
  /** A geared hub freewheels: no iron drag and no regeneration when off. */
  readonly hasFreewheel: boolean;
}

export interface ControllerModel {
  readonly batteryCurrentLimitA: number;
  readonly phaseCurrentLimitA: number;
  readonly idleW: number;
  readonly cutBackFromC: number;
  readonly cutBackToC: number;
  /** Help fades to nothing over `taperMps` below this speed. */
  readonly speedLimitMps: number;
  readonly taperMps: number;
  readonly responseDelayS: number;
  readonly rampS: number;
  /** Share of full motor torque asked for by the level. */
  readonly levelShare: number;
  readonly regenerationCurrentA: number;
  /** Help goes on this long after pedalling stops; 0 where not given. */
  readonly runOnS?: number;
  /** Help goes on this long after the brake is pulled; 0 where not given. */
  readonly brakeCutoffS?: number;
}

export interface RiderModel {
  readonly powerW: number;
  readonly massKg: number;
  readonly targetSpeedMps: number;
  readonly brakingMps2: number;
}

export interface BikeModel {
  readonly massKg: number;
  readonly dragAreaM2: number;
  readonly rollingResistanceCoefficient: number;
  readonly wheelCircumferenceM: number;
  readonly rotatingMassFactor: number;
  /** Wheel turns per crank turn, for mid motors; one entry for a single speed. */
  readonly gears: readonly number[];
  readonly drivetrainEfficiency: number;
}

export interface RideModel {
  readonly pack: PackModel;
  readonly motor: MotorModel;
  readonly controller: ControllerModel;
  readonly rider: RiderModel;
  readonly bike: BikeModel;
}

/** What the rider does from a moment on, instead of riding at a target speed. */
export interface ScriptStep {
  readonly fromS: number;
  readonly pedals: boolean;
  readonly brakes: boolean;
  /** Assist level as the display shows it, and the share of full torque that it asks for. */
  readonly level: number;
  readonly levelShare: number;
  readonly riderW: number;
}

/** A place where the rider must stop (a door, a crossing) and for how long. */
export interface Stop {
  readonly distanceM: number;
  readonly dwellS: number;
}

export interface RideCourse {
  readonly lengthM: number;
  /** Points of the profile, distance increasing from 0 to `lengthM`; altitude is linear between them. */
  readonly profile: readonly { readonly distanceM: number; readonly altitudeM: number }[];
  readonly stops: readonly Stop[];
}

export interface RideConditions {
  readonly airDensity: number;
  readonly airTemperatureC: number;
  /** Wind speed, and its angle to the course's start direction; the course turns through a full circle. */
  readonly windMps: number;
  /** The wind blows along the course from its start to its end (head wind > 0) instead of turning with a loop. */
  readonly isWindAlong?: boolean;
  readonly startStateOfCharge: number;
  readonly startMotorC: number;
}
