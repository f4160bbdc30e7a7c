import { isUnitName, type UnitName } from '../units/index.js';
import type { ChannelName } from './channels.js';
import { LOG_LIMITS } from './limits.js';

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
    'spd',
    'v wheel',
    'gps spd',
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
    'weg',
    'kilometer',
    'km total',
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
    'u bat',
    'ubat',
    'u batt',
    'v bat',
    'vbat',
    'v batt',
    'vbatt',
    'volt bat',
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
    'i bat',
    'ibat',
    'i batt',
    'ibatt',
    'a bat',
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
    'p bat',
    'pbat',
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
    'tmotor',
    't mot',
    'tmot',
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
    't fet',
    'tfet',
    'temp fet',
    't esc',
    'reglertemperatur',
  ],
  batteryTemperature: [
    'battery temperature',
    'battery temp',
    'pack temperature',
    'pack temp',
    'temp battery',
    't battery',
    't bat',
    'tbat',
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
  const text = header.slice(0, LOG_LIMITS.headerCharacters).normalize('NFC').trim();
  const bracketed = splitBracket(text);
  if (bracketed) {
    const meaning = findMeaning(bracketed.name);
    const unit = parseUnit(bracketed.unit);
    return withUnit(meaning, unit, unit ? undefined : bracketed.unit);
  }
  const whole = findMeaning(text);
  if (whole) return withUnit(whole, whole === 'time' ? unitOfTimeWord(text) : undefined);
  const trailing = splitTrailingWord(text);
  if (trailing) {
    const unit = parseUnit(trailing.unit);
    const meaning = findMeaning(trailing.name);
    if (unit && meaning) return { meaning, unit };
  }
  return {};
}

const OPENERS = '([{<';
const CLOSERS = ')]}>';

/** `speed (km/h)`: the name, and what stands in the brackets at the end. One pass: a header may be built to be slow. */
function splitBracket(text: string): { name: string; unit: string } | undefined {
  const end = text.length - 1;
  if (end < 1 || !CLOSERS.includes(text[end]!)) return undefined;
  let opener = -1;
  for (let k = end - 1; k >= 0 && !CLOSERS.includes(text[k]!); k--) if (OPENERS.includes(text[k]!)) opener = k;
  return opener < 0 ? undefined : { name: text.slice(0, opener).trim(), unit: text.slice(opener + 1, end).trim() };
}

const SEPARATORS = ' \t\u00a0_,;:|/-';
/** A unit may hold a stroke (`km/h`) but none of these. */
const NEVER_IN_UNIT = ' \t\u00a0_,;:';

/** `speed_kmh`, `speed km/h`: the name, and the last word. */
function splitTrailingWord(text: string): { name: string; unit: string } | undefined {
  let cut = text.length;
  while (cut > 0 && !NEVER_IN_UNIT.includes(text[cut - 1]!)) cut--;
  // Without a space or the like, the first stroke or dash separates.
  if (cut === 0) cut = text.slice(1).search(/[|/-]/) + 2;
  if (cut < 2) return undefined;
  let from = cut;
  while (from < text.length && SEPARATORS.includes(text[from]!)) from++;
  let to = cut;
  while (to > 0 && SEPARATORS.includes(text[to - 1]!)) to--;
  return to > 0 && from < text.length ? { name: text.slice(0, to), unit: text.slice(from) } : undefined;
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
