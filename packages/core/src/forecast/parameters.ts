import { openCircuitVoltage, type Chemistry } from '../battery/index.js';

/** What the calibration learns. All are positive and learned as logarithms, but the two that shift the curve of the cells. */
export const PARAMETERS = {
  dragArea: { label: 'drag area', unit: 'm²', group: 'resistance' },
  rolling: { label: 'rolling resistance', unit: '', group: 'resistance' },
  driveEfficiency: { label: 'share of the power that gets to the tyre', unit: '', group: 'motor' },
  copperLoss: { label: 'loss that grows with pull', unit: 'W/N²', group: 'motor' },
  ironDrag: { label: 'drag inside the motor', unit: 'N', group: 'motor' },
  idlePower: { label: 'power of the electronics', unit: 'W', group: 'motor' },
  fullCurrent: { label: 'battery current at the most help', unit: 'A', group: 'motor' },
  fullForce: { label: 'pull at the most help', unit: 'N', group: 'motor' },
  noLoadSpeed: { label: 'speed with the wheel free', unit: 'm/s', group: 'motor' },
  packResistance: { label: 'resistance of the pack at once', unit: 'Ω', group: 'pack' },
  slowResistance: { label: 'what it gains within a minute', unit: 'Ω', group: 'pack' },
  cellOffset: { label: 'cell voltage above the usual curve', unit: 'V', group: 'pack' },
  cellSlope: { label: 'how much steeper than the usual curve', unit: 'V', group: 'pack' },
  capacity: { label: 'charge from full to empty', unit: 'Ah', group: 'pack' },
  sensorHeat: { label: 'heat to warm the winding', unit: 'J/K', group: 'heat' },
  bodyHeat: { label: 'heat to warm the motor’s body', unit: 'J/K', group: 'heat' },
  sensorToBody: { label: 'heat from winding to body', unit: 'W/K', group: 'heat' },
  toStillAir: { label: 'heat to still air', unit: 'W/K', group: 'heat' },
  toMovingAir: { label: 'heat to the air, more for each m/s', unit: 'W·s/(K·m)', group: 'heat' },
  controllerByPull: { label: 'controller warmer by pull, standing', unit: 'K/N²', group: 'controller' },
  controllerByPower: { label: 'controller warmer by power, standing', unit: 'K/W', group: 'controller' },
  controllerSeconds: { label: 'time in which the controller warms', unit: 's', group: 'controller' },
  controllerWind: { label: 'controller cooled by riding, a share for each m/s', unit: 's/m', group: 'controller' },
} as const satisfies Record<
  string,
  { label: string; unit: string; group: 'resistance' | 'motor' | 'pack' | 'heat' | 'controller' }
>;
export type ParameterName = keyof typeof PARAMETERS;
export type Parameters = { readonly [P in ParameterName]: number };
export const PARAMETER_NAMES = Object.keys(PARAMETERS) as ParameterName[];
const LINEAR: ReadonlySet<ParameterName> = new Set(['cellOffset', 'cellSlope']);

export interface Prior {
  readonly value: number;
  /** Of the logarithm; of the value itself for the shifts of the cells' curve. */
  readonly sd: number;
}
export type Priors = { readonly [P in ParameterName]: Prior };

/** What the bench or a tester knows of a setup; all optional. SI; Ah, V, °C. */
export interface KnownOfBike {
  readonly chemistry?: Chemistry;
  readonly seriesCells?: number;
  readonly nominalVoltageV?: number;
  readonly capacityAh?: number;
  /** Of the capacity, between full and cut-off. */
  readonly usableShare?: number;
  readonly packOhm?: number;
  readonly cutoffV?: number;
  readonly dragAreaM2?: number;
  readonly rolling?: number;
  readonly wheelCircumferenceM?: number;
  readonly motorKind?: 'geared hub' | 'direct hub' | 'mid';
  readonly currentLimitA?: number;
  readonly maxTorqueNm?: number;
  readonly noLoadMps?: number;
  /** Where help ends. */
  readonly speedLimitMps?: number;
  readonly temperatureLimitC?: number;
  /** What rides of another setup on the same bike taught of what both share; wins over what is usual, not over what was stated. */
  readonly ofSameBike?: { readonly dragArea?: Prior; readonly rolling?: Prior };
}

/** What is taken as it is and not learned. */
export interface FixedOfBike {
  readonly chemistry: Chemistry;
  readonly seriesCells: number;
  readonly nominalVoltageV: number;
  readonly cutoffV: number;
  /** Where help ends; null where nothing ends it. */
  readonly speedLimitMps: number | null;
  readonly temperatureLimitC: number | null;
  readonly isGeared: boolean;
  readonly isAlwaysTurning: boolean;
}

const NOMINAL_CELL_V = { 'li-ion-nmc': 3.6, 'li-ion-lfp': 3.2, 'lead-acid': 2 } as const;
const CUTOFF_CELL_V = { 'li-ion-nmc': 3, 'li-ion-lfp': 2.6, 'lead-acid': 1.75 } as const;
const USUAL_CELLS = 13;
/** Of the charge on the label, what a pack in use gives. */
const USUAL_USABLE = 0.95;
const USUAL_CIRCUMFERENCE_M = 2.1;

export function fixedOf(known: KnownOfBike): FixedOfBike {
  const chemistry = known.chemistry ?? 'li-ion-nmc';
  const cellV = NOMINAL_CELL_V[chemistry];
  const seriesCells =
    known.seriesCells ?? (known.nominalVoltageV ? Math.round(known.nominalVoltageV / cellV) : USUAL_CELLS);
  return {
    chemistry,
    seriesCells,
    nominalVoltageV: known.nominalVoltageV ?? seriesCells * cellV,
    cutoffV: known.cutoffV ?? seriesCells * CUTOFF_CELL_V[chemistry],
    speedLimitMps: known.speedLimitMps ?? null,
    temperatureLimitC: known.temperatureLimitC ?? null,
    isGeared: known.motorKind === 'mid',
    isAlwaysTurning: known.motorKind === 'direct hub',
  };
}

/** By kind of motor: drag inside, W/N² of copper, and its heat. After the usual masses of winding, stator and shell. */
const MOTORS = {
  'geared hub': { iron: 2.2, copper: 0.007, sensor: 350, body: 1500, between: 6, still: 1.2, moving: 0.12 },
  'direct hub': { iron: 3.3, copper: 0.012, sensor: 900, body: 3000, between: 10, still: 1.8, moving: 0.2 },
  mid: { iron: 1.6, copper: 0.006, sensor: 300, body: 1500, between: 6, still: 1.3, moving: 0.08 },
} as const;

/**
 * What is thought of a bike before it has ridden: facts that are known with the doubt there is about such facts, else the usual
 * with a span that holds nearly all conversions of the kind (σ of logarithms; ± 2 σ is the span).
 */
export function priorsOf(known: KnownOfBike): Priors {
  const { seriesCells, nominalVoltageV } = fixedOf(known);
  const motor = MOTORS[known.motorKind ?? 'geared hub'];
  const kindDoubt = known.motorKind ? 0 : 0.2;
  const learned = (fact: number | undefined, doubt: number, usual: number, span: number): Prior =>
    fact !== undefined && fact > 0 ? { value: fact, sd: doubt } : { value: usual, sd: span };
  const circumferenceM = known.wheelCircumferenceM ?? USUAL_CIRCUMFERENCE_M;
  const fullCurrent = learned(known.currentLimitA, 0.1, 16, 0.4);
  const ohm = learned(known.packOhm, 0.2, 0.009 * seriesCells, 0.4);
  return {
    dragArea: learned(
      known.dragAreaM2,
      0.08,
      known.ofSameBike?.dragArea?.value ?? 0.58,
      known.ofSameBike?.dragArea?.sd ?? 0.22,
    ),
    rolling: learned(
      known.rolling,
      0.12,
      known.ofSameBike?.rolling?.value ?? 0.0085,
      known.ofSameBike?.rolling?.sd ?? 0.35,
    ),
    driveEfficiency: { value: known.motorKind === 'mid' ? 0.9 : 0.93, sd: 0.05 },
    copperLoss: { value: motor.copper, sd: 0.8 + kindDoubt },
    ironDrag: { value: motor.iron, sd: 0.6 + kindDoubt },
    idlePower: { value: 3, sd: 0.5 },
    fullCurrent,
    fullForce: learned(
      known.maxTorqueNm && (known.maxTorqueNm * 2 * Math.PI) / circumferenceM,
      0.25,
      (45 * 2 * Math.PI) / circumferenceM,
      0.5,
    ),
    noLoadSpeed: learned(known.noLoadMps, 0.05, (1.5 * nominalVoltageV) / 5.3, 0.4),
    packResistance: ohm,
    slowResistance: { value: 0.35 * ohm.value, sd: 0.7 },
    cellOffset: { value: 0, sd: 0.025 },
    cellSlope: { value: 0, sd: 0.3 },
    capacity: learned(
      known.capacityAh && known.capacityAh * (known.usableShare ?? USUAL_USABLE),
      known.usableShare === undefined ? 0.04 : 0.03,
      13,
      0.35,
    ),
    sensorHeat: { value: motor.sensor, sd: 0.7 + kindDoubt },
    bodyHeat: { value: motor.body, sd: 0.5 + kindDoubt },
    sensorToBody: { value: motor.between, sd: 0.7 + kindDoubt },
    toStillAir: { value: motor.still, sd: 0.5 + kindDoubt },
    toMovingAir: { value: motor.moving, sd: 0.7 + kindDoubt },
    // A case in still air: some 25 K at full pull and 12 K at 700 W, half of it after ten minutes.
    controllerByPull: { value: 1.1e-3, sd: 0.8 },
    controllerByPower: { value: 0.017, sd: 0.8 },
    controllerSeconds: { value: 900, sd: 0.6 },
    controllerWind: { value: 0.1, sd: 0.8 },
  };
}

/** V of one cell at rest, by the usual curve as this pack shifts it. Below three tenths of the charge a shift is not carried on. */
export function cellVoltage({ chemistry }: FixedOfBike, share: number, offsetV: number, slopeV: number): number {
  return openCircuitVoltage(chemistry, share) + offsetV + slopeV * (Math.max(0.3, Math.min(1, share)) - 0.6);
}

/** From the scale on which it is learned to its own. */
export function fromScale(name: ParameterName, learned: number): number {
  if (LINEAR.has(name)) return learned;
  const value = Math.exp(learned);
  return name === 'driveEfficiency' ? Math.min(1, value) : value;
}

export function toScale(name: ParameterName, value: number): number {
  return LINEAR.has(name) ? value : Math.log(value);
}
