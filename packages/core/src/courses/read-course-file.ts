import { gather } from '../numeric/index.js';
import {
  catchLogProblem,
  cleanLog,
  decodeText,
  LogProblemError,
  parseUnit,
  readLog,
  readTable,
  tableNumber,
  type LogOutcome,
} from '../logs/index.js';
import { toSi, UNITS } from '../units/index.js';

/** What a course file holds: positions, or only altitudes over distance. Columns of equal length; NaN where a value is missing. */
export type CourseFile =
  | {
      readonly kind: 'positions';
      readonly format: 'gpx' | 'geojson' | 'csv';
      readonly latitude: Float64Array;
      readonly longitude: Float64Array;
      readonly altitudeM: Float64Array | null;
    }
  | {
      readonly kind: 'profile';
      readonly format: 'csv';
      readonly distanceM: Float64Array;
      readonly altitudeM: Float64Array;
    };

/**
 * Reads the course of a GPX track or route, of the first line of a GeoJSON file, or of a CSV table (distance and
 * altitude, or latitude and longitude). Bytes unpacked. Fails like `readLog`, in sentences that name the mend.
 */
export function readCourseFile(bytes: Uint8Array): LogOutcome<CourseFile> {
  return catchLogProblem(() => {
    const { text } = decodeText(bytes);
    const first = /\S/.exec(text)?.[0];
    if (first === '{' || first === '[') return readGeoJson(text);
    if (first === '<') return readPositions(bytes);
    return readProfileTable(bytes);
  });
}

function readPositions(bytes: Uint8Array): CourseFile {
  const raw = readLog(bytes);
  if (!raw.ok) throw new LogProblemError(raw.problem);
  const clean = cleanLog(raw.value);
  if (!clean.ok) throw new LogProblemError(clean.problem);
  const { latitude, longitude, altitude } = clean.value.channels;
  if (!latitude || !longitude) throw noPositions();
  return { kind: 'positions', format: 'gpx', latitude, longitude, altitudeM: altitude ?? null };
}

function noPositions(): LogProblemError {
  return new LogProblemError({
    code: 'no-known-column',
    message: 'The file holds no positions, so there is no track in it.',
  });
}

function readGeoJson(text: string): CourseFile {
  let parsed: unknown;
  try {
    parsed = JSON.parse(text);
  } catch (error) {
    throw new LogProblemError({
      code: 'not-a-log',
      message: `The file looks like GeoJSON, but it is damaged: ${(error as Error).message.slice(0, 120)}. Export it again.`,
    });
  }
  const line = findLine(parsed, 0);
  if (!line)
    throw new LogProblemError({
      code: 'no-known-column',
      message: 'The GeoJSON file holds no line ("LineString"). A course is a line; points and areas are not used.',
    });
  const latitude = new Float64Array(line.length);
  const longitude = new Float64Array(line.length);
  const altitudeM = new Float64Array(line.length).fill(NaN);
  let hasAltitude = false;
  line.forEach((position, k) => {
    const [lon, lat, height] = Array.isArray(position) ? (position as unknown[]) : [];
    if (typeof lon !== 'number' || typeof lat !== 'number' || !(Math.abs(lat) <= 90) || !(Math.abs(lon) <= 180))
      throw new LogProblemError({
        code: 'not-a-log',
        message: `Position ${k + 1} of the line is not [longitude, latitude] in degrees. Export it in WGS 84.`,
      });
    latitude[k] = lat;
    longitude[k] = lon;
    if (typeof height === 'number' && Number.isFinite(height)) {
      altitudeM[k] = height;
      hasAltitude = true;
    }
  });
  return { kind: 'positions', format: 'geojson', latitude, longitude, altitudeM: hasAltitude ? altitudeM : null };
}

/** Files are nested by feature collections and multi-lines; deeper than this is no course. */
const DEEPEST = 8;
const MAX_POSITIONS = 1_000_000;

function findLine(value: unknown, depth: number): readonly unknown[] | undefined {
  if (depth > DEEPEST || typeof value !== 'object' || value === null) return undefined;
  const { type, coordinates, geometry, features, geometries } = value as Record<string, unknown>;
  if (type === 'LineString' && Array.isArray(coordinates)) return limited(coordinates);
  if (type === 'MultiLineString' && Array.isArray(coordinates)) return limited(coordinates.flat(1));
  for (const inner of [
    geometry,
    ...(Array.isArray(features) ? (features as unknown[]) : []),
    ...(Array.isArray(geometries) ? (geometries as unknown[]) : []),
  ]) {
    const line = findLine(inner, depth + 1);
    if (line) return line;
  }
  return undefined;
}

function limited(line: readonly unknown[]): readonly unknown[] {
  if (line.length > MAX_POSITIONS)
    throw new LogProblemError({
      code: 'too-many-samples',
      message: `The line has more than ${MAX_POSITIONS.toLocaleString('en')} positions. Simplify it and try again.`,
    });
  if (line.length < 2)
    throw new LogProblemError({ code: 'no-samples', message: 'The line has fewer than two positions.' });
  return line;
}

const COLUMN_VOCABULARY = {
  distance: /^(distance|dist|strecke|distanz|weg|kilometre|kilometer|km|chainage)\b/i,
  altitude: /^(altitude|alt|elevation|ele|height|höhe|hoehe)\b/i,
  latitude: /^lat(itude)?\b/i,
  longitude: /^(lon(gitude)?|lng)\b/i,
} as const;

function readProfileTable(bytes: Uint8Array): CourseFile {
  const outcome = readTable(bytes);
  if (!outcome.ok) throw new LogProblemError(outcome.problem);
  const { columns, records, decimal } = outcome.value;
  const find = (what: keyof typeof COLUMN_VOCABULARY): number =>
    columns.findIndex((name) => COLUMN_VOCABULARY[what].test(name.trim()));
  const column = (index: number, scale: (value: number) => number): Float64Array =>
    Float64Array.from(records, (record) => scale(tableNumber(record[index], decimal)));
  const [latitude, longitude, altitude, distance] = [
    find('latitude'),
    find('longitude'),
    find('altitude'),
    find('distance'),
  ];
  if (latitude >= 0 && longitude >= 0)
    return {
      kind: 'positions',
      format: 'csv',
      latitude: column(latitude, (v) => v),
      longitude: column(longitude, (v) => v),
      altitudeM: altitude >= 0 ? column(altitude, lengthScale(columns[altitude]!, 'm')) : null,
    };
  if (distance < 0 || altitude < 0)
    throw new LogProblemError({
      code: 'no-known-column',
      message:
        'A table of a course needs a column "distance" and a column "altitude" with their units in brackets, for example distance (m), altitude (m); or latitude and longitude.',
    });
  const distanceM = column(distance, lengthScale(columns[distance]!, undefined));
  const altitudeM = column(altitude, lengthScale(columns[altitude]!, 'm'));
  const kept = Array.from(distanceM.keys()).filter(
    (k) => Number.isFinite(distanceM[k]!) && Number.isFinite(altitudeM[k]!),
  );
  if (kept.length < 2)
    throw new LogProblemError({ code: 'no-samples', message: 'Fewer than two rows hold a distance and an altitude.' });
  kept.forEach((k, j) => {
    if (j > 0 && distanceM[k]! < distanceM[kept[j - 1]!]!)
      throw new LogProblemError({
        code: 'not-a-log',
        // The header is line 1.
        line: k + 2,
        message: `Row ${k + 1} of the table goes back in distance. Sort it by distance and try again.`,
      });
  });
  const origin = distanceM[kept[0]!]!;
  return {
    kind: 'profile',
    format: 'csv',
    distanceM: Float64Array.from(kept, (k) => distanceM[k]! - origin),
    altitudeM: gather(altitudeM, kept),
  };
}

/** The factor of the unit in a header; where none is written, `otherwise`, or the person is asked. */
function lengthScale(header: string, otherwise: 'm' | undefined): (value: number) => number {
  const written =
    /[([]([^)\]]+)[)\]]/.exec(header)?.[1] ?? /_(m|km|mi|ft)$/i.exec(header)?.[1] ?? /^(km)$/i.exec(header.trim())?.[1];
  const unit = written === undefined ? otherwise : parseUnit(written);
  if (unit === undefined || UNITS[unit].dimension !== 'length')
    throw new LogProblemError({
      code: 'mapping-needed',
      message: `In which unit is the column "${header}"? Write it in brackets in the header: "${header.replace(/[([].*/, '').trim()} (m)", (km), (ft) or (mi).`,
    });
  return (value) => toSi(value, unit);
}
