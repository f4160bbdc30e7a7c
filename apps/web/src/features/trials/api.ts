import {
  trialListItemSchema,
  trialRunsSchema,
  trialSchema,
  verdictSchema,
  type Letter,
  type RunSummary,
  type Trial,
  type TrialInput,
  type TrialListItem,
  type Verdict,
} from '@ebrix/contract';
import { baseApi, checked } from '../../shared/api/base-api.js';

export const trialsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listTrials: build.query<TrialListItem[], void>({
      query: () => 'trials',
      transformResponse: checked(trialListItemSchema.array()),
      providesTags: ['Trial'],
    }),
    getTrial: build.query<Trial, string>({
      query: (id) => `trials/${id}`,
      transformResponse: checked(trialSchema),
      providesTags: ['Trial'],
    }),
    getTrialRuns: build.query<{ letter: Letter; run: RunSummary }[], string>({
      query: (id) => `trials/${id}/runs`,
      transformResponse: checked(trialRunsSchema),
      providesTags: ['Trial', 'Run'],
    }),
    getVerdict: build.query<Verdict, string>({
      query: (id) => `trials/${id}/verdict`,
      transformResponse: checked(verdictSchema),
      providesTags: ['Trial', 'Run'],
    }),
    saveTrial: build.mutation<Trial, { input: TrialInput; stored?: { id: string; version: number } }>({
      query: ({ input, stored }) =>
        stored
          ? { url: `trials/${stored.id}`, method: 'PUT', body: { ...input, version: stored.version } }
          : { url: 'trials', method: 'POST', body: input },
      invalidatesTags: ['Trial', 'Setup'],
    }),
    archiveTrial: build.mutation<Trial, { stored: { id: string; version: number }; archived: boolean }>({
      query: ({ stored, archived }) => ({
        url: `trials/${stored.id}/archive`,
        method: 'PUT',
        body: { version: stored.version, archived },
      }),
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
  return {
    question,
    decidingFigure,
    smallestDifference,
    courseId: course?.id ?? null,
    revisionIds: setups.map(({ revisionId }) => revisionId),
    notes,
    furtherFigures,
    heldEqual,
    recorded,
  };
}
