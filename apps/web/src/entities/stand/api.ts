import type { Finding, StandInput, StandRecord } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export type NewFinding = Omit<Finding, 'at' | 'id' | 'revisionNumber'>;

export const standApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    stand: build.query<StandRecord[], string>({
      query: (setupId) => requestTo('stand', { params: { id: setupId } }),
      transformResponse: answerOf('stand'),
      providesTags: ['Stand'],
    }),
    saveStand: build.mutation<StandRecord, { revisionId: string; input: StandInput }>({
      query: ({ revisionId, input }) => requestTo('saveStand', { params: { id: revisionId }, body: input }),
      transformResponse: answerOf('saveStand'),
      invalidatesTags: ['Stand'],
    }),
    findings: build.query<Finding[], string>({
      query: (setupId) => requestTo('findings', { params: { id: setupId } }),
      transformResponse: answerOf('findings'),
      providesTags: ['Stand'],
    }),
    addFinding: build.mutation<Finding[], { setupId: string; finding: NewFinding }>({
      query: ({ setupId, finding }) => requestTo('addFinding', { params: { id: setupId }, body: finding }),
      transformResponse: answerOf('addFinding'),
      invalidatesTags: ['Stand'],
    }),
    removeFinding: build.mutation<Finding[], { setupId: string; id: string }>({
      query: ({ setupId, id }) => requestTo('removeFinding', { params: { id: setupId, findingId: id } }),
      transformResponse: answerOf('removeFinding'),
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
