import type { ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { ApiError } from '@ebrix/contract';
import { fetchOrTake } from './early.js';

/** What an answer may be about; a change of it makes the answer be asked for again. */
export const TAGS = [
  'Part',
  'Setup',
  'Fitting',
  'FittingRecord',
  'Stand',
  'Rating',
  'Photo',
  'ThumbRule',
  'Course',
  'Outing',
  'Import',
  'Run',
  'Reanalysis',
  'Trial',
  'Plan',
  'Use',
  'Money',
  'Report',
  'Forecast',
  'Package',
  'Life',
  'Ride',
  'Demo',
  'Account',
  'Backup',
  'Trash',
] as const;

const ask = fetchBaseQuery({ baseUrl: new URL('/api', location.origin).href, fetchFn: fetchOrTake });
/** Told the window when an answer was refused for want of signing in. */
export const SIGNED_OUT = 'ebrix-signed-out';

const askOrSignIn: typeof ask = async (request, api, options) => {
  const answer = await ask(request, api, options);
  if (answer.error && errorCode(answer.error) === 'signed-out') dispatchEvent(new Event(SIGNED_OUT));
  return answer;
};

/** Endpoints are added by the entities and features. Answers are checked against the contract (`answerOf`). */
export const baseApi = createApi({
  reducerPath: 'api',
  baseQuery: askOrSignIn,
  tagTypes: TAGS,
  refetchOnReconnect: true,
  endpoints: () => ({}),
});

/** What a change is of, and which state of it was seen. */
export interface Versioned {
  readonly id: string;
  readonly version: number;
}

/** The part of the store that the endpoints need. */
export interface ApiState {
  readonly [baseApi.reducerPath]: ReturnType<typeof baseApi.reducer>;
}
export type ApiDispatch = ThunkDispatch<ApiState, unknown, UnknownAction>;

/** A refusal in the server's own shape. By hand: the schemas are not needed for it. */
function refusalIn(data: unknown): ApiError['error'] | undefined {
  const { error } = (data ?? {}) as { error?: Partial<ApiError['error']> };
  return typeof error?.code === 'string' && typeof error.message === 'string'
    ? (error as ApiError['error'])
    : undefined;
}

/** The sentence of a failed request; one that never arrived says so. */
export function errorMessage(error: unknown): string {
  const { data, status } = (error ?? {}) as { data?: unknown; status?: unknown };
  const refused = refusalIn(data);
  if (refused) return refused.message;
  if (status === 'FETCH_ERROR') return 'Ebrix does not answer. Is it still running? What you typed is kept.';
  return 'The answer could not be understood. Reload the page; if it happens again, restart Ebrix.';
}

/** Whether the same request may go through later as it is: nothing answered, the database is away, signed out, too many at once. */
export function mayPass(error: unknown): boolean {
  const { status } = (error ?? {}) as { status?: unknown };
  return status === 'FETCH_ERROR' || status === 401 || status === 429 || status === 503;
}

export function errorCode(error: unknown): string | undefined {
  return refusalIn((error as { data?: unknown } | undefined)?.data)?.code;
}

/** What a refusal with this code carries beside its sentence. */
export function errorDetails(error: unknown, code: string): unknown {
  const refused = refusalIn((error as { data?: unknown } | undefined)?.data);
  return refused?.code === code ? refused.details : undefined;
}
