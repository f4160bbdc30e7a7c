import { Catch, HttpException, Logger, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import type { Response } from 'express';
import { MulterError } from 'multer';
import { LogProblemError, LOG_LIMITS } from '@ebrix/core/logs';
import { CoreError } from '@ebrix/core/errors';
import type { ApiError } from '@ebrix/contract';
import { isConnectionLost } from './connection-lost.js';
import { DomainError, STATUS_OF } from './domain-error.js';

interface ErrorAnswer {
  readonly status: number;
  readonly code: string;
  readonly message: string;
  readonly details?: unknown;
}

/** Problems of a file that are a limit, not a fault: 413 instead of 422. */
const LIMIT_CODES: ReadonlySet<string> = new Set([
  'too-large',
  'too-many-samples',
  'too-many-columns',
  'packed-too-tight',
  'line-too-long',
]);

export function statusOfProblem(code: string): 413 | 422 {
  return LIMIT_CODES.has(code) ? 413 : 422;
}

/** Turns every failure into the one error shape; what is not understood is logged and told without its insides. */
@Catch()
export class ErrorFilter implements ExceptionFilter {
  private readonly logger = new Logger('errors');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    const { status, code, message, details } = this.answer(error);
    if (response.headersSent) {
      response.end();
      return;
    }
    const body: ApiError = { error: { code, message, ...(details !== undefined && { details }) } };
    response.status(status).json(body);
  }

  private answer(error: unknown): ErrorAnswer {
    if (error instanceof DomainError)
      return { status: STATUS_OF[error.code], code: error.code, message: error.message, details: error.details };
    if (error instanceof LogProblemError) {
      const { code, message, line, questions } = error.problem;
      return { status: statusOfProblem(code), code, message, details: { line, questions } };
    }
    if (error instanceof CoreError) return { status: 422, code: error.code, message: error.message };
    if (error instanceof MulterError) return uploadProblem(error);
    if (error instanceof HttpException) return httpProblem(error);
    return databaseProblem(error) ?? bodyProblem(error) ?? this.unknown(error);
  }

  private unknown(error: unknown): ErrorAnswer {
    this.logger.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
    return {
      status: 500,
      code: 'internal',
      message: 'Something went wrong inside Ebrix. Nothing was changed; the server log says more.',
    };
  }
}

function uploadProblem(error: MulterError): ErrorAnswer {
  if (error.code === 'LIMIT_FILE_SIZE')
    return {
      status: 413,
      code: 'too-large',
      message: `The file is too large. The limits: a log ${LOG_LIMITS.fileBytes / 1024 / 1024} MiB (a longer one can come packed with gzip), a photo 24 MiB, a setup or a table of parts 2 MiB.`,
    };
  if (error.code === 'LIMIT_FILE_COUNT')
    return { status: 413, code: 'too-many-files', message: 'Too many files at once: at most 60.' };
  return { status: 400, code: 'invalid-request', message: `The upload is not as expected: ${error.message}.` };
}

function httpProblem(error: HttpException): ErrorAnswer {
  const status = error.getStatus();
  if (status === 404) return { status, code: 'not-found', message: 'There is nothing at this address.' };
  // The upload's own words, as the framework passes them on.
  if (error.message.startsWith('Field value too long'))
    return {
      status: 413,
      code: 'too-large',
      message:
        'A field of the request is too large. A way needs at most 50000 points: leave out those that lie close together.',
    };
  return { status, code: status === 413 ? 'too-large' : 'invalid-request', message: error.message };
}

function databaseProblem(error: unknown): ErrorAnswer | undefined {
  const { code, detail } = error as { code?: unknown; detail?: string };
  if (code === '23505')
    return { status: 409, code: 'already-there', message: 'That name is already taken. Choose another.' };
  if (code === '23503' && /is not present in table/.test(detail ?? ''))
    return {
      status: 409,
      code: 'not-there',
      message:
        'Something that was chosen no longer exists: it may have been deleted in another window. Choose again; nothing was stored.',
    };
  if (code === '23503')
    return {
      status: 409,
      code: 'in-use',
      message: 'It is used by runs or setups, so it cannot be deleted. Archive it instead.',
    };
  // What no column can hold: a NUL or half a character in a text, a year 0, a number beyond its column.
  if (typeof code === 'string' && /^22/.test(code))
    return {
      status: 400,
      code: 'invalid-request',
      message:
        'A text, a day or a number in it cannot be stored: leave out control characters and halves of characters, and check years and sizes. Nothing was changed.',
    };
  if (code === '53100')
    return {
      status: 503,
      code: 'disk-full',
      message: 'The disk of the database is full: nothing was stored. Free some room and try again.',
    };
  return isConnectionLost(error)
    ? {
        status: 503,
        code: 'database-unreachable',
        message: 'The database does not answer just now. Nothing was lost; try again in a moment.',
      }
    : undefined;
}

/** Errors of the body parser carry a status and a type. */
function bodyProblem(error: unknown): ErrorAnswer | undefined {
  const { status, type } = error as { status?: unknown; type?: unknown };
  if (typeof status !== 'number' || typeof type !== 'string' || status < 400 || status > 499) return undefined;
  if (type === 'entity.too.large')
    return { status: 413, code: 'too-large', message: 'The request is larger than 1 MiB.' };
  return { status, code: 'invalid-request', message: 'The request cannot be read: it is not valid JSON.' };
}
