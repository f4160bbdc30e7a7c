import type { PartKind } from '@ebrix/contract';
import type { UnitName } from '@ebrix/core/units';

export interface Choice {
  readonly value: string;
  readonly label: string;
}
export interface PartField {
  /** Path within the part: `frame.seatTubeMm`. */
  readonly name: string;
  readonly label: string;
  readonly kind: 'number' | 'whole' | 'text' | 'choice' | 'choices' | 'flag' | 'numbers' | 'box' | 'price' | 'notes';
  readonly unit?: UnitName;
  readonly choices?: readonly Choice[];
  readonly help?: string;
  /** Shown as a column of the list. */
  readonly isColumn?: boolean;
  /** Shown only for parts of which this is true. */
  readonly when?: (part: Readonly<Record<string, unknown>>) => boolean;
}
export interface FieldGroup {
  readonly title: string;
  /** Why these are asked for. */
  readonly use?: string;
  readonly fields: readonly PartField[];
}
interface PartWords {
  readonly one: string;
  readonly many: string;
  readonly teach: string;
  readonly groups: readonly FieldGroup[];
}

const NAME = (example: string): PartField => ({
  name: 'name',
  label: 'Name',
  kind: 'text',
  help: `For example ${example}`,
});
const number = (name: string, label: string, unit?: UnitName, more: Partial<PartField> = {}): PartField => ({
  name,
  label,
  kind: 'number',
  ...(unit && { unit }),
  ...more,
});
const choice = (name: string, label: string, choices: readonly Choice[], more: Partial<PartField> = {}): PartField => ({
  name,
  label,
  kind: 'choice',
  choices,
  ...more,
});
const flag = (name: string, label: string, more: Partial<PartField> = {}): PartField => ({
  name,
  label,
  kind: 'flag',
  ...more,
});
const asWords = (...words: string[]): Choice[] =>
  words.map((value) => ({ value, label: value[0]!.toUpperCase() + value.slice(1).replaceAll('-', ' ') }));

const MASS = number('massKg', 'Mass', 'kg', { isColumn: true });
const PRICE: PartField = { name: 'price', label: 'Price', kind: 'price', isColumn: true };
const NOTES: PartField = { name: 'notes', label: 'Notes', kind: 'notes' };
const CLAIMS: FieldGroup = {
  title: 'What the seller claims',
  use: 'Set against what is measured; never used as a measurement.',
  fields: [
    number('claims.rangeKm', 'Claimed range', 'km'),
    number('claims.speedKmh', 'Claimed speed', 'km/h'),
    number('claims.chargeTimeH', 'Claimed charge time', 'h'),
    number('claims.massKg', 'Claimed mass', 'kg'),
    number('claims.powerW', 'Claimed power', 'W'),
  ],
};

export const MOTOR_KINDS: readonly Choice[] = [
  { value: 'front-hub', label: 'Front hub' },
  { value: 'rear-hub-geared', label: 'Rear hub, geared' },
  { value: 'rear-hub-direct', label: 'Rear hub, direct drive' },
  { value: 'mid', label: 'Mid motor' },
];
export const CHEMISTRY_NAMES: readonly Choice[] = [
  { value: 'li-ion-nmc', label: 'Lithium-ion (NMC/NCA)' },
  { value: 'li-ion-lfp', label: 'Lithium iron phosphate' },
  { value: 'lead-acid', label: 'Lead-acid' },
];
export const PLACES = asWords('front-wheel', 'handlebar', 'frame', 'rear-wheel', 'front-rack', 'rear-rack', 'trailer');
const MATERIALS = asWords('steel', 'aluminium', 'carbon', 'titanium');
const BRAKES = asWords('disc', 'rim', 'drum', 'coaster', 'none');
const SHELLS = asWords('threaded', 'pressed', 'one-piece', 'other');
const AXLES: readonly Choice[] = [
  { value: 'open', label: 'Open slot' },
  { value: 'thru', label: 'Closed, thru-axle' },
];
const isHub = (part: Readonly<Record<string, unknown>>): boolean => part['motorKind'] !== 'mid';
const isMid = (part: Readonly<Record<string, unknown>>): boolean => part['motorKind'] === 'mid';
const isKind =
  (...kinds: string[]) =>
  (part: Readonly<Record<string, unknown>>): boolean =>
    kinds.includes(String(part['kind']));

/** What is asked of each kind of part; each field is there because a check, a sum or a figure uses it. */
export const PART_WORDS: Readonly<Record<PartKind, PartWords>> = {
  bikes: {
    one: 'bike',
    many: 'Bikes',
    teach: 'The donor bikes kits are fitted to. What a check needs and is not known, the check says.',
    groups: [
      {
        title: 'Bike',
        fields: [
          NAME('Round bike 3, step-through'),
          MASS,
          number('frontShare', 'Share on the front wheel', '%', { help: 'From weighing both wheels' }),
          number('wheelCircumferenceM', 'Wheel circumference', 'm', {
            help: 'By roll-out of several turns',
            isColumn: true,
          }),
          number('rimDiameterMm', 'Rim, bead-seat diameter', 'mm', { help: '559, 622 …' }),
          number('dragAreaM2', 'Drag area CdA, m²', undefined, { help: '0.5 to 0.7 upright with a load' }),
          number('rollingCoefficient', 'Rolling coefficient', undefined, { help: '0.005 to 0.010 on asphalt' }),
          flag('isFolding', 'Folding bike'),
          PRICE,
        ],
      },
      {
        title: 'Dropouts',
        use: 'Axle width, torque arms',
        fields: [
          number('frontDropoutMm', 'Front width', 'mm', { help: '100, 110' }),
          number('rearDropoutMm', 'Rear width', 'mm', { help: '120 to 148', isColumn: true }),
          choice('frontAxle', 'Front axle', AXLES),
          choice('rearAxle', 'Rear axle', AXLES),
          choice('frontDropoutMaterial', 'Fork ends of', MATERIALS),
          choice('rearDropoutMaterial', 'Rear dropouts of', MATERIALS, { isColumn: true }),
          number('dropoutSlotMm', 'Slot width', 'mm'),
          number('dropoutThicknessMm', 'Thickness', 'mm'),
        ],
      },
      {
        title: 'Gears and bottom bracket',
        use: 'Clearances, chain line, gear speeds',
        fields: [
          choice('cogMount', 'Kind of cogs', asWords('freewheel', 'cassette', 'single', 'hub-gear')),
          number('cogStackMm', 'Width of the cogs', 'mm'),
          { name: 'chainringTeeth', label: 'Teeth, chainrings', kind: 'numbers', help: '42 or 28 38 48' },
          { name: 'cogTeeth', label: 'Teeth, cogs', kind: 'numbers', help: '14 16 18 20 22 24 28' },
          number('chainLineMm', 'Chain line at the cogs', 'mm', { help: 'Frame middle to the middle of the cogs' }),
          choice('shellKind', 'Bottom-bracket shell', SHELLS),
          number('shellWidthMm', 'Shell width', 'mm', { help: '68, 73, 100, 120' }),
          number('crankGapMm', 'Gap between shell and crank', 'mm'),
        ],
      },
      {
        title: 'Brakes and loads',
        use: 'Rotor size, tyre and rack load',
        fields: [
          choice('frontBrake', 'Front brake', BRAKES, { isColumn: true }),
          number('frontRotorMm', 'Front rotor', 'mm'),
          choice('rearBrake', 'Rear brake', BRAKES),
          number('rearRotorMm', 'Rear rotor', 'mm'),
          number('frontTyreLimitKg', 'Load of the front tyre', 'kg', { help: 'As marked on it' }),
          number('rearTyreLimitKg', 'Load of the rear tyre', 'kg'),
          number('rackLimitKg', 'Load of the rear rack', 'kg'),
          number('totalLimitKg', 'Total mass allowed', 'kg', { help: 'By the maker of the bike' }),
        ],
      },
      {
        title: 'Frame, measured with a tape between the inside corners',
        use: 'Room for the battery',
        fields: [
          number('frame.seatTubeMm', 'Seat tube', 'mm'),
          number('frame.topTubeMm', 'Top tube', 'mm'),
          number('frame.headTubeMm', 'Head tube', 'mm'),
          number('frame.downTubeMm', 'Down tube', 'mm'),
          number('frame.diagonalMm', 'Diagonal', 'mm', { help: 'Bottom bracket to the top of the head tube' }),
          choice('mountPoints', 'Bottle bosses', [
            { value: 'bosses', label: 'There are some' },
            { value: 'none', label: 'None' },
          ]),
          number('handlebarFreeMm', 'Free length on the handlebar', 'mm'),
        ],
      },
      { title: 'Notes', fields: [NOTES] },
    ],
  },
  kits: {
    one: 'kit',
    many: 'Kits',
    teach: 'The conversion kits under test.',
    groups: [
      {
        title: 'Kit',
        fields: [
          NAME('Corvane R2'),
          choice('motorKind', 'Motor', MOTOR_KINDS, { isColumn: true }),
          number('ratedPowerW', 'Rated power', 'W', { isColumn: true }),
          number('nominalVoltageV', 'Nominal voltage', 'V', { isColumn: true }),
          number('maxTorqueNm', 'Highest torque', 'Nm', { help: 'At the wheel, or at the crank of a mid motor' }),
          number('noLoadRpm', 'Speed without load', 'rpm', {
            help: 'Of the wheel or the chainring, at the nominal voltage',
          }),
          number('rpmPerVolt', 'or turns per minute and volt', 'rpm'),
          number('gearRatio', 'Gear ratio in the motor'),
          MASS,
          PRICE,
        ],
      },
      {
        title: 'Controller and wiring',
        use: 'Protection, connectors, wires, fuse, cut-off',
        fields: [
          choice('controllerPlace', 'Controller', asWords('inside', 'outside')),
          number('currentLimitA', 'Current limit', 'A', { isColumn: true }),
          number('peakCurrentA', 'Peak current', 'A'),
          number('cutoffV', 'Low-voltage cut-off', 'V'),
          number('controllerMaxV', 'Controller bears at most', 'V'),
          number('displayMaxV', 'Display bears at most', 'V'),
          number('connectorA', 'Connector rated for', 'A'),
          number('wireMm2', 'Wire cross-section', 'mm²'),
          number('wireLengthM', 'Wire length, one way', 'm'),
        ],
      },
      {
        title: 'Sensors and controls',
        fields: [
          choice('sensor', 'Pedal sensor', asWords('cadence', 'torque', 'both', 'none')),
          choice('brakeSwitches', 'Brake switches', asWords('lever', 'in-line', 'none')),
          choice('throttle', 'Throttle', asWords('thumb', 'twist', 'none')),
          { name: 'display', label: 'Display', kind: 'text' },
          number('crankSensorMm', 'Thickness of the crank sensor', 'mm'),
          number('handlebarRoomMm', 'Room wanted on the handlebar', 'mm'),
        ],
      },
      {
        title: 'Hub',
        use: 'Axle, cogs, disc, torque arms',
        fields: [
          number('axleWidthMm', 'Axle between its faces', 'mm', { when: isHub }),
          number('axleDiameterMm', 'Axle diameter', 'mm', { when: isHub }),
          number('axleFlatsMm', 'Across the flats', 'mm', { when: isHub }),
          choice('cogMount', 'Takes', asWords('freewheel', 'cassette', 'none'), { when: isHub }),
          number('cogSpaceMm', 'Room from cover to axle face', 'mm', { when: isHub, help: 'On the side of the chain' }),
          flag('discMount', 'Takes a brake disc', { when: isHub }),
          number('discBossDepthMm', 'Depth of the disc bolt holes', 'mm', { when: isHub }),
          number('rimDiameterMm', 'Rim, bead-seat diameter', 'mm', { when: isHub }),
          { name: 'torqueArms', label: 'Torque arms in the box', kind: 'whole', when: isHub },
          number('torqueArmNm', 'Each rated for', 'Nm', { when: isHub }),
          number('nutTorqueNm', 'Axle nuts, by the maker', 'Nm', { when: isHub }),
        ],
      },
      {
        title: 'Mid motor',
        use: 'Shell, spacers, chain line',
        fields: [
          { name: 'shellKinds', label: 'Made for shells', kind: 'choices', choices: SHELLS, when: isMid },
          number('shellWidthMm', 'Longest shell', 'mm', { when: isMid }),
          number('chainLineMm', 'Chain line of its chainring', 'mm', { when: isMid }),
          number('nutTorqueNm', 'Mounting ring, by the maker', 'Nm', { when: isMid }),
        ],
      },
      {
        title: 'What is in the box',
        use: 'Where the mass sits; where masses are given, they count instead of the mass above',
        fields: [{ name: 'box', label: 'Box', kind: 'box' }],
      },
      CLAIMS,
      { title: 'Notes', fields: [NOTES] },
    ],
  },
  packs: {
    one: 'pack',
    many: 'Packs',
    teach: 'The batteries. A measured energy makes every range figure surer than the label does.',
    groups: [
      {
        title: 'Pack',
        fields: [
          NAME('Marrow 36 V 13 Ah'),
          choice('chemistry', 'Chemistry', CHEMISTRY_NAMES, { isColumn: true }),
          { name: 'seriesCells', label: 'Cells in series', kind: 'whole', isColumn: true },
          { name: 'parallelCells', label: 'Cells in parallel', kind: 'whole' },
          number('nominalVoltageV', 'Nominal voltage', 'V', { isColumn: true }),
          number('capacityAh', 'Capacity on the label', 'Ah', { isColumn: true }),
          MASS,
          PRICE,
        ],
      },
      {
        title: 'Energy',
        use: 'Range',
        fields: [
          number('usableShare', 'Usable share', '%', { help: 'Empty: what is usual for the chemistry' }),
          number('measuredEnergyWh', 'Measured energy', 'Wh', {
            help: 'From full to cut-off, if it was measured',
            isColumn: true,
          }),
          number('measuredEnergyUncertaintyWh', '± of the measurement', 'Wh'),
          choice('gaugeKind', 'Gauge', asWords('none', 'lights', 'bars', 'percent', 'voltage')),
          { name: 'gaugeSteps', label: 'Steps of the gauge', kind: 'whole' },
        ],
      },
      {
        title: 'Protection and connections',
        use: 'Current, cut-off, charging, packs in parallel',
        fields: [
          number('protectionContinuousA', 'Protection carries', 'A', { isColumn: true }),
          number('protectionPeakA', 'Protection bears as a peak', 'A'),
          number('protectionCutoffV', 'Its cut-off', 'V'),
          number('maxChargeA', 'Highest charge current', 'A'),
          number('resistanceOhm', 'Inner resistance', 'Ω'),
          number('connectorA', 'Connector rated for', 'A'),
          number('fuseA', 'Fuse', 'A'),
        ],
      },
      {
        title: 'Size and mount',
        use: 'Room in the frame, rack load',
        fields: [
          number('lengthMm', 'Length', 'mm'),
          number('heightMm', 'Height', 'mm'),
          number('widthMm', 'Width', 'mm'),
          number('railMm', 'Height of its rail', 'mm'),
          choice(
            'mountKind',
            'Mount',
            asWords('bosses', 'rivet-nuts', 'straps', 'glued', 'rear-rack', 'front-rack', 'bag', 'trailer'),
          ),
        ],
      },
      CLAIMS,
      { title: 'Notes', fields: [NOTES] },
    ],
  },
  chargers: {
    one: 'charger',
    many: 'Chargers',
    teach: 'The voltage is checked against the cells in series: the wrong charger burns a pack.',
    groups: [
      {
        title: 'Charger',
        fields: [
          NAME('Marrow charger 42 V 2 A'),
          choice('chemistry', 'Made for', CHEMISTRY_NAMES, { isColumn: true }),
          number('outputV', 'Voltage', 'V', { isColumn: true }),
          number('outputA', 'Current', 'A', { isColumn: true }),
          number('efficiency', 'Efficiency', '%', { help: 'Into the pack per energy from the socket', isColumn: true }),
          PRICE,
          NOTES,
        ],
      },
    ],
  },
  'add-ons': {
    one: 'add-on',
    many: 'Add-ons',
    teach: 'What is fitted beside the kit: torque arms, joiners, cooling, tyres, trailers.',
    groups: [
      {
        title: 'Add-on',
        fields: [
          NAME('Torque arm, clamped'),
          choice(
            'kind',
            'Kind',
            asWords(
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
          choice('place', 'Where it sits', PLACES, { isColumn: true }),
          MASS,
          number('torqueNm', 'Rated for', 'Nm', { when: isKind('torque-arm') }),
          number('ratedA', 'Rated for', 'A', { when: isKind('pack-joiner') }),
          number('doseMl', 'Dose', 'ml', { when: isKind('cooling-fluid') }),
          { name: 'teeth', label: 'Teeth', kind: 'whole', when: isKind('chainring') },
          number('rotorMm', 'Diameter', 'mm', { when: isKind('brake-rotor') }),
          number('limitKg', 'Carries', 'kg', { when: isKind('tyres', 'trailer', 'rack'), help: 'Tyres: each of them' }),
          number('wheelCircumferenceM', 'Wheel circumference with them', 'm', { when: isKind('tyres') }),
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
      'What you wrote down of the rules of a place or a class of vehicle. Ebrix knows no law: check your local rules, and beyond them ride on private ground only.',
    groups: [
      {
        title: 'Limits, as you found them',
        fields: [
          NAME('Town rounds, 25 km/h and 250 W'),
          number('maxAssistKmh', 'Help ends at', 'km/h', { isColumn: true }),
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
          number('startOnlyKmh', 'Starting help up to', 'km/h'),
          { name: 'minimumAge', label: 'Age of the rider from', kind: 'whole' },
          choice('helmet', 'Helmet', asWords('needed', 'not-needed'), { isColumn: true }),
          choice('registration', 'Registration', asWords('needed', 'not-needed'), { isColumn: true }),
          { ...NOTES, help: 'Where you read it, and when' },
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
    teach:
      "The instruments with their errors. What is left empty is taken as an ordinary logger's and shown in every derivation.",
    groups: [
      {
        title: 'Logger',
        fields: [
          NAME('Bench logger 1'),
          number('voltageGain', 'Voltage error ±', '%', { help: 'Empty: 0.5 %', isColumn: true }),
          number('currentGain', 'Current error ±', '%', { help: 'Empty: 1 %', isColumn: true }),
          number('currentOffsetA', 'Current offset ±', 'A', { help: 'Empty: 0.03 A', isColumn: true }),
          number('distanceGain', 'Distance error ±', '%', { help: 'Empty: 0.5 %', isColumn: true }),
          number('altitudeM', 'Altitude error ±', 'm', { help: 'Empty: 1 m', isColumn: true }),
          { name: 'calibration', label: 'How it was calibrated', kind: 'text' },
          NOTES,
        ],
      },
    ],
  },
};

export function fieldsOf(kind: PartKind): readonly PartField[] {
  return PART_WORDS[kind].groups.flatMap(({ fields }) => fields);
}
/** The label under which a field of a part is asked for. */
export function labelOf(kind: PartKind, name: string): string {
  return fieldsOf(kind).find((field) => field.name === name)?.label ?? name;
}
export function choiceLabel(choices: readonly Choice[] | undefined, value: unknown): string {
  return choices?.find((one) => one.value === value)?.label ?? String(value);
}
