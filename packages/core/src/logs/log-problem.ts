/** Why a file cannot be read: a stable code, a sentence with place and mend for the tester. */
export interface LogProblem {
  readonly code: LogProblemCode;
  readonly message: string;
  /** Line of the file, from 1, where one is to blame. */
  readonly line?: number;
  readonly questions?: readonly MappingQuestion[];
}

export type LogProblemCode =
  | 'empty-file'
  | 'not-a-log'
  | 'too-large'
  | 'too-many-samples'
  | 'too-many-columns'
  | 'line-too-long'
  | 'unclosed-quote'
  | 'no-time'
  | 'no-samples'
  | 'no-known-column'
  | 'mapping-needed'
  | 'mapping-mismatch'
  | 'bad-xml'
  | 'too-deep'
  | 'doctype-refused'
  | 'packed-too-tight'
  | 'damaged-archive';

export interface MappingQuestion {
  readonly kind: 'unit' | 'channel' | 'duplicate' | 'decimal' | 'date-order' | 'sign';
  /** Positions of the columns asked about, from 0. */
  readonly columns: readonly number[];
  readonly text: string;
  readonly choices: readonly string[];
  /** Nothing can be computed until it is answered. */
  readonly blocking: boolean;
}

/** Thrown inside the readers and turned into a result at their door (`readLog`, `inspectLog`). */
export class LogProblemError extends Error {
  constructor(readonly problem: LogProblem) {
    super(problem.message);
    this.name = 'LogProblemError';
  }
}

export type LogOutcome<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly problem: LogProblem };

export function catchLogProblem<T>(work: () => T): LogOutcome<T> {
  try {
    return { ok: true, value: work() };
  } catch (error) {
    return problemIn(error);
  }
}

/** The same of work that waits for pieces of a file. */
export async function catchLogProblemIn<T>(work: () => Promise<T>): Promise<LogOutcome<T>> {
  try {
    return { ok: true, value: await work() };
  } catch (error) {
    return problemIn(error);
  }
}

function problemIn(error: unknown): LogOutcome<never> {
  if (error instanceof LogProblemError) return { ok: false, problem: error.problem };
  throw error;
}

export function valueOf<T>(outcome: LogOutcome<T>): T {
  if (!outcome.ok) throw new LogProblemError(outcome.problem);
  return outcome.value;
}
