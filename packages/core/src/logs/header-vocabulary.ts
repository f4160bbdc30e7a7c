import { isUnitName, type UnitName } from '../units/index.js';
import type { ChannelName } from './channels.js';

export type HeaderMeaning = ChannelName | 'time' | 'date' | 'temperature';

/** Words a header may use, in lower case and without unit; add a word here to teach the reader a new one. */
const HEADER_VOCABULARY: Record<HeaderMeaning, readonly string[]> = {
  time: [
    'time',
    't',
    'timestamp',
    'time stamp',
    'elapsed',
    'elapsed time',
    'seconds',
    'secs',
    'ride time',
    'clock',
    'utc',
    'datetime',
    'date time',
    'local time',
    'time of day',
    'milliseconds',
    'millis',
    'zeit',
    'uhrzeit',
    'zeitstempel',
    'temps',
    'heure',
    'tiempo',
    'hora',
  ],
  date: ['date', 'day', 'datum', 'fecha'],
  speed: [
    'speed',
    'velocity',
    'ground speed',
    'wheel speed',
    'gps speed',
    'bike speed',
    'vehicle speed',
    'geschwindigkeit',
    'tempo',
    'vitesse',
    'velocidad',
  ],
  distance: [
    'distance',
    'dist',
    'trip',
    'trip distance',
    'odometer',
    'odo',
    'odometre',
    'strecke',
    'distanz',
    'distancia',
    'total distance',
  ],
  latitude: ['latitude', 'lat', 'breite', 'breitengrad', 'latitud'],
  longitude: ['longitude', 'lon', 'lng', 'long', 'länge', 'längengrad', 'longitud'],
  altitude: ['altitude', 'alt', 'elevation', 'ele', 'elev', 'height', 'gps altitude', 'höhe', 'hoehe', 'altitud'],
  voltage: [
    'voltage',
    'volts',
    'volt',
    'u',
    'battery voltage',
    'pack voltage',
    'bus voltage',
    'spannung',
    'tension',
    'voltaje',
  ],
  current: [
    'current',
    'amps',
    'amperes',
    'ampere',
    'i',
    'battery current',
    'pack current',
    'dc current',
    'strom',
    'courant',
    'corriente',
  ],
  power: [
    'power',
    'watts',
    'watt',
    'p',
    'electrical power',
    'electric power',
    'battery power',
    'pack power',
    'leistung',
    'puissance',
    'potencia',
  ],
  motorTemperature: [
    'motor temperature',
    'motor temp',
    'hub temperature',
    'hub temp',
    'hub',
    'temperature motor',
    'temp motor',
    't motor',
    'motortemperatur',
    'température moteur',
  ],
  controllerTemperature: [
    'controller temperature',
    'controller temp',
    'temperature controller',
    'temp controller',
    't controller',
    'esc temp',
    'fet temp',
    'reglertemperatur',
  ],
  batteryTemperature: [
    'battery temperature',
    'battery temp',
    'pack temperature',
    'pack temp',
    'temp battery',
    't battery',
    'cell temperature',
    'akkutemperatur',
  ],
  airTemperature: [
    'air temperature',
    'air temp',
    'ambient temperature',
    'ambient temp',
    'ambient',
    'outside temperature',
    'atemp',
    'lufttemperatur',
  ],
  temperature: ['temperature', 'temp', 'temperatur', 'température', 'temperatura'],
  cadence: ['cadence', 'cad', 'crank speed', 'crank cadence', 'pedal cadence', 'trittfrequenz', 'cadencia'],
  throttle: ['throttle', 'throttle position', 'gas'],
  assistLevel: [
    'assist level',
    'assist',
    'level',
    'assistance level',
    'pas',
    'pas level',
    'support level',
    'stufe',
    'unterstützung',
  ],
  brake: ['brake', 'brakes', 'brake switch', 'brake lever', 'bremse', 'frein', 'freno'],
  riderPower: ['rider power', 'human power', 'leg power', 'pedal power', 'crank power', 'fahrerleistung'],
  riderTorque: ['rider torque', 'torque', 'crank torque', 'pedal torque', 'drehmoment'],
  heartRate: ['heart rate', 'heartrate', 'hr', 'pulse', 'puls', 'herzfrequenz'],
  gear: ['gear', 'gear number', 'gang'],
  lap: ['lap', 'laps', 'lap number', 'mark', 'marks', 'marker', 'runde', 'tour', 'vuelta'],
  stateOfCharge: [
    'state of charge',
    'soc',
    'charge level',
    'battery level',
    'battery percent',
    'battery',
    'ladezustand',
  ],
};

/** Spellings of units, compared in lower case with spaces and dots removed. */
const UNIT_SPELLINGS: Readonly<Record<string, UnitName>> = {
  s: 's',
  sec: 's',
  secs: 's',
  second: 's',
  seconds: 's',
  sek: 's',
  ms: 'ms',
  msec: 'ms',
  millis: 'ms',
  milliseconds: 'ms',
  us: 'us',
  µs: 'us',
  min: 'min',
  mins: 'min',
  minutes: 'min',
  h: 'h',
  hours: 'h',
  'km/h': 'km/h',
  kmh: 'km/h',
  kph: 'km/h',
  kmph: 'km/h',
  mph: 'mph',
  'mi/h': 'mph',
  'm/s': 'm/s',
  mps: 'm/s',
  kn: 'kn',
  kt: 'kn',
  kts: 'kn',
  knots: 'kn',
  m: 'm',
  metre: 'm',
  metres: 'm',
  meter: 'm',
  meters: 'm',
  km: 'km',
  mi: 'mi',
  mile: 'mi',
  miles: 'mi',
  ft: 'ft',
  feet: 'ft',
  v: 'V',
  volt: 'V',
  volts: 'V',
  mv: 'mV',
  a: 'A',
  amp: 'A',
  amps: 'A',
  ma: 'mA',
  w: 'W',
  watt: 'W',
  watts: 'W',
  kw: 'kW',
  '°c': '°C',
  c: '°C',
  degc: '°C',
  celsius: '°C',
  ºc: '°C',
  '°f': '°F',
  f: '°F',
  degf: '°F',
  fahrenheit: '°F',
  ºf: '°F',
  k: 'K',
  kelvin: 'K',
  rpm: 'rpm',
  '1/min': 'rpm',
  'u/min': 'rpm',
  hz: 'Hz',
  '%': '%',
  pct: '%',
  percent: '%',
  nm: 'Nm',
  bpm: 'bpm',
  deg: 'deg',
  '°': 'deg',
  degrees: 'deg',
};

const BY_WORD = new Map<string, HeaderMeaning>(
  Object.entries(HEADER_VOCABULARY).flatMap(([meaning, words]) =>
    words.map((word) => [word, meaning as HeaderMeaning] as const),
  ),
);

export function parseUnit(text: string): UnitName | undefined {
  const key = text.trim().toLowerCase().replaceAll(/[\s.]/g, '');
  if (Object.hasOwn(UNIT_SPELLINGS, key)) return UNIT_SPELLINGS[key];
  return isUnitName(text) ? text : undefined;
}

export interface HeaderReading {
  readonly meaning?: HeaderMeaning;
  readonly unit?: UnitName;
  /** A unit was written but is not one the program knows. */
  readonly unknownUnit?: string;
}

/** What a column's header says: `speed (mph)`, `speed [km/h]`, `Speed_kmh`, `speed mph`, `BatteryVoltage`. */
export function readHeader(header: string): HeaderReading {
  const text = header.normalize('NFC').trim();
  const bracketed = /^(.*?)[\s]*[([{<]\s*([^)\]}>]*)\s*[)\]}>]\s*$/u.exec(text);
  if (bracketed) {
    const meaning = findMeaning(bracketed[1]!);
    const unit = parseUnit(bracketed[2]!);
    return withUnit(meaning, unit, unit ? undefined : bracketed[2]!);
  }
  const whole = findMeaning(text);
  if (whole) return withUnit(whole, whole === 'time' ? unitOfTimeWord(text) : undefined);
  const trailing = /^(.+?)[\s_,;:|/-]+([^\s_,;:]+(?:\/[^\s_]+)?)$/u.exec(text);
  if (trailing) {
    const unit = parseUnit(trailing[2]!);
    const meaning = findMeaning(trailing[1]!);
    if (unit && meaning) return { meaning, unit };
  }
  return {};
}

function withUnit(meaning: HeaderMeaning | undefined, unit: UnitName | undefined, unknownUnit?: string): HeaderReading {
  return { ...(meaning && { meaning }), ...(unit && { unit }), ...(unknownUnit && { unknownUnit }) };
}

/** `seconds` and `millis` name channel and unit at once. */
function unitOfTimeWord(text: string): UnitName | undefined {
  const word = text.toLowerCase();
  return ['seconds', 'secs', 'milliseconds', 'millis'].includes(word) ? parseUnit(word) : undefined;
}

function findMeaning(text: string): HeaderMeaning | undefined {
  const plain = (words: string): string =>
    words
      .toLowerCase()
      .replaceAll(/[\s_.\-:]+/g, ' ')
      .trim();
  // "BatteryVoltage" is two words, "SoC" is one.
  return BY_WORD.get(plain(text.replaceAll(/(\p{Ll})(\p{Lu})/gu, '$1 $2'))) ?? BY_WORD.get(plain(text));
}
