import { diskStorage, memoryStorage } from 'multer';
import { tmpdir } from 'node:os';
import { LOG_LIMITS, sanitiseFileName } from '@ebrix/core/logs';
import { DomainError } from './domain-error.js';

export const UPLOAD_OPTIONS = {
  storage: memoryStorage(),
  limits: { fileSize: LOG_LIMITS.fileBytes, files: 60, fields: 40, fieldSize: 1024 * 1024, parts: 120 },
};

/** Files that are read at once: setups, parts. */
export const SMALL_FILE = {
  storage: memoryStorage(),
  limits: { fileSize: 2 * 1024 * 1024, files: 1, fields: 10, fieldSize: 64 * 1024, parts: 12 },
};

/** An outing that a phone led, with all it felt and its photos: on the disk while it is read. */
export const OUTING_FILE = {
  storage: diskStorage({ destination: tmpdir() }),
  limits: { fileSize: 512 * 1024 * 1024, files: 1, fields: 2, parts: 4 },
};

/** Data packages, which may be larger than memory: on the disk, until they are taken in or dropped. */
export const PACKAGE_UPLOAD = {
  storage: diskStorage({ destination: tmpdir() }),
  limits: { fileSize: 20 * 1024 ** 3, files: 1, fields: 4, parts: 6 },
};

/** The text of an upload. Fails: `no-file`; `cannot-read` for what is not UTF-8 text. */
export function smallTextFile(file: Express.Multer.File | undefined): string {
  if (!file) throw new DomainError('no-file', 'No file came with the request. Send it in the field "file".');
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(file.buffer);
  } catch {
    throw new DomainError('cannot-read', 'The file is not text in UTF-8. Save it as UTF-8 and try again.');
  }
}

export interface UploadedLog {
  readonly fileName: string;
  readonly bytes: Uint8Array;
}

/** The upload's bytes under a name that is safe to show and store. */
export function toUploadedLog(file: Express.Multer.File | undefined): UploadedLog {
  if (!file) throw new DomainError('no-file', 'No file came with the request. Send it in the field "file".');
  // The multipart parser takes names for Latin-1; browsers send UTF-8.
  const name = Buffer.from(file.originalname, 'latin1').toString('utf8');
  return { fileName: sanitiseFileName(name), bytes: file.buffer };
}
