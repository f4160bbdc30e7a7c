import type { ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { apiErrorSchema } from '@ebrix/contract';

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
  'Ride',
  'Demo',
] as const;

/** Endpoints are added by the entities and features. Answers are checked against the contract (`answerOf`). */
export const baseApi = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: new URL('/api', location.origin).href }),
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

/** The sentence of a failed request; one that never arrived says so. */
export function errorMessage(error: unknown): string {
  const { data, status } = (error ?? {}) as { data?: unknown; status?: unknown };
  const parsed = apiErrorSchema.safeParse(data);
  if (parsed.success) return parsed.data.error.message;
  if (status === 'FETCH_ERROR') return 'Ebrix does not answer. Is it still running? What you typed is kept.';
  return 'The answer could not be understood. Reload the page; if it happens again, restart Ebrix.';
}

export function errorCode(error: unknown): string | undefined {
  const parsed = apiErrorSchema.safeParse((error as { data?: unknown } | undefined)?.data);
  return parsed.success ? parsed.data.error.code : undefined;
}

/** What a refusal with this code carries beside its sentence. */
export function errorDetails(error: unknown, code: string): unknown {
  const parsed = apiErrorSchema.safeParse((error as { data?: unknown } | undefined)?.data);
  return parsed.success && parsed.data.error.code === code ? parsed.data.error.details : undefined;
}
