import { Readable } from 'node:stream';
import { createGunzip, gunzipSync } from 'node:zlib';
import { LOG_LIMITS, LogProblemError, type Pieces } from '@ebrix/core/logs';

const MIB = 1024 * 1024;
const PIECE_BYTES = MIB;
/** Of an empty file that is packed; the last four say how long it was. */
const FEWEST_BYTES = 18;

function isPacked(bytes: Uint8Array): boolean {
  return bytes[0] === 0x1f && bytes[1] === 0x8b;
}

/** Unpacks a gzipped file; any other comes back as it is. Fails: `packed-too-tight` (a bomb, or larger than a log may be), `damaged-archive`. */
export function unpack(bytes: Uint8Array): Uint8Array {
  if (!isPacked(bytes)) return bytes;
  const limit = limitOf(bytes, LOG_LIMITS.fileBytes);
  try {
    return gunzipSync(bytes, { maxOutputLength: limit });
  } catch (error) {
    if ((error as { code?: string }).code === 'ERR_BUFFER_TOO_LARGE') throw tooTight(limit);
    throw damaged();
  }
}

/**
 * The same file piece by piece, which may be longer than one that is unpacked as a whole; any other comes in one piece. `byteCount`: about how long
 * it is, where it does not lie. The pieces fail as `unpack` does.
 */
export function unpackInPieces(bytes: Uint8Array): { pieces: Pieces; byteCount: number } {
  if (!isPacked(bytes)) return { pieces: () => Readable.from([bytes]), byteCount: bytes.length };
  const limit = limitOf(bytes, LOG_LIMITS.unpackedBytes);
  const said = bytes.length < FEWEST_BYTES ? 0 : Buffer.from(bytes.subarray(-4)).readUInt32LE();
  return { pieces: () => unpacked(bytes, limit), byteCount: Math.min(said, limit) };
}

async function* unpacked(bytes: Uint8Array, limit: number): AsyncGenerator<Uint8Array> {
  const gunzip = createGunzip({ chunkSize: PIECE_BYTES });
  gunzip.end(bytes);
  let length = 0;
  try {
    for await (const piece of gunzip as AsyncIterable<Buffer>) {
      length += piece.length;
      if (length > limit) throw tooTight(limit);
      yield piece;
    }
  } catch (error) {
    throw error instanceof LogProblemError || !isOfZlib(error) ? error : damaged();
  } finally {
    gunzip.destroy();
  }
}

function isOfZlib(error: unknown): boolean {
  return String((error as { code?: unknown }).code).startsWith('Z_');
}

function limitOf(bytes: Uint8Array, most: number): number {
  return Math.min(most, Math.max(1, Math.ceil(bytes.length / MIB)) * LOG_LIMITS.unpackRatio * MIB);
}

function tooTight(limit: number): LogProblemError {
  return new LogProblemError({
    code: 'packed-too-tight',
    message: `The packed file unpacks to more than ${limit / MIB} MiB, which is more than a log of its size may be. Unpack it yourself and split it.`,
  });
}

function damaged(): LogProblemError {
  return new LogProblemError({
    code: 'damaged-archive',
    message: 'The gzip file is damaged or cut off. Copy it again, or unpack it and drop the log itself.',
  });
}
