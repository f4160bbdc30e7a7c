import {
  ROUTES,
  type Letter,
  type RunSummary,
  type Trial,
  type TrialInput,
  type TrialListItem,
  type Verdict,
} from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const trialsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listTrials: build.query<TrialListItem[], void>({
      query: () => requestTo(ROUTES.listTrials),
      transformResponse: answerOf(ROUTES.listTrials),
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
  useListTrialsQuery,
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
