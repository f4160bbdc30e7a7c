import { gunzipSync } from 'node:zlib';
import { LOG_LIMITS, LogProblemError } from '@ebrix/core/logs';

const MIB = 1024 * 1024;

/** Unpacks a gzipped file; any other comes back as it is. Fails: `packed-too-tight` (a bomb, or larger than a log may be), `damaged-archive`. */
export function unpack(bytes: Uint8Array): Uint8Array {
  if (bytes[0] !== 0x1f || bytes[1] !== 0x8b) return bytes;
  const limit = Math.min(
    LOG_LIMITS.fileBytes,
    Math.max(1, Math.ceil(bytes.length / MIB)) * LOG_LIMITS.unpackRatio * MIB,
  );
  try {
    return gunzipSync(bytes, { maxOutputLength: limit });
  } catch (error) {
    if ((error as { code?: string }).code === 'ERR_BUFFER_TOO_LARGE')
      throw new LogProblemError({
        code: 'packed-too-tight',
        message: `The packed file unpacks to more than ${limit / MIB} MiB, which is more than a log of its size may be. Unpack it yourself and split it.`,
      });
    throw new LogProblemError({
      code: 'damaged-archive',
      message: 'The gzip file is damaged or cut off. Copy it again, or unpack it and drop the log itself.',
    });
  }
}
