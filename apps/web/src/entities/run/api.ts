import type {
  GivenSpanDto,
  LearnedReadings,
  Reanalysis,
  RepeatedFigure,
  RidingChange,
  RunAssignment,
  RunDetail,
  RunListPage,
  Split,
  SplitRun,
  Strip,
} from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export interface TimeSpan {
  readonly fromS: number;
  readonly toS: number;
}

/** Lists, verdicts, and counts of runs wherever they stand. */
const CHANGED = ['Course', 'Outing', 'Plan', 'Run', 'Setup', 'Trial'] as const;

export const runsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listRuns: build.query<RunListPage, string>({
      query: (search) => requestTo('listRuns', { query: search }),
      transformResponse: answerOf('listRuns'),
      providesTags: ['Run'],
    }),
    getRun: build.query<RunDetail, string>({
      query: (id) => requestTo('getRun', { params: { id } }),
      transformResponse: answerOf('getRun'),
      providesTags: ['Run'],
    }),
    getStrip: build.query<Strip, { id: string; bins: number; logSpan?: TimeSpan }>({
      query: ({ id, bins, logSpan }) => requestTo('getStrip', { params: { id }, query: { bins, ...logSpan } }),
      transformResponse: answerOf('getStrip'),
      keepUnusedDataFor: 120,
    }),
    changeRiding: build.mutation<{ changed: number }, RidingChange>({
      query: (body) => requestTo('changeRiding', { body }),
      transformResponse: answerOf('changeRiding'),
      invalidatesTags: ['Run', 'Trial'],
    }),
    deleteRuns: build.mutation<{ changed: number }, readonly string[]>({
      query: (runIds) => requestTo('deleteRuns', { body: { runIds: [...runIds] } }),
      transformResponse: answerOf('deleteRuns'),
      invalidatesTags: CHANGED,
    }),
    restoreRuns: build.mutation<{ changed: number }, readonly string[]>({
      query: (runIds) => requestTo('restoreRuns', { body: { runIds: [...runIds] } }),
      transformResponse: answerOf('restoreRuns'),
      invalidatesTags: CHANGED,
    }),
    proposeRunSplit: build.mutation<Split, { id: string; course?: string }>({
      query: ({ id, ...query }) => requestTo('proposeRunSplit', { params: { id }, query }),
      transformResponse: answerOf('proposeRunSplit'),
    }),
    splitRun: build.mutation<{ runIds: string[] }, { id: string } & SplitRun>({
      query: ({ id, ...body }) => requestTo('splitRun', { params: { id }, body }),
      transformResponse: answerOf('splitRun'),
      invalidatesTags: CHANGED,
    }),
    excludeRun: build.mutation<RunDetail, { id: string; version: number; reason: string }>({
      query: ({ id, ...body }) => requestTo('excludeRun', { params: { id }, body }),
      transformResponse: answerOf('excludeRun'),
      invalidatesTags: ['Run', 'Trial'],
    }),
    includeRun: build.mutation<RunDetail, { id: string; version: number }>({
      query: ({ id, version }) => requestTo('includeRun', { params: { id }, query: { version } }),
      transformResponse: answerOf('includeRun'),
      invalidatesTags: ['Run', 'Trial'],
    }),
    correctSpans: build.mutation<RunDetail, { id: string; version: number; spans: GivenSpanDto[]; what: string }>({
      query: ({ id, ...body }) => requestTo('correctSpans', { params: { id }, body }),
      transformResponse: answerOf('correctSpans'),
      invalidatesTags: ['Run', 'Trial'],
    }),
    undoCorrection: build.mutation<RunDetail, { id: string; version: number }>({
      query: ({ id, version }) => requestTo('undoCorrection', { params: { id }, query: { version } }),
      transformResponse: answerOf('undoCorrection'),
      invalidatesTags: ['Run', 'Trial'],
    }),
    repeatedFigures: build.query<RepeatedFigure[], string>({
      query: (setupId) => requestTo('repeatedFigures', { params: { id: setupId } }),
      transformResponse: answerOf('repeatedFigures'),
      providesTags: ['Run'],
    }),
    learnedReadings: build.query<LearnedReadings, string>({
      query: (setupId) => requestTo('getLearnedReadings', { params: { id: setupId } }),
      transformResponse: answerOf('getLearnedReadings'),
      providesTags: ['Run'],
    }),
    reanalysis: build.query<{ outdated: number; latest: Reanalysis | null }, void>({
      query: () => requestTo('reanalysis'),
      transformResponse: answerOf('reanalysis'),
      providesTags: ['Reanalysis'],
    }),
    beginReanalysis: build.mutation<Reanalysis, 'outdated' | 'all'>({
      query: (scope) => requestTo('beginReanalysis', { body: { scope } }),
      transformResponse: answerOf('beginReanalysis'),
      invalidatesTags: ['Reanalysis'],
    }),
    cancelReanalysis: build.mutation<Reanalysis, string>({
      query: (id) => requestTo('cancelReanalysis', { params: { id } }),
      transformResponse: answerOf('cancelReanalysis'),
      invalidatesTags: ['Reanalysis'],
    }),
    assignRun: build.mutation<RunDetail, { id: string; version: number; assignment: RunAssignment }>({
      query: ({ id, ...body }) => requestTo('assignRun', { params: { id }, body }),
      transformResponse: answerOf('assignRun'),
      invalidatesTags: ['Run', 'Trial'],
    }),
  }),
});
export const {
  useLearnedReadingsQuery,
  useListRunsQuery,
  useGetRunQuery,
  useGetStripQuery,
  useExcludeRunMutation,
  useIncludeRunMutation,
  useAssignRunMutation,
  useChangeRidingMutation,
  useDeleteRunsMutation,
  useProposeRunSplitMutation,
  useRestoreRunsMutation,
  useSplitRunMutation,
  useCorrectSpansMutation,
  useUndoCorrectionMutation,
  useRepeatedFiguresQuery,
  useReanalysisQuery,
  useBeginReanalysisMutation,
  useCancelReanalysisMutation,
} = runsApi;
