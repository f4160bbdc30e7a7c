import { isFrontHub, isHub, packPlace, type SetupFacts } from '@ebrix/core/bench';
import { PLACES, type PartField } from '../../entities/part/index.js';

/** A field of settings or fit; `when` says for which parts it is asked. */
export interface SetupField extends Omit<PartField, 'when'> {
  readonly of: 'settings' | 'fit';
  readonly when?: (parts: SetupFacts) => boolean;
}
const hub = ({ kit }: SetupFacts): boolean => kit !== null && isHub(kit);
const rearHub = ({ kit }: SetupFacts): boolean => kit !== null && isHub(kit) && !isFrontHub(kit);
const mid = ({ kit }: SetupFacts): boolean => kit !== null && !isHub(kit);
const disc = ({ kit, bike }: SetupFacts): boolean =>
  kit !== null && isHub(kit) && (isFrontHub(kit) ? bike.frontBrake : bike.rearBrake) === 'disc';
const several = ({ packs }: SetupFacts): boolean => packs.length > 1;
const inFrame = ({ packs }: SetupFacts): boolean => packs.some((pack) => packPlace(pack) === 'frame');

export const SETTING_FIELDS: readonly SetupField[] = [
  { of: 'settings', name: 'assistLevel', label: 'Assist level as tested', kind: 'text' },
  {
    of: 'settings',
    name: 'speedLimitKmh',
    label: 'Speed limit setting',
    kind: 'number',
    unit: 'km/h',
    help: 'Check your local rules',
  },
  { of: 'settings', name: 'wheelCircumferenceM', label: 'Wheel size set in display', kind: 'number', unit: 'm' },
  {
    of: 'settings',
    name: 'currentLimitA',
    label: 'Current limit setting',
    kind: 'number',
    unit: 'A',
    help: 'Blank: the kit’s own',
  },
  {
    of: 'settings',
    name: 'cutoffV',
    label: 'Cut-off setting',
    kind: 'number',
    unit: 'V',
    help: 'Blank: the kit’s own',
  },
  { of: 'settings', name: 'regenerationA', label: 'Regeneration setting', kind: 'number', unit: 'A' },
  { of: 'settings', name: 'wheelName', label: 'Wheel by name in display', kind: 'text', help: 'For example 26 inch' },
  {
    of: 'settings',
    name: 'displayUnits',
    label: 'Display shows',
    kind: 'choice',
    choices: [
      { value: 'km', label: 'Kilometres' },
      { value: 'miles', label: 'Miles' },
    ],
  },
  { of: 'settings', name: 'walkMode', label: 'Walk mode', kind: 'flag' },
  { of: 'settings', name: 'reverse', label: 'Reverse', kind: 'flag' },
  { of: 'settings', name: 'brightness', label: 'Brightness', kind: 'text' },
];
export const FIT_FIELDS: readonly SetupField[] = [
  { of: 'fit', name: 'washersLeftMm', label: 'Inner washers, left', kind: 'number', unit: 'mm', when: hub },
  { of: 'fit', name: 'washersRightMm', label: 'Inner washers, right', kind: 'number', unit: 'mm', when: hub },
  { of: 'fit', name: 'cogSpacerMm', label: 'Cog spacer thickness', kind: 'number', unit: 'mm', when: rearHub },
  { of: 'fit', name: 'cogSpacers', label: 'Number of cog spacers', kind: 'whole', when: rearHub },
  { of: 'fit', name: 'discBoltMm', label: 'Disc bolt length', kind: 'number', unit: 'mm', when: disc },
  { of: 'fit', name: 'discWasherMm', label: 'Washers under disc', kind: 'number', unit: 'mm', when: disc },
  { of: 'fit', name: 'rotorThicknessMm', label: 'Rotor thickness', kind: 'number', unit: 'mm', when: disc },
  { of: 'fit', name: 'shellSpacerMm', label: 'Shell spacer thickness', kind: 'number', unit: 'mm', when: mid },
  { of: 'fit', name: 'shellSpacers', label: 'Number of shell spacers', kind: 'whole', when: mid },
  { of: 'fit', name: 'chainLineMm', label: 'Measured chain line', kind: 'number', unit: 'mm', when: mid },
  {
    of: 'fit',
    name: 'batteryTube',
    label: 'Battery position',
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
    label: 'Rest voltages before joining',
    kind: 'numbers',
    help: 'Volts, in pack order, for example 41.9 41.8',
    when: several,
  },
];
export const LOAD_FIELDS: readonly SetupField[] = [
  { of: 'fit', name: 'riderMassKg', label: 'Heaviest rider', kind: 'number', unit: 'kg' },
  { of: 'fit', name: 'payloadKg', label: 'Heaviest payload', kind: 'number', unit: 'kg' },
  { of: 'fit', name: 'payloadPlace', label: 'Payload position', kind: 'choice', choices: PLACES },
  { of: 'fit', name: 'electricityPerKWh', label: 'Electricity, per kWh', kind: 'number' },
  { of: 'fit', name: 'currency', label: 'Currency', kind: 'text', help: 'Three letters' },
];
export const SETUP_FIELDS = [...SETTING_FIELDS, ...FIT_FIELDS, ...LOAD_FIELDS];
