import { open, readFile, stat } from 'node:fs/promises';
import type { z } from 'zod';
import { alongFileSchema, outingZipSchema, type AlongRideInput } from '@ebrix/contract';
import { CheckedZip, type ZipKind } from '../common/checked-zip.js';
import { DomainError } from '../common/domain-error.js';

const MIB = 1024 * 1024;
/** An outing as one text is held in memory as a whole. */
const TEXT_BYTES = 128 * MIB;
const HEAD_BYTES = 32 * MIB;
/** Of one ride, unpacked: six hours of a phone that feels sixty times a second are a hundred. */
const LOG_BYTES = 256 * MIB;
const PHOTO_BYTES = 24 * MIB;
const LINE_CHARACTERS = 64 * 1024;
const ZIP: ZipKind = { name: 'The file', entries: 1000, refuse };

export interface RideOfFile {
  readonly id: string;
  readonly ride: AlongRideInput;
  readonly log: {
    readonly channels: readonly string[];
    readonly units: Readonly<Record<string, string>>;
    /** As the logger protocol writes them: number, seconds, values. Fails: `cannot-read` before the first where the file is damaged. */
    readonly lines: () => AsyncIterable<string>;
  } | null;
}
export interface PhotoOfFile {
  readonly id: string;
  readonly setupId: string;
  readonly caption: string;
  readonly bytes: () => Promise<Buffer>;
}
/** An outing that a phone saved; lines and photos are unpacked when they are asked for. */
export interface OutingFile {
  readonly rides: readonly RideOfFile[];
  readonly photos: readonly PhotoOfFile[];
  readonly close: () => void;
}

/** Of a zip, or of one text as phones saved it earlier. Fails: `cannot-read`, with the place. */
export async function openOutingFile(path: string): Promise<OutingFile> {
  return (await isZip(path)) ? openZip(path) : openText(path);
}

async function isZip(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(2), 0, 2, 0);
    return bytesRead === 2 && buffer.toString('latin1') === 'PK';
  } finally {
    await file.close();
  }
}

async function openZip(path: string): Promise<OutingFile> {
  const zip = await CheckedZip.open(path, ZIP);
  try {
    if (!zip.has('outing.json')) throw refuse('there is no outing.json in it.');
    const { rides, photos } = parsed((await zip.bytes('outing.json', HEAD_BYTES)).toString('utf8'), outingZipSchema);
    for (const { id, log } of rides) {
      const size = zip.sizeOf(logOf(id));
      if (log && size === undefined) throw refuse(`${logOf(id)} is missing.`);
      if (size !== undefined && size > LOG_BYTES) throw refuse(`${logOf(id)} is longer than a ride can be.`);
    }
    for (const { id } of photos) if (!zip.has(photoOf(id))) throw refuse(`${photoOf(id)} is missing.`);
    return {
      rides: rides.map(({ id, ride, log }) => ({
        id,
        ride,
        log: log && { ...log, lines: () => linesOf(zip, logOf(id)) },
      })),
      photos: photos.map((photo) => ({ ...photo, bytes: () => zip.bytes(photoOf(photo.id), PHOTO_BYTES) })),
      close: () => zip.close(),
    };
  } catch (error) {
    zip.close();
    throw error;
  }
}
const logOf = (id: string): string => `log/${id}.jsonl`;
const photoOf = (id: string): string => `photo/${id}`;

/** Lines as they are unpacked. Fails where the log is damaged before the first of them: what was taken once would stay when the whole file comes. */
async function* linesOf(zip: CheckedZip, name: string): AsyncGenerator<string> {
  await zip.requireWhole(name);
  const text = new TextDecoder();
  let begun = '';
  for await (const piece of await zip.stream(name)) {
    const lines = (begun + text.decode(piece as Buffer, { stream: true })).split('\n');
    begun = lines.pop()!;
    if (begun.length > LINE_CHARACTERS) throw refuse(`${name} holds a line that no phone writes.`);
    yield* lines;
  }
  yield begun;
}

async function openText(path: string): Promise<OutingFile> {
  if ((await stat(path)).size > TEXT_BYTES) throw refuse('it is too large for one text.');
  const { rides } = parsed(await textOf(path), alongFileSchema);
  return {
    rides: rides.map(({ id, ride, log }) => ({
      id,
      ride,
      log: log && { ...log, lines: () => asLines(log.lines) },
    })),
    photos: [],
    close: () => undefined,
  };
}

async function textOf(path: string): Promise<string> {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(await readFile(path));
  } catch {
    throw refuse('it is not text in UTF-8.');
  }
}

// oxlint-disable-next-line typescript/require-await -- The zip's lines come one after the other; these are there.
async function* asLines(lines: readonly (readonly (number | null)[])[]): AsyncGenerator<string> {
  for (const line of lines) yield JSON.stringify(line);
}

function parsed<T>(text: string, schema: z.ZodType<T>): T {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw refuse('it cannot be read as JSON, so it may be cut short.');
  }
  const outcome = schema.safeParse(value);
  if (outcome.success) return outcome.data;
  const [issue] = outcome.error.issues;
  throw refuse(`${issue!.path.join('.') || 'the file'}: ${issue!.message}`);
}

function refuse(why: string): DomainError {
  return new DomainError('cannot-read', `This is no outing of a phone: ${why} Choose the file that the phone saved.`);
}
