import type { Letter, RunSummary, Trial, TrialInput, TrialListItem, TrialName, Verdict } from '@ebrix/contract';
import { AT_ONCE } from '../../shared/api/at-once.js';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const trialsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listTrials: build.infiniteQuery<readonly TrialListItem[], { readonly text: string }, string | null>({
      infiniteQueryOptions: {
        initialPageParam: null,
        getNextPageParam: (last) => (last.length < AT_ONCE ? undefined : last.at(-1)!.id),
      },
      query: ({ queryArg: { text }, pageParam: after }) =>
        requestTo('listTrials', {
          query: { limit: AT_ONCE, ...(text !== '' && { text }), ...(after !== null && { after }) },
        }),
      transformResponse: answerOf('listTrials'),
      providesTags: ['Trial'],
    }),
    /** As the list shows it. */
    getTrialInBrief: build.query<TrialListItem | null, string>({
      query: (id) => requestTo('listTrials', { query: { id } }),
      transformResponse: async (answer) => (await answerOf('listTrials')(answer))[0] ?? null,
      providesTags: ['Trial', 'Run'],
    }),
    listTrialNames: build.query<TrialName[], void>({
      query: () => requestTo('listTrialNames'),
      transformResponse: answerOf('listTrialNames'),
      providesTags: ['Trial'],
    }),
    getTrial: build.query<Trial, string>({
      query: (id) => requestTo('getTrial', { params: { id } }),
      transformResponse: answerOf('getTrial'),
      providesTags: ['Trial'],
    }),
    getTrialRuns: build.query<{ letter: Letter; apart: string | null; run: RunSummary }[], string>({
      query: (id) => requestTo('getTrialRuns', { params: { id } }),
      transformResponse: answerOf('getTrialRuns'),
      providesTags: ['Trial', 'Run'],
    }),
    getVerdict: build.query<Verdict, string>({
      query: (id) => requestTo('getVerdict', { params: { id } }),
      transformResponse: answerOf('getVerdict'),
      providesTags: ['Trial', 'Run'],
    }),
    saveTrial: build.mutation<Trial, { input: TrialInput; stored?: { id: string; version: number } }>({
      query: ({ input, stored }) =>
        stored
          ? requestTo('changeTrial', { params: { id: stored.id }, body: { ...input, version: stored.version } })
          : requestTo('addTrial', { body: input }),
      transformResponse: answerOf('changeTrial'),
      invalidatesTags: ['Trial', 'Setup'],
    }),
    archiveTrial: build.mutation<Trial, { stored: { id: string; version: number }; archived: boolean }>({
      query: ({ stored, archived }) =>
        requestTo('archiveTrial', { params: { id: stored.id }, body: { version: stored.version, archived } }),
      transformResponse: answerOf('archiveTrial'),
      invalidatesTags: ['Trial'],
    }),
  }),
});
export const {
  useListTrialsInfiniteQuery,
  useGetTrialInBriefQuery,
  useListTrialNamesQuery,
  useGetTrialQuery,
  useGetTrialRunsQuery,
  useGetVerdictQuery,
  useSaveTrialMutation,
  useArchiveTrialMutation,
} = trialsApi;

/** A stored trial as the form and the API take it. */
export function toTrialInput(trial: Trial): TrialInput {
  const { question, decidingFigure, smallestDifference, course, setups, notes, furtherFigures, heldEqual, recorded } =
    trial;
  const { heldRiding, meantToDiffer, countsSimulated, design } = trial;
  return {
    question,
    decidingFigure,
    smallestDifference,
    courseId: course?.id ?? null,
    arms: setups.map(({ revisionId, riding }) => ({ revisionId, riding })),
    notes,
    furtherFigures,
    heldEqual,
    recorded,
    heldRiding,
    meantToDiffer,
    countsSimulated,
    design,
  };
}
