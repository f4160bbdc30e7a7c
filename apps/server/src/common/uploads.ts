import { memoryStorage } from 'multer';
import { LOG_LIMITS, sanitiseFileName } from '@ebrix/core/logs';
import { DomainError } from './domain-error.js';

export const UPLOAD_OPTIONS = {
  storage: memoryStorage(),
  limits: { fileSize: LOG_LIMITS.fileBytes, files: 60, fields: 40, fieldSize: 1024 * 1024, parts: 120 },
};

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
