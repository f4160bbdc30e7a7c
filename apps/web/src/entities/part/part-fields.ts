import type { PartKind } from '@ebrix/contract';
import { BIKE_FORM } from './bike-form.js';
import {
  asLabel,
  CHEMISTRY_NAMES,
  choice,
  MASS,
  NAME,
  NOTES,
  number,
  PLACES,
  PRICE,
  type Choice,
  type PartField,
  type PartForm,
} from './field.js';
import { KIT_FORM } from './kit-form.js';
import { PACK_FORM } from './pack-form.js';

const isKind =
  (...kinds: string[]) =>
  (part: Readonly<Record<string, unknown>>): boolean =>
    kinds.includes(String(part['kind']));

/** What is asked of each kind of part; each field is there because a check, a sum or a figure uses it. */
export const PART_FORMS: Readonly<Record<PartKind, PartForm>> = {
  bikes: BIKE_FORM,
  kits: KIT_FORM,
  packs: PACK_FORM,
  chargers: {
    one: 'charger',
    many: 'Chargers',
    teach: 'The voltage is checked against the cells in series: the wrong charger burns a pack.',
    groups: [
      {
        title: 'Charger',
        fields: [
          NAME('Fennock charger 50.4 V 2.5 A'),
          choice('chemistry', 'Made for', CHEMISTRY_NAMES, { isColumn: true }),
          number('outputV', 'Voltage', 'V', { isColumn: true }),
          number('outputA', 'Current', 'A', { isColumn: true }),
          number('efficiency', 'Charger efficiency', '%', { isColumn: true }),
          PRICE,
          NOTES,
        ],
      },
    ],
  },
  'add-ons': {
    one: 'add-on',
    many: 'Add-ons',
    teach: 'What is fitted with the kit: torque arms, joiners, cooling, tyres, trailers.',
    groups: [
      {
        title: 'Add-on',
        fields: [
          NAME('Torque arm, clamped'),
          choice(
            'kind',
            'Kind',
            asLabel(
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
            ),
            { isColumn: true },
          ),
          choice('place', 'Position on bike', PLACES, { isColumn: true }),
          MASS,
          number('torqueNm', 'Rated for', 'Nm', { when: isKind('torque-arm') }),
          number('ratedA', 'Rated for', 'A', { when: isKind('pack-joiner') }),
          number('doseMl', 'Amount', 'ml', { when: isKind('cooling-fluid') }),
          { name: 'teeth', label: 'Teeth', kind: 'whole', when: isKind('chainring') },
          number('rotorMm', 'Diameter', 'mm', { when: isKind('brake-rotor') }),
          number('limitKg', 'Load limit', 'kg', { when: isKind('tyres', 'trailer', 'rack'), help: 'Tyres: each' }),
          number('wheelCircumferenceM', 'Wheel circumference with these', 'm', { when: isKind('tyres') }),
          PRICE,
          NOTES,
        ],
      },
    ],
  },
  limits: {
    one: 'limit profile',
    many: 'Limits',
    teach:
      'The rules of a place or a class of vehicle, as you noted them. Ebrix knows no law: check your local rules, and beyond them ride on private ground only.',
    groups: [
      {
        title: 'Limits, as you found them',
        fields: [
          NAME('Town rounds, 25 km/h and 250 W'),
          number('maxAssistKmh', 'Assist ends at', 'km/h', { isColumn: true }),
          number('maxRatedPowerW', 'Rated power up to', 'W', { isColumn: true }),
          choice(
            'throttle',
            'Throttle',
            [
              { value: 'free', label: 'Allowed' },
              { value: 'start-only', label: 'For starting only' },
              { value: 'none', label: 'Not allowed' },
            ],
            { isColumn: true },
          ),
          number('startOnlyKmh', 'Start assist up to', 'km/h'),
          { name: 'minimumAge', label: 'Minimum rider age', kind: 'whole' },
          choice('helmet', 'Helmet', asLabel('needed', 'not-needed'), { isColumn: true }),
          choice('registration', 'Registration', asLabel('needed', 'not-needed'), { isColumn: true }),
          { ...NOTES, help: 'Where and when you read it' },
        ],
      },
    ],
  },
  riders: {
    one: 'rider',
    many: 'Riders',
    teach: 'Who rides. The mass goes into the total mass of a run.',
    groups: [
      { title: 'Rider', fields: [NAME('Bram Tellow'), { ...MASS, help: 'With clothes, helmet and bag' }, NOTES] },
    ],
  },
  loggers: {
    one: 'logger',
    many: 'Loggers',
    teach: 'Your instruments and their errors. Blank fields use typical values, shown in every derivation.',
    groups: [
      {
        title: 'Logger',
        fields: [
          NAME('Bench logger 1'),
          number('voltageGain', 'Voltage error ±', '%', { help: 'Blank: 0.5 %', isColumn: true }),
          number('currentGain', 'Current error ±', '%', { help: 'Blank: 1 %', isColumn: true }),
          number('currentOffsetA', 'Current offset ±', 'A', { help: 'Blank: 0.03 A', isColumn: true }),
          number('distanceGain', 'Distance error ±', '%', { help: 'Blank: 0.5 %', isColumn: true }),
          number('altitudeM', 'Altitude error ±', 'm', { help: 'Blank: 1 m', isColumn: true }),
          number('cadenceDelayS', 'Cadence shown late by', 's', { help: 'Blank: up to 0.35 s' }),
          { name: 'calibration', label: 'How it was calibrated', kind: 'text' },
          NOTES,
        ],
      },
    ],
  },
};

/** Fields that hold something: the help of filling others in holds nothing of its own. */
export function fieldsOf(kind: PartKind): readonly PartField[] {
  return PART_FORMS[kind].groups.flatMap(({ fields }) => fields).filter((field) => field.kind !== 'blocks');
}
export function choiceLabel(choices: readonly Choice[] | undefined, value: unknown): string {
  return choices?.find((one) => one.value === value)?.label ?? String(value);
}
