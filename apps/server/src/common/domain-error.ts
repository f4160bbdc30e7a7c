/** A refusal that a tester should read: stable code, HTTP status and a sentence. */
export class DomainError extends Error {
  constructor(
    readonly code: DomainErrorCode,
    message: string,
    readonly details?: unknown,
  ) {
    super(message);
    this.name = 'DomainError';
  }
}

export const STATUS_OF = {
  'not-found': 404,
  'signed-out': 401,
  'wrong-password': 401,
  'not-allowed': 403,
  'too-many-tries': 429,
  'invalid-request': 400,
  'foreign-page': 403,
  'wrong-host': 421,
  'changed-meanwhile': 409,
  'in-use': 409,
  'already-there': 409,
  'not-there': 409,
  'not-empty': 409,
  'wrong-state': 409,
  'clearance-open': 409,
  'logger-in-use': 409,
  'recut-needed': 409,
  'reason-needed': 409,
  'unknown-logger': 403,
  'no-file': 400,
  'too-large': 413,
  'cannot-read': 422,
  'cannot-compute': 422,
  'database-unreachable': 503,
  'took-too-long': 422,
  'too-much-memory': 422,
  busy: 503,
} as const satisfies Record<string, number>;
export type DomainErrorCode = keyof typeof STATUS_OF;

export function notFound(what: string): DomainError {
  return new DomainError('not-found', `${what} no longer exists. It may have been deleted in another window.`);
}
