import type { Chemistry } from '../battery/index.js';

/**
 * What is known of the things on the bench. `null` is "not known": a check says so, it never guesses.
 * Lengths that are read off a caliper or a standard stay in millimetres, as the field writes them; the unit is in the name.
 */

export type MotorKind = 'front-hub' | 'rear-hub-geared' | 'rear-hub-direct' | 'mid';
export type Place = 'front-wheel' | 'handlebar' | 'frame' | 'rear-wheel' | 'front-rack' | 'rear-rack' | 'trailer';
export type Material = 'steel' | 'aluminium' | 'carbon' | 'titanium';
export type CogMount = 'freewheel' | 'cassette' | 'single' | 'hub-gear';
export type BrakeKind = 'disc' | 'rim' | 'drum' | 'coaster' | 'none';
export type ShellKind = 'threaded' | 'pressed' | 'one-piece' | 'other';
export type MountKind = 'bosses' | 'rivet-nuts' | 'straps' | 'glued' | 'rear-rack' | 'front-rack' | 'bag' | 'trailer';

export interface Price {
  readonly amount: number;
  /** ISO 4217. */
  readonly currency: string;
  /** ISO day on which it was seen. */
  readonly date: string;
}
/** What the seller says; set against what is measured, never used as a measurement. */
export interface Claims {
  readonly rangeKm: number | null;
  readonly speedKmh: number | null;
  readonly chargeTimeH: number | null;
  readonly massKg: number | null;
  readonly powerW: number | null;
  readonly payloadKg?: number | null;
  /** Upper end of a claimed span; energy of the pack it is claimed for; under what. Absent in parts stored before. */
  readonly rangeToKm?: number | null;
  readonly energyWh?: number | null;
  readonly way?: string | null;
  readonly atSpeedKmh?: number | null;
  readonly riderMassKg?: number | null;
  readonly source?: string;
}

/** Inside lengths of the main frame, taken with a tape between the corners. */
export interface FrameMeasures {
  /** Bottom-bracket corner to the corner of seat tube and top tube. */
  readonly seatTubeMm: number | null;
  readonly topTubeMm: number | null;
  readonly headTubeMm: number | null;
  readonly downTubeMm: number | null;
  /** Bottom-bracket corner to the corner of top tube and head tube. */
  readonly diagonalMm: number | null;
}

export interface BikeFacts {
  readonly name: string;
  readonly massKg: number | null;
  /** Share of the bike's own mass on the front wheel. */
  readonly frontShare: number | null;
  readonly wheelCircumferenceM: number | null;
  readonly rimDiameterMm: number | null;
  readonly frontDropoutMm: number | null;
  readonly rearDropoutMm: number | null;
  readonly frontAxle: 'open' | 'thru' | null;
  readonly rearAxle: 'open' | 'thru' | null;
  readonly frontDropoutMaterial: Material | null;
  readonly rearDropoutMaterial: Material | null;
  readonly dropoutSlotMm: number | null;
  readonly dropoutThicknessMm: number | null;
  readonly cogMount: CogMount | null;
  readonly cogStackMm: number | null;
  readonly chainringTeeth: readonly number[];
  readonly cogTeeth: readonly number[];
  readonly chainLineMm: number | null;
  readonly frontBrake: BrakeKind | null;
  readonly rearBrake: BrakeKind | null;
  readonly frontRotorMm: number | null;
  readonly rearRotorMm: number | null;
  /** Levers that pull a cable, a hose, or are one piece with the shifter. */
  readonly brakeLever: 'cable' | 'hydraulic' | 'combined' | null;
  readonly shellKind: ShellKind | null;
  readonly shellWidthMm: number | null;
  readonly frame: FrameMeasures | null;
  readonly mountPoints: 'bosses' | 'none' | null;
  readonly rackLimitKg: number | null;
  readonly frontTyreLimitKg: number | null;
  readonly rearTyreLimitKg: number | null;
  readonly totalLimitKg: number | null;
  readonly crankGapMm: number | null;
  readonly handlebarFreeMm: number | null;
  readonly isFolding: boolean | null;
  readonly price: Price | null;
}

/** One thing in the kit's box; `place` says where its mass sits once fitted. */
export interface BoxItem {
  readonly what: string;
  readonly massKg: number | null;
  readonly place: Place;
}

export interface KitFacts {
  readonly name: string;
  readonly motorKind: MotorKind;
  readonly ratedPowerW: number | null;
  readonly nominalVoltageV: number | null;
  /** Wheel (hub) or chainring (mid) speed with no load at the nominal voltage. */
  readonly noLoadRpm: number | null;
  /** The same per volt, where the winding is stated that way. */
  readonly rpmPerVolt: number | null;
  readonly gearRatio: number | null;
  /** At the wheel (hub) or the crank (mid). */
  readonly maxTorqueNm: number | null;
  readonly controllerPlace: 'inside' | 'outside' | null;
  readonly currentLimitA: number | null;
  readonly peakCurrentA: number | null;
  readonly cutoffV: number | null;
  /** Highest battery voltage that controller and display are rated for. */
  readonly controllerMaxV: number | null;
  readonly displayMaxV: number | null;
  readonly sensor: 'cadence' | 'torque' | 'both' | 'none' | null;
  readonly brakeSwitches: 'lever' | 'in-line' | 'none' | null;
  readonly throttle: 'thumb' | 'twist' | 'none' | null;
  readonly display: string;
  readonly axleWidthMm: number | null;
  readonly axleDiameterMm: number | null;
  readonly axleFlatsMm: number | null;
  readonly cogMount: 'freewheel' | 'cassette' | 'none' | null;
  /** From the motor's cover to the face that meets the dropout, on the side of the chain. */
  readonly cogSpaceMm: number | null;
  readonly discMount: boolean | null;
  readonly discBossDepthMm: number | null;
  readonly shellKinds: readonly ShellKind[];
  /** Longest shell the spindle of a mid motor is made for. */
  readonly shellWidthMm: number | null;
  readonly chainLineMm: number | null;
  readonly crankSensorMm: number | null;
  readonly handlebarRoomMm: number | null;
  readonly rimDiameterMm: number | null;
  readonly torqueArms: number | null;
  readonly torqueArmNm: number | null;
  readonly nutTorqueNm: number | null;
  readonly connectorA: number | null;
  readonly wireMm2: number | null;
  readonly wireLengthM: number | null;
  /** Of the whole kit; where the box is listed with masses, those count. */
  readonly massKg: number | null;
  readonly box: readonly BoxItem[];
  readonly price: Price | null;
  readonly claims: Claims | null;
}

export interface PackFacts {
  readonly name: string;
  readonly chemistry: Chemistry;
  readonly seriesCells: number | null;
  readonly parallelCells: number | null;
  readonly nominalVoltageV: number | null;
  readonly capacityAh: number | null;
  readonly usableShare: number | null;
  readonly measuredEnergyWh: number | null;
  readonly measuredEnergyUncertaintyWh: number | null;
  readonly protectionContinuousA: number | null;
  readonly protectionPeakA: number | null;
  readonly protectionCutoffV: number | null;
  readonly maxChargeA: number | null;
  readonly resistanceOhm: number | null;
  readonly connectorA: number | null;
  readonly fuseA: number | null;
  readonly lengthMm: number | null;
  readonly heightMm: number | null;
  readonly widthMm: number | null;
  readonly mountKind: MountKind | null;
  /** Height of the rail between tube and pack. */
  readonly railMm: number | null;
  readonly gaugeKind: 'none' | 'lights' | 'bars' | 'percent' | 'voltage' | null;
  readonly gaugeSteps: number | null;
  readonly massKg: number | null;
  readonly price: Price | null;
  readonly claims: Claims | null;
}

export interface ChargerFacts {
  readonly name: string;
  readonly chemistry: Chemistry | null;
  readonly outputV: number | null;
  readonly outputA: number | null;
  /** Energy into the pack per energy from the socket. */
  readonly efficiency: number | null;
  readonly price: Price | null;
}

export type AddOnKind =
  | 'torque-arm'
  | 'pack-joiner'
  | 'cooling-fins'
  | 'cooling-fluid'
  | 'chainring'
  | 'tyres'
  | 'brake-rotor'
  | 'brake-switches'
  | 'trailer'
  | 'rack'
  | 'other';

export interface AddOnFacts {
  readonly name: string;
  readonly kind: AddOnKind;
  readonly place: Place;
  readonly massKg: number | null;
  /** Joiner. */
  readonly ratedA: number | null;
  /** Torque arm. */
  readonly torqueNm: number | null;
  /** Chainring. */
  readonly teeth: number | null;
  /** Tyres: each; trailer, rack: what it may carry. */
  readonly limitKg: number | null;
  readonly wheelCircumferenceM: number | null;
  /** Brake rotor. */
  readonly rotorMm: number | null;
  /** Cooling fluid. */
  readonly doseMl: number | null;
  readonly price: Price | null;
}
