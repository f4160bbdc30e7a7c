import {
  runDetailSchema,
  runPageSchema,
  stripSchema,
  type RunAssignment,
  type RunDetail,
  type RunSummary,
  type Strip,
} from '@ebrix/contract';
import { baseApi, checked } from '../../shared/api/base-api.js';

export interface Stretch {
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
    getStrip: build.query<Strip, { id: string; bins: number; stretch?: Stretch }>({
      query: ({ id, bins, stretch }) => ({ url: `runs/${id}/strip`, params: { bins, ...stretch } }),
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
} = runsApi;
