import {
  ROUTES,
  type Letter,
  type RunSummary,
  type Trial,
  type TrialInput,
  type TrialListItem,
  type TrialName,
  type Verdict,
} from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

/** More are asked for by a button. */
const TRIALS_AT_ONCE = 50;

export const trialsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listTrials: build.infiniteQuery<readonly TrialListItem[], { readonly text: string }, string | null>({
      infiniteQueryOptions: {
        initialPageParam: null,
        getNextPageParam: (last) => (last.length < TRIALS_AT_ONCE ? undefined : last.at(-1)!.id),
      },
      query: ({ queryArg: { text }, pageParam: after }) =>
        requestTo(ROUTES.listTrials, {
          query: { limit: TRIALS_AT_ONCE, ...(text !== '' && { text }), ...(after !== null && { after }) },
        }),
      transformResponse: answerOf(ROUTES.listTrials),
      providesTags: ['Trial'],
    }),
    /** As the list shows it. */
    getTrialInBrief: build.query<TrialListItem | null, string>({
      query: (id) => requestTo(ROUTES.listTrials, { query: { id } }),
      transformResponse: (answer) => answerOf(ROUTES.listTrials)(answer)[0] ?? null,
      providesTags: ['Trial', 'Run'],
    }),
    listTrialNames: build.query<TrialName[], void>({
      query: () => requestTo(ROUTES.listTrialNames),
      transformResponse: answerOf(ROUTES.listTrialNames),
      providesTags: ['Trial'],
    }),
    getTrial: build.query<Trial, string>({
      query: (id) => requestTo(ROUTES.getTrial, { params: { id } }),
      transformResponse: answerOf(ROUTES.getTrial),
      providesTags: ['Trial'],
    }),
    getTrialRuns: build.query<{ letter: Letter; apart: string | null; run: RunSummary }[], string>({
      query: (id) => requestTo(ROUTES.getTrialRuns, { params: { id } }),
      transformResponse: answerOf(ROUTES.getTrialRuns),
      providesTags: ['Trial', 'Run'],
    }),
    getVerdict: build.query<Verdict, string>({
      query: (id) => requestTo(ROUTES.getVerdict, { params: { id } }),
      transformResponse: answerOf(ROUTES.getVerdict),
      providesTags: ['Trial', 'Run'],
    }),
    saveTrial: build.mutation<Trial, { input: TrialInput; stored?: { id: string; version: number } }>({
      query: ({ input, stored }) =>
        stored
          ? requestTo(ROUTES.changeTrial, { params: { id: stored.id }, body: { ...input, version: stored.version } })
          : requestTo(ROUTES.addTrial, { body: input }),
      transformResponse: answerOf(ROUTES.changeTrial),
      invalidatesTags: ['Trial', 'Setup'],
    }),
    archiveTrial: build.mutation<Trial, { stored: { id: string; version: number }; archived: boolean }>({
      query: ({ stored, archived }) =>
        requestTo(ROUTES.archiveTrial, { params: { id: stored.id }, body: { version: stored.version, archived } }),
      transformResponse: answerOf(ROUTES.archiveTrial),
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
