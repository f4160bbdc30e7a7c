import { findingSchema, standRecordSchema, type Finding, type StandInput, type StandRecord } from '@ebrix/contract';
import { baseApi, checked } from '../../shared/api/base-api.js';

export type NewFinding = Omit<Finding, 'at' | 'id' | 'revisionNumber'>;

export const standApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    stand: build.query<StandRecord[], string>({
      query: (setupId) => `setups/${setupId}/stand`,
      transformResponse: checked(standRecordSchema.array()),
      providesTags: ['Stand'],
    }),
    saveStand: build.mutation<StandRecord, { revisionId: string; input: StandInput }>({
      query: ({ revisionId, input }) => ({ url: `revisions/${revisionId}/stand`, method: 'PUT', body: input }),
      transformResponse: checked(standRecordSchema),
      invalidatesTags: ['Stand'],
    }),
    findings: build.query<Finding[], string>({
      query: (setupId) => `setups/${setupId}/findings`,
      transformResponse: checked(findingSchema.array()),
      providesTags: ['Stand'],
    }),
    addFinding: build.mutation<Finding[], { setupId: string; finding: NewFinding }>({
      query: ({ setupId, finding }) => ({ url: `setups/${setupId}/findings`, method: 'POST', body: finding }),
      transformResponse: checked(findingSchema.array()),
      invalidatesTags: ['Stand'],
    }),
    removeFinding: build.mutation<Finding[], { setupId: string; id: string }>({
      query: ({ setupId, id }) => ({ url: `setups/${setupId}/findings/${id}`, method: 'DELETE' }),
      transformResponse: checked(findingSchema.array()),
      invalidatesTags: ['Stand'],
    }),
  }),
});
export const {
  useStandQuery,
  useSaveStandMutation,
  useFindingsQuery,
  useAddFindingMutation,
  useRemoveFindingMutation,
} = standApi;
