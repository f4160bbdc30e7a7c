import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Response } from 'express';

/** A table of any length, piece by piece: memory holds one piece of it, and a client that leaves ends the work. */
export async function sendCsv(response: Response, fileName: string, pieces: AsyncIterable<string>): Promise<void> {
  response
    .setHeader('Content-Type', 'text/csv; charset=utf-8')
    .setHeader('Content-Disposition', `attachment; filename="${fileName}"`);
  try {
    await pipeline(Readable.from(pieces), response);
  } catch (error) {
    if ((error as { code?: string }).code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error;
  }
}
