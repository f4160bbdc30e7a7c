import {
  reanalysisPlaceSchema,
  reanalysisSchema,
  repeatedFigureSchema,
  runDetailSchema,
  runPageSchema,
  stripSchema,
  type GivenSpanDto,
  type Reanalysis,
  type RepeatedFigure,
  type RunAssignment,
  type RunDetail,
  type RunSummary,
  type Strip,
} from '@ebrix/contract';
import { z } from 'zod';
import { baseApi, checked } from '../../shared/api/base-api.js';

export interface TimeSpan {
  readonly fromS: number;
  readonly toS: number;
}

export const runsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listRuns: build.query<{ items: RunSummary[]; total: number }, string>({
      query: (search) => `runs?${search}`,
      transformResponse: checked(runPageSchema),
      providesTags: ['Run'],
    }),
    getRun: build.query<RunDetail, string>({
      query: (id) => `runs/${id}`,
      transformResponse: checked(runDetailSchema),
      providesTags: ['Run'],
    }),
    getStrip: build.query<Strip, { id: string; bins: number; logSpan?: TimeSpan }>({
      query: ({ id, bins, logSpan }) => ({ url: `runs/${id}/strip`, params: { bins, ...logSpan } }),
      transformResponse: checked(stripSchema),
      keepUnusedDataFor: 120,
    }),
    excludeRun: build.mutation<RunDetail, { id: string; version: number; reason: string }>({
      query: ({ id, ...body }) => ({ url: `runs/${id}/exclusion`, method: 'POST', body }),
      invalidatesTags: ['Run', 'Trial'],
    }),
    includeRun: build.mutation<RunDetail, { id: string; version: number }>({
      query: ({ id, version }) => ({ url: `runs/${id}/exclusion`, method: 'DELETE', params: { version } }),
      invalidatesTags: ['Run', 'Trial'],
    }),
    correctSpans: build.mutation<RunDetail, { id: string; version: number; spans: GivenSpanDto[]; what: string }>({
      query: ({ id, ...body }) => ({ url: `runs/${id}/spans`, method: 'PUT', body }),
      invalidatesTags: ['Run', 'Trial'],
    }),
    undoCorrection: build.mutation<RunDetail, { id: string; version: number }>({
      query: ({ id, version }) => ({ url: `runs/${id}/spans`, method: 'DELETE', params: { version } }),
      invalidatesTags: ['Run', 'Trial'],
    }),
    repeatedFigures: build.query<RepeatedFigure[], string>({
      query: (setupId) => `setups/${setupId}/figures`,
      transformResponse: checked(z.array(repeatedFigureSchema)),
      providesTags: ['Run'],
    }),
    reanalysis: build.query<{ outdated: number; latest: Reanalysis | null }, void>({
      query: () => 'reanalysis',
      transformResponse: checked(reanalysisPlaceSchema),
      providesTags: ['Reanalysis'],
    }),
    beginReanalysis: build.mutation<Reanalysis, 'outdated' | 'all'>({
      query: (scope) => ({ url: 'reanalysis', method: 'POST', body: { scope } }),
      transformResponse: checked(reanalysisSchema),
      invalidatesTags: ['Reanalysis'],
    }),
    cancelReanalysis: build.mutation<Reanalysis, string>({
      query: (id) => ({ url: `reanalysis/${id}`, method: 'DELETE' }),
      transformResponse: checked(reanalysisSchema),
      invalidatesTags: ['Reanalysis'],
    }),
    assignRun: build.mutation<RunDetail, { id: string; version: number; assignment: RunAssignment }>({
      query: ({ id, ...body }) => ({ url: `runs/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Run', 'Trial'],
    }),
  }),
});
export const {
  useListRunsQuery,
  useGetRunQuery,
  useGetStripQuery,
  useExcludeRunMutation,
  useIncludeRunMutation,
  useAssignRunMutation,
  useCorrectSpansMutation,
  useUndoCorrectionMutation,
  useRepeatedFiguresQuery,
  useReanalysisQuery,
  useBeginReanalysisMutation,
  useCancelReanalysisMutation,
} = runsApi;
