import { isFrontHub, isHub, packPlace, type SetupFacts } from '@ebrix/core/bench';
import { PLACES, type PartField } from '../bench/index.js';

/** A field of settings or fit; `when` says for which parts it is asked. */
export interface SetupField extends Omit<PartField, 'when'> {
  readonly of: 'settings' | 'fit';
  readonly when?: (parts: SetupFacts) => boolean;
}
const hub = ({ kit }: SetupFacts): boolean => isHub(kit);
const rearHub = ({ kit }: SetupFacts): boolean => isHub(kit) && !isFrontHub(kit);
const mid = ({ kit }: SetupFacts): boolean => !isHub(kit);
const disc = ({ kit, bike }: SetupFacts): boolean =>
  isHub(kit) && (isFrontHub(kit) ? bike.frontBrake : bike.rearBrake) === 'disc';
const several = ({ packs }: SetupFacts): boolean => packs.length > 1;
const inFrame = ({ packs }: SetupFacts): boolean => packs.some((pack) => packPlace(pack) === 'frame');

export const SETTING_FIELDS: readonly SetupField[] = [
  { of: 'settings', name: 'assistLevel', label: 'Assist level as tested', kind: 'text' },
  {
    of: 'settings',
    name: 'speedLimitKmh',
    label: 'Speed limit set',
    kind: 'number',
    unit: 'km/h',
    help: 'Check your local rules',
  },
  { of: 'settings', name: 'wheelCircumferenceM', label: 'Wheel circumference set', kind: 'number', unit: 'm' },
  {
    of: 'settings',
    name: 'currentLimitA',
    label: 'Current limit set',
    kind: 'number',
    unit: 'A',
    help: 'Empty: the kit’s own',
  },
  { of: 'settings', name: 'cutoffV', label: 'Cut-off set', kind: 'number', unit: 'V', help: 'Empty: the kit’s own' },
  { of: 'settings', name: 'regenerationA', label: 'Regeneration set', kind: 'number', unit: 'A' },
];
export const FIT_FIELDS: readonly SetupField[] = [
  { of: 'fit', name: 'washersLeftMm', label: 'Washers inside, left', kind: 'number', unit: 'mm', when: hub },
  { of: 'fit', name: 'washersRightMm', label: 'Washers inside, right', kind: 'number', unit: 'mm', when: hub },
  { of: 'fit', name: 'cogSpacerMm', label: 'One cog spacer', kind: 'number', unit: 'mm', when: rearHub },
  { of: 'fit', name: 'cogSpacers', label: 'Number of cog spacers', kind: 'whole', when: rearHub },
  { of: 'fit', name: 'discBoltMm', label: 'Disc bolts, length', kind: 'number', unit: 'mm', when: disc },
  { of: 'fit', name: 'discWasherMm', label: 'Washers under the disc', kind: 'number', unit: 'mm', when: disc },
  { of: 'fit', name: 'rotorThicknessMm', label: 'Rotor, thickness', kind: 'number', unit: 'mm', when: disc },
  { of: 'fit', name: 'shellSpacerMm', label: 'One shell spacer', kind: 'number', unit: 'mm', when: mid },
  { of: 'fit', name: 'shellSpacers', label: 'Number of shell spacers', kind: 'whole', when: mid },
  { of: 'fit', name: 'chainLineMm', label: 'Chain line, measured', kind: 'number', unit: 'mm', when: mid },
  {
    of: 'fit',
    name: 'batteryTube',
    label: 'Battery sits on',
    kind: 'choice',
    choices: [
      { value: 'down-tube', label: 'Down tube' },
      { value: 'seat-tube', label: 'Seat tube' },
    ],
    when: inFrame,
  },
  {
    of: 'fit',
    name: 'restVoltagesV',
    label: 'Packs at rest, before joining',
    kind: 'numbers',
    help: 'Volts in the order of the packs, for example 41.9 41.8',
    when: several,
  },
];
export const LOAD_FIELDS: readonly SetupField[] = [
  { of: 'fit', name: 'riderMassKg', label: 'Heaviest rider', kind: 'number', unit: 'kg' },
  { of: 'fit', name: 'payloadKg', label: 'Heaviest payload', kind: 'number', unit: 'kg' },
  { of: 'fit', name: 'payloadPlace', label: 'Payload sits on', kind: 'choice', choices: PLACES },
  { of: 'fit', name: 'electricityPerKWh', label: 'Electricity, per kWh', kind: 'number' },
  { of: 'fit', name: 'currency', label: 'Currency', kind: 'text', help: 'Three letters' },
];
export const SETUP_FIELDS = [...SETTING_FIELDS, ...FIT_FIELDS, ...LOAD_FIELDS];
