import { AsyncLocalStorage } from 'node:async_hooks';
import type { NextFunction, Request, Response } from 'express';

const clients = new AsyncLocalStorage<AbortSignal>();

/** For requests whose work is for nobody but who asked: it ends when they leave. Not where others wait for the same answer, or where something is stored. */
export function endWithClient(_request: Request, response: Response, next: NextFunction): void {
  const leaving = new AbortController();
  response.once('close', () => {
    if (!response.writableFinished) leaving.abort();
  });
  clients.run(leaving.signal, next);
}

/** Aborted once the client of the request at hand has left; undefined where it does not matter. */
export function clientGone(): AbortSignal | undefined {
  return clients.getStore();
}
