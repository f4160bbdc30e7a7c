import {
  asLabel,
  choice,
  CLAIMS,
  flag,
  MASS,
  MOTOR_KINDS,
  NAME,
  NOTES,
  number,
  PRICE,
  SHELLS,
  type PartForm,
} from './field.js';

const isHub = (part: Readonly<Record<string, unknown>>): boolean => part['motorKind'] !== 'mid';
const isMid = (part: Readonly<Record<string, unknown>>): boolean => part['motorKind'] === 'mid';

export const KIT_FORM: PartForm = {
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
        choice('controllerPlace', 'Controller', asLabel('inside', 'outside')),
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
        choice('sensor', 'Pedal sensor', asLabel('cadence', 'torque', 'both', 'none')),
        choice('brakeSwitches', 'Brake switches', asLabel('lever', 'in-line', 'none')),
        choice('throttle', 'Throttle', asLabel('thumb', 'twist', 'none')),
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
        choice('cogMount', 'Takes', asLabel('freewheel', 'cassette', 'none'), { when: isHub }),
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
};
