import { z } from 'zod';
import { effortSchema } from './riding.js';
import {
  daySchema,
  nameSchema,
  notesSchema,
  positiveOrUnknown,
  shareOrUnknown,
  storedFields,
  zeroOrMoreOrUnknown,
} from './common.js';

export const chemistrySchema = z.enum(['li-ion-nmc', 'li-ion-lfp', 'lead-acid']);
export const motorKindSchema = z.enum(['front-hub', 'rear-hub-geared', 'rear-hub-direct', 'mid']);
export const placeSchema = z.enum([
  'front-wheel',
  'handlebar',
  'frame',
  'rear-wheel',
  'front-rack',
  'rear-rack',
  'trailer',
]);
const oneOf = <const T extends readonly [string, ...string[]]>(values: T) => z.enum(values).nullable().default(null);
const whole = (most: number) => z.int('Write a whole number.').min(0).max(most).nullable().default(null);
const materialSchema = oneOf(['steel', 'aluminium', 'carbon', 'titanium']);
const brakeSchema = oneOf(['disc', 'rim', 'drum', 'coaster', 'none']);
const shellSchema = z.enum(['threaded', 'pressed', 'one-piece', 'other']);
const teethSchema = z.array(z.int().min(6, 'At least 6 teeth.').max(80, 'At most 80 teeth.')).max(14).default([]);
const mm = (most: number) => positiveOrUnknown(most);

export const priceSchema = z.strictObject({
  amount: z.number().min(0).max(1_000_000),
  currency: z.string().regex(/^[A-Z]{3}$/, 'Three capital letters, for example EUR.'),
  date: daySchema,
});
export const claimsSchema = z.strictObject({
  rangeKm: positiveOrUnknown(1000),
  speedKmh: positiveOrUnknown(120),
  chargeTimeH: positiveOrUnknown(100),
  massKg: positiveOrUnknown(80),
  powerW: positiveOrUnknown(20_000),
  payloadKg: positiveOrUnknown(300),
  /** Upper end of a claimed span of ranges: "40 to 80 km". */
  rangeToKm: positiveOrUnknown(1000),
  /** Energy of the pack that the range is claimed for. */
  energyWh: positiveOrUnknown(10_000),
  /** Full cycles that the pack is said to last. */
  cycles: positiveOrUnknown(20_000),
  warrantyMonths: positiveOrUnknown(240),
  /** Under what it is claimed; unknown where the seller does not say. */
  way: effortSchema.nullable().default(null),
  atSpeedKmh: positiveOrUnknown(120),
  riderMassKg: positiveOrUnknown(250),
  /** Where and when it was read. */
  source: z.string().trim().max(200).default(''),
});
const priceOrUnknown = priceSchema.nullable().default(null);
const claimsOrNone = claimsSchema.nullable().default(null);

const riderFields = { name: nameSchema, massKg: positiveOrUnknown(250), notes: notesSchema };
const bikeFields = {
  name: nameSchema,
  massKg: positiveOrUnknown(120),
  frontShare: shareOrUnknown,
  wheelCircumferenceM: positiveOrUnknown(4),
  dragAreaM2: positiveOrUnknown(2),
  rollingCoefficient: positiveOrUnknown(0.1),
  rimDiameterMm: mm(800),
  frontDropoutMm: mm(200),
  rearDropoutMm: mm(220),
  frontAxle: oneOf(['open', 'thru']),
  rearAxle: oneOf(['open', 'thru']),
  frontDropoutMaterial: materialSchema,
  rearDropoutMaterial: materialSchema,
  dropoutSlotMm: mm(30),
  dropoutThicknessMm: mm(30),
  cogMount: oneOf(['freewheel', 'cassette', 'single', 'hub-gear']),
  cogStackMm: mm(80),
  chainringTeeth: teethSchema,
  cogTeeth: teethSchema,
  chainLineMm: mm(120),
  frontBrake: brakeSchema,
  rearBrake: brakeSchema,
  frontRotorMm: mm(300),
  rearRotorMm: mm(300),
  brakeLever: oneOf(['cable', 'hydraulic', 'combined']),
  shellKind: shellSchema.nullable().default(null),
  shellWidthMm: mm(200),
  frame: z
    .strictObject({
      seatTubeMm: mm(1000),
      topTubeMm: mm(1000),
      headTubeMm: mm(500),
      downTubeMm: mm(1200),
      diagonalMm: mm(1200),
    })
    .nullable()
    .default(null),
  mountPoints: oneOf(['bosses', 'none']),
  rackLimitKg: positiveOrUnknown(200),
  frontTyreLimitKg: positiveOrUnknown(400),
  rearTyreLimitKg: positiveOrUnknown(400),
  totalLimitKg: positiveOrUnknown(600),
  crankGapMm: zeroOrMoreOrUnknown(60),
  handlebarFreeMm: zeroOrMoreOrUnknown(900),
  isFolding: z.boolean().nullable().default(null),
  price: priceOrUnknown,
  notes: notesSchema,
};
const boxItemSchema = z.strictObject({ what: nameSchema, massKg: positiveOrUnknown(60), place: placeSchema });
const kitFields = {
  name: nameSchema,
  motorKind: motorKindSchema,
  ratedPowerW: positiveOrUnknown(20_000),
  nominalVoltageV: positiveOrUnknown(120),
  noLoadRpm: positiveOrUnknown(6000),
  rpmPerVolt: positiveOrUnknown(200),
  gearRatio: positiveOrUnknown(100),
  maxTorqueNm: positiveOrUnknown(400),
  controllerPlace: oneOf(['inside', 'outside']),
  currentLimitA: positiveOrUnknown(200),
  peakCurrentA: positiveOrUnknown(400),
  cutoffV: positiveOrUnknown(120),
  controllerMaxV: positiveOrUnknown(200),
  displayMaxV: positiveOrUnknown(200),
  sensor: oneOf(['cadence', 'torque', 'both', 'none']),
  brakeSwitches: oneOf(['lever', 'in-line', 'none']),
  throttle: oneOf(['thumb', 'twist', 'none']),
  display: z.string().max(120).default(''),
  axleWidthMm: mm(220),
  axleDiameterMm: mm(30),
  axleFlatsMm: mm(30),
  cogMount: oneOf(['freewheel', 'cassette', 'none']),
  cogSpaceMm: mm(100),
  discMount: z.boolean().nullable().default(null),
  discBossDepthMm: mm(40),
  shellKinds: z.array(shellSchema).max(4).default([]),
  shellWidthMm: mm(200),
  chainLineMm: mm(120),
  crankSensorMm: mm(60),
  handlebarRoomMm: zeroOrMoreOrUnknown(600),
  rimDiameterMm: mm(800),
  torqueArms: whole(4),
  torqueArmNm: positiveOrUnknown(400),
  nutTorqueNm: positiveOrUnknown(200),
  connectorA: positiveOrUnknown(400),
  wireMm2: positiveOrUnknown(50),
  wireLengthM: positiveOrUnknown(20),
  massKg: positiveOrUnknown(60),
  box: z.array(boxItemSchema).max(40).default([]),
  price: priceOrUnknown,
  claims: claimsOrNone,
  notes: notesSchema,
};
const packFields = {
  name: nameSchema,
  chemistry: chemistrySchema,
  seriesCells: z.int('Write a whole number.').min(1).max(40).nullable().default(null),
  parallelCells: z.int('Write a whole number.').min(1).max(60).nullable().default(null),
  nominalVoltageV: positiveOrUnknown(120),
  capacityAh: positiveOrUnknown(500),
  usableShare: shareOrUnknown,
  measuredEnergyWh: positiveOrUnknown(20_000),
  measuredEnergyUncertaintyWh: positiveOrUnknown(5000),
  protectionContinuousA: positiveOrUnknown(400),
  protectionPeakA: positiveOrUnknown(800),
  protectionCutoffV: positiveOrUnknown(120),
  maxChargeA: positiveOrUnknown(100),
  resistanceOhm: positiveOrUnknown(10),
  connectorA: positiveOrUnknown(400),
  fuseA: positiveOrUnknown(400),
  lengthMm: mm(900),
  heightMm: mm(500),
  widthMm: mm(500),
  mountKind: oneOf(['bosses', 'rivet-nuts', 'straps', 'glued', 'rear-rack', 'front-rack', 'bag', 'trailer']),
  railMm: zeroOrMoreOrUnknown(100),
  gaugeKind: oneOf(['none', 'lights', 'bars', 'percent', 'voltage']),
  gaugeSteps: whole(100),
  /** Up to what a trailer carries. */
  massKg: positiveOrUnknown(200),
  price: priceOrUnknown,
  claims: claimsOrNone,
  notes: notesSchema,
};
const chargerFields = {
  name: nameSchema,
  chemistry: chemistrySchema.nullable().default(null),
  outputV: positiveOrUnknown(200),
  outputA: positiveOrUnknown(100),
  efficiency: shareOrUnknown,
  price: priceOrUnknown,
  notes: notesSchema,
};
export const addOnKindSchema = z.enum([
  'torque-arm',
  'pack-joiner',
  'cooling-fins',
  'cooling-fluid',
  'chainring',
  'tyres',
  'brake-rotor',
  'brake-switches',
  'trailer',
  'rack',
  'other',
]);
const addOnFields = {
  name: nameSchema,
  kind: addOnKindSchema,
  place: placeSchema,
  massKg: positiveOrUnknown(100),
  ratedA: positiveOrUnknown(400),
  torqueNm: positiveOrUnknown(400),
  teeth: z.int('Write a whole number.').min(6).max(80).nullable().default(null),
  limitKg: positiveOrUnknown(400),
  wheelCircumferenceM: positiveOrUnknown(4),
  rotorMm: mm(300),
  doseMl: positiveOrUnknown(1000),
  price: priceOrUnknown,
  notes: notesSchema,
};
/** What the user wrote down of the rules of a place; nothing here is asserted as law. */
const limitFields = {
  name: nameSchema,
  maxAssistKmh: positiveOrUnknown(120),
  maxRatedPowerW: positiveOrUnknown(20_000),
  throttle: oneOf(['free', 'start-only', 'none']),
  startOnlyKmh: positiveOrUnknown(60),
  minimumAge: whole(99),
  helmet: oneOf(['needed', 'not-needed']),
  registration: oneOf(['needed', 'not-needed']),
  notes: notesSchema,
};
/** Stated limits (±) of the instrument; unknown ones are taken from the defaults and shown as such. */
const loggerFields = {
  name: nameSchema,
  voltageGain: shareOrUnknown,
  currentGain: shareOrUnknown,
  currentOffsetA: zeroOrMoreOrUnknown(10),
  distanceGain: shareOrUnknown,
  altitudeM: zeroOrMoreOrUnknown(100),
  /** How late its cadence shows the pedals, s. */
  cadenceDelayS: zeroOrMoreOrUnknown(2),
  calibration: z.string().max(400).default(''),
  notes: notesSchema,
};

export const partInputSchemas = {
  bikes: z.strictObject(bikeFields),
  kits: z.strictObject(kitFields),
  packs: z.strictObject(packFields),
  chargers: z.strictObject(chargerFields),
  'add-ons': z.strictObject(addOnFields),
  limits: z.strictObject(limitFields),
  riders: z.strictObject(riderFields),
  loggers: z.strictObject(loggerFields),
};
export const partSchemas = {
  bikes: z.strictObject({ ...storedFields, ...bikeFields }),
  kits: z.strictObject({ ...storedFields, ...kitFields }),
  packs: z.strictObject({ ...storedFields, ...packFields }),
  chargers: z.strictObject({ ...storedFields, ...chargerFields }),
  'add-ons': z.strictObject({ ...storedFields, ...addOnFields }),
  limits: z.strictObject({ ...storedFields, ...limitFields }),
  riders: z.strictObject({ ...storedFields, ...riderFields }),
  loggers: z.strictObject({ ...storedFields, ...loggerFields }),
};
export const PART_KINDS = Object.keys(partInputSchemas) as [PartKind, ...PartKind[]];
export const partKindSchema = z.enum(PART_KINDS);
export type PartKind = keyof typeof partInputSchemas;
export type PartInput<K extends PartKind = PartKind> = z.output<(typeof partInputSchemas)[K]>;
/** As written by hand: what is unknown may be left out. */
export type PartDraft<K extends PartKind = PartKind> = z.input<(typeof partInputSchemas)[K]>;
export type Part<K extends PartKind = PartKind> = z.output<(typeof partSchemas)[K]>;

/** What came of a parts CSV. */
export const partImportSchema = z.strictObject({ added: z.int(), changed: z.int(), unchanged: z.int() });
export type PartImport = z.output<typeof partImportSchema>;
