import type { NextFunction, Request, Response } from 'express';
import { DomainError } from './domain-error.js';

const MIB = 1024 * 1024;
/** Of one request; of one that does not say its length; and of all that are being read, which lie in memory meanwhile. */
export const UPLOAD_BUDGET = { request: 512 * MIB, unsaid: 128 * MIB, together: 768 * MIB };
/** These go to the disk as they come. */
const TO_DISK: ReadonlySet<string> = new Set(['/api/package', '/api/elsewhere/package']);
const LOOK_EVERY_MS = 200;

/**
 * Lets uploads in only while there is memory for them. One that does not say its length gets a fixed room, and is cut off when it sends
 * more. Fails: `too-large` for one request, `busy` while others are being read.
 */
export function uploadBudget({ request: most, unsaid, together } = UPLOAD_BUDGET) {
  let reserved = 0;
  return (request: Request, response: Response, next: NextFunction): void => {
    if (!request.is('multipart/form-data') || TO_DISK.has(request.path)) return next();
    const said = request.headers['content-length'];
    const length = said === undefined ? unsaid : Number(said);
    if (!(length <= most))
      return next(
        new DomainError(
          'too-large',
          `The files are ${Math.round(length / MIB)} MiB together; at most ${Math.round(most / MIB)} MiB are taken at once. Send some of them first.`,
        ),
      );
    if (reserved + length > together)
      return next(
        new DomainError(
          'busy',
          'Other files are being read just now. Send these again in a moment; nothing was stored.',
        ),
      );
    reserved += length;
    const watch = said === undefined ? cutOffBeyond(request, length) : undefined;
    response.once('close', () => {
      clearInterval(watch);
      reserved -= length;
    });
    next();
  };
}

function cutOffBeyond({ socket }: Request, bytes: number): NodeJS.Timeout {
  const before = socket.bytesRead;
  return setInterval(() => {
    if (socket.bytesRead - before > bytes) socket.destroy();
  }, LOOK_EVERY_MS).unref();
}
