import type { Dimension, UnitName } from '../units/index.js';

export interface ChannelDefinition {
  readonly label: string;
  readonly dimension: Dimension;
  /** Unit of the stored column: SI but for °C, 1/min, degrees of arc and beats per minute. */
  readonly storedUnit: UnitName;
  /** Unit shown to people who chose metric units. */
  readonly fieldUnit: UnitName;
  /** The unit a header without one can only mean; absent where several are usual and the person is asked. */
  readonly impliedUnit?: UnitName;
  /** Units a person can pick from when asked. */
  readonly units: readonly UnitName[];
  /** An analysis of energy or distance needs this channel, so a doubt about it must be settled first. */
  readonly essential?: true;
}

/** Every channel a log can carry. Time is kept apart: it is the clock of all of them. */
export const CHANNELS = {
  speed: {
    label: 'speed',
    dimension: 'speed',
    storedUnit: 'm/s',
    fieldUnit: 'km/h',
    units: ['km/h', 'mph', 'm/s', 'kn'],
    essential: true,
  },
  distance: {
    label: 'distance',
    dimension: 'length',
    storedUnit: 'm',
    fieldUnit: 'km',
    units: ['m', 'km', 'mi', 'ft'],
    essential: true,
  },
  latitude: {
    label: 'latitude',
    dimension: 'angle',
    storedUnit: 'deg',
    fieldUnit: 'deg',
    impliedUnit: 'deg',
    units: ['deg'],
  },
  longitude: {
    label: 'longitude',
    dimension: 'angle',
    storedUnit: 'deg',
    fieldUnit: 'deg',
    impliedUnit: 'deg',
    units: ['deg'],
  },
  altitude: { label: 'altitude', dimension: 'length', storedUnit: 'm', fieldUnit: 'm', units: ['m', 'ft'] },
  voltage: {
    label: 'pack voltage',
    dimension: 'voltage',
    storedUnit: 'V',
    fieldUnit: 'V',
    impliedUnit: 'V',
    units: ['V', 'mV'],
    essential: true,
  },
  current: {
    label: 'pack current',
    dimension: 'current',
    storedUnit: 'A',
    fieldUnit: 'A',
    impliedUnit: 'A',
    units: ['A', 'mA'],
    essential: true,
  },
  power: {
    label: 'power',
    dimension: 'power',
    storedUnit: 'W',
    fieldUnit: 'W',
    impliedUnit: 'W',
    units: ['W', 'kW'],
    essential: true,
  },
  energyCounter: {
    label: 'energy used so far',
    dimension: 'energy',
    storedUnit: 'J',
    fieldUnit: 'Wh',
    impliedUnit: 'Wh',
    units: ['Wh', 'kWh'],
  },
  chargeCounter: {
    label: 'charge used so far',
    dimension: 'charge',
    storedUnit: 'As',
    fieldUnit: 'Ah',
    impliedUnit: 'Ah',
    units: ['Ah', 'mAh'],
  },
  motorTemperature: {
    label: 'motor temperature',
    dimension: 'temperature',
    storedUnit: '°C',
    fieldUnit: '°C',
    units: ['°C', '°F', 'K'],
  },
  controllerTemperature: {
    label: 'controller temperature',
    dimension: 'temperature',
    storedUnit: '°C',
    fieldUnit: '°C',
    units: ['°C', '°F', 'K'],
  },
  batteryTemperature: {
    label: 'battery temperature',
    dimension: 'temperature',
    storedUnit: '°C',
    fieldUnit: '°C',
    units: ['°C', '°F', 'K'],
  },
  airTemperature: {
    label: 'air temperature',
    dimension: 'temperature',
    storedUnit: '°C',
    fieldUnit: '°C',
    units: ['°C', '°F', 'K'],
  },
  cadence: {
    label: 'cadence',
    dimension: 'rotation',
    storedUnit: 'rpm',
    fieldUnit: 'rpm',
    impliedUnit: 'rpm',
    units: ['rpm', 'Hz'],
  },
  throttle: { label: 'throttle', dimension: 'fraction', storedUnit: '1', fieldUnit: '%', units: ['%', '1'] },
  assistLevel: {
    label: 'assist level',
    dimension: 'count',
    storedUnit: 'level',
    fieldUnit: 'level',
    impliedUnit: 'level',
    units: ['level'],
  },
  brake: {
    label: 'brake',
    dimension: 'count',
    storedUnit: 'level',
    fieldUnit: 'level',
    impliedUnit: 'level',
    units: ['level'],
  },
  riderPower: {
    label: 'rider power',
    dimension: 'power',
    storedUnit: 'W',
    fieldUnit: 'W',
    impliedUnit: 'W',
    units: ['W', 'kW'],
  },
  riderTorque: {
    label: 'rider torque',
    dimension: 'torque',
    storedUnit: 'Nm',
    fieldUnit: 'Nm',
    impliedUnit: 'Nm',
    units: ['Nm'],
  },
  heartRate: {
    label: 'heart rate',
    dimension: 'heartRate',
    storedUnit: 'bpm',
    fieldUnit: 'bpm',
    impliedUnit: 'bpm',
    units: ['bpm'],
  },
  gear: {
    label: 'gear',
    dimension: 'count',
    storedUnit: 'level',
    fieldUnit: 'level',
    impliedUnit: 'level',
    units: ['level'],
  },
  lap: {
    label: 'lap or mark',
    dimension: 'count',
    storedUnit: 'level',
    fieldUnit: 'level',
    impliedUnit: 'level',
    units: ['level'],
  },
  stateOfCharge: {
    label: 'state of charge',
    dimension: 'fraction',
    storedUnit: '1',
    fieldUnit: '%',
    units: ['%', '1'],
  },
  accelerationX: {
    label: 'acceleration x',
    dimension: 'acceleration',
    storedUnit: 'm/s²',
    fieldUnit: 'm/s²',
    impliedUnit: 'm/s²',
    units: ['m/s²'],
  },
  accelerationY: {
    label: 'acceleration y',
    dimension: 'acceleration',
    storedUnit: 'm/s²',
    fieldUnit: 'm/s²',
    impliedUnit: 'm/s²',
    units: ['m/s²'],
  },
  accelerationZ: {
    label: 'acceleration z',
    dimension: 'acceleration',
    storedUnit: 'm/s²',
    fieldUnit: 'm/s²',
    impliedUnit: 'm/s²',
    units: ['m/s²'],
  },
  turnRateX: {
    label: 'turn rate x',
    dimension: 'turnRate',
    storedUnit: 'deg/s',
    fieldUnit: 'deg/s',
    units: ['deg/s', 'rad/s'],
  },
  turnRateY: {
    label: 'turn rate y',
    dimension: 'turnRate',
    storedUnit: 'deg/s',
    fieldUnit: 'deg/s',
    units: ['deg/s', 'rad/s'],
  },
  turnRateZ: {
    label: 'turn rate z',
    dimension: 'turnRate',
    storedUnit: 'deg/s',
    fieldUnit: 'deg/s',
    units: ['deg/s', 'rad/s'],
  },
} as const satisfies Record<string, ChannelDefinition>;

export type ChannelName = keyof typeof CHANNELS;
export const CHANNEL_NAMES = Object.keys(CHANNELS) as ChannelName[];

export function channelDefinition(channel: ChannelName): ChannelDefinition {
  return CHANNELS[channel];
}

/** Equally long columns on one clock; a sample that is missing or was taken out is NaN, only here and never in a result. */
export type ChannelColumns = Partial<Record<ChannelName, Float64Array>>;
