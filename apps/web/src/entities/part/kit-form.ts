import {
  AXLE_DIAMETERS,
  AXLE_FLATS,
  asLabel,
  choice,
  CLAIMS,
  flag,
  MASS,
  MOTOR_KINDS,
  NAME,
  NOTES,
  number,
  PLUGS,
  PRICE,
  RIMS,
  SHELL_WIDTHS,
  SHELLS,
  type PartForm,
  WIRES,
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
        number('maxTorqueNm', 'Maximum torque', 'Nm', { help: 'At the wheel, or at the crank of a mid motor' }),
        number('noLoadRpm', 'No-load speed', 'rpm', {
          help: 'At the wheel or chainring, at nominal voltage',
        }),
        number('rpmPerVolt', 'or rpm per volt', 'rpm'),
        number('gearRatio', 'Motor gear ratio'),
        MASS,
        PRICE,
      ],
    },
    {
      title: 'Controller and wiring',
      use: 'BMS, connectors, wires, fuse, cut-off',
      fields: [
        choice('controllerPlace', 'Controller', asLabel('inside', 'outside')),
        number('currentLimitA', 'Current limit', 'A', { isColumn: true }),
        number('peakCurrentA', 'Peak current', 'A'),
        number('cutoffV', 'Low-voltage cut-off', 'V'),
        number('controllerMaxV', 'Controller maximum voltage', 'V'),
        number('displayMaxV', 'Display maximum voltage', 'V'),
        number('connectorA', 'Connector rated for', 'A', { sizes: PLUGS }),
        number('wireMm2', 'Wire cross-section', 'mm²', {
          sizes: WIRES,
          help: 'Blank: as usual for the current the kit is sold for',
        }),
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
        number('crankSensorMm', 'Crank sensor thickness', 'mm'),
        number('handlebarRoomMm', 'Handlebar space needed', 'mm'),
      ],
    },
    {
      title: 'Hub',
      use: 'Axle, cogs, disc, torque arms',
      fields: [
        number('axleWidthMm', 'Axle width between faces', 'mm', { when: isHub }),
        number('axleDiameterMm', 'Axle diameter', 'mm', { when: isHub, sizes: AXLE_DIAMETERS }),
        number('axleFlatsMm', 'Across the flats', 'mm', { when: isHub, sizes: AXLE_FLATS }),
        choice('cogMount', 'Freewheel or cassette', asLabel('freewheel', 'cassette', 'none'), { when: isHub }),
        number('cogSpaceMm', 'Clearance, cover to axle face', 'mm', { when: isHub, help: 'Drive side' }),
        flag('discMount', 'Disc mount', { when: isHub }),
        number('discBossDepthMm', 'Disc bolt hole depth', 'mm', { when: isHub }),
        number('rimDiameterMm', 'Rim size (bead-seat diameter)', 'mm', { when: isHub, sizes: RIMS }),
        { name: 'torqueArms', label: 'Torque arms supplied', kind: 'whole', when: isHub },
        number('torqueArmNm', 'Each rated for', 'Nm', { when: isHub }),
        number('nutTorqueNm', 'Axle nut torque (maker’s)', 'Nm', { when: isHub }),
      ],
    },
    {
      title: 'Mid motor',
      use: 'Shell, spacers, chain line',
      fields: [
        { name: 'shellKinds', label: 'Fits shells', kind: 'choices', choices: SHELLS, when: isMid },
        number('shellWidthMm', 'Widest shell', 'mm', { when: isMid, sizes: SHELL_WIDTHS }),
        number('chainLineMm', 'Chain line of the chainring', 'mm', { when: isMid }),
        number('nutTorqueNm', 'Lockring torque (maker’s)', 'Nm', { when: isMid }),
      ],
    },
    {
      title: 'In the box',
      use: 'Item weights replace the kit weight',
      fields: [{ name: 'box', label: 'Box', kind: 'box' }],
    },
    CLAIMS,
    { title: 'Notes', fields: [NOTES] },
  ],
};
