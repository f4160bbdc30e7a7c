import type { PartKind } from '@ebrix/contract';
import type { UnitName } from '@ebrix/core/units';

export interface PartField {
  readonly name: string;
  readonly label: string;
  readonly kind: 'number' | 'whole' | 'text' | 'choice' | 'notes';
  readonly unit?: UnitName;
  readonly choices?: readonly { readonly value: string; readonly label: string }[];
  readonly help?: string;
}
interface PartWords {
  readonly one: string;
  readonly many: string;
  readonly teach: string;
  readonly fields: readonly PartField[];
}

const NAME = (example: string): PartField => ({
  name: 'name',
  label: 'Name',
  kind: 'text',
  help: `For example ${example}`,
});
const MASS: PartField = { name: 'massKg', label: 'Mass', kind: 'number', unit: 'kg' };
const NOTES: PartField = { name: 'notes', label: 'Notes', kind: 'notes' };

export const MOTOR_KINDS = [
  { value: 'front-hub', label: 'Front hub' },
  { value: 'rear-hub-geared', label: 'Rear hub, geared' },
  { value: 'rear-hub-direct', label: 'Rear hub, direct drive' },
  { value: 'mid', label: 'Mid motor' },
] as const;
export const CHEMISTRY_NAMES = [
  { value: 'li-ion-nmc', label: 'Lithium-ion (NMC/NCA)' },
  { value: 'li-ion-lfp', label: 'Lithium iron phosphate' },
  { value: 'lead-acid', label: 'Lead-acid' },
] as const;

/** What is asked of each kind of part; each field is there because a figure uses it. */
export const PART_WORDS: Readonly<Record<PartKind, PartWords>> = {
  bikes: {
    one: 'bike',
    many: 'Bikes',
    teach:
      'The donor bikes kits are fitted to. Drag area and rolling coefficient let a ride be put on reference conditions.',
    fields: [
      NAME('Round bike 3, step-through'),
      MASS,
      {
        name: 'wheelCircumferenceM',
        label: 'Wheel circumference',
        kind: 'number',
        unit: 'm',
        help: 'By roll-out of several turns',
      },
      { name: 'dragAreaM2', label: 'Drag area CdA, m²', kind: 'number', help: '0.5 to 0.7 upright with a load' },
      { name: 'rollingCoefficient', label: 'Rolling coefficient', kind: 'number', help: '0.005 to 0.010 on asphalt' },
      NOTES,
    ],
  },
  kits: {
    one: 'kit',
    many: 'Kits',
    teach: 'The conversion kits under test.',
    fields: [
      NAME('Corvane R2'),
      { name: 'motorKind', label: 'Motor', kind: 'choice', choices: MOTOR_KINDS },
      { name: 'ratedPowerW', label: 'Rated power', kind: 'number', unit: 'W' },
      { name: 'nominalVoltageV', label: 'Nominal voltage', kind: 'number', unit: 'V' },
      { name: 'currentLimitA', label: 'Controller current limit', kind: 'number', unit: 'A' },
      MASS,
      NOTES,
    ],
  },
  packs: {
    one: 'pack',
    many: 'Packs',
    teach: 'The batteries. A measured energy makes every range figure surer than the label does.',
    fields: [
      NAME('Marrow 36 V 13 Ah'),
      { name: 'chemistry', label: 'Chemistry', kind: 'choice', choices: CHEMISTRY_NAMES },
      { name: 'seriesCells', label: 'Cells in series', kind: 'whole' },
      { name: 'nominalVoltageV', label: 'Nominal voltage', kind: 'number', unit: 'V' },
      { name: 'capacityAh', label: 'Capacity on the label', kind: 'number', unit: 'Ah' },
      {
        name: 'usableShare',
        label: 'Usable share',
        kind: 'number',
        unit: '%',
        help: 'Left empty: what is usual for the chemistry',
      },
      {
        name: 'measuredEnergyWh',
        label: 'Measured energy',
        kind: 'number',
        unit: 'Wh',
        help: 'From full to cut-off, if it was measured',
      },
      { name: 'measuredEnergyUncertaintyWh', label: '± of the measurement', kind: 'number', unit: 'Wh' },
      MASS,
      NOTES,
    ],
  },
  riders: {
    one: 'rider',
    many: 'Riders',
    teach: 'Who rides. The mass goes into the total mass of a run.',
    fields: [NAME('Bram Tellow'), { ...MASS, help: 'With clothes, helmet and bag' }, NOTES],
  },
  loggers: {
    one: 'logger',
    many: 'Loggers',
    teach:
      "The instruments with their errors. What is left empty is taken as an ordinary logger's and shown in every derivation.",
    fields: [
      NAME('Bench logger 1'),
      { name: 'voltageGain', label: 'Voltage error ±', kind: 'number', unit: '%', help: 'Empty: 0.5 %' },
      { name: 'currentGain', label: 'Current error ±', kind: 'number', unit: '%', help: 'Empty: 1 %' },
      { name: 'currentOffsetA', label: 'Current offset ±', kind: 'number', unit: 'A', help: 'Empty: 0.03 A' },
      { name: 'distanceGain', label: 'Distance error ±', kind: 'number', unit: '%', help: 'Empty: 0.5 %' },
      { name: 'altitudeM', label: 'Altitude error ±', kind: 'number', unit: 'm', help: 'Empty: 1 m' },
      { name: 'calibration', label: 'How it was calibrated', kind: 'text' },
      NOTES,
    ],
  },
};
