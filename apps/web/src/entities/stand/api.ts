import { ROUTES, type Finding, type StandInput, type StandRecord } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export type NewFinding = Omit<Finding, 'at' | 'id' | 'revisionNumber'>;

export const standApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    stand: build.query<StandRecord[], string>({
      query: (setupId) => requestTo(ROUTES.stand, { params: { id: setupId } }),
      transformResponse: answerOf(ROUTES.stand),
      providesTags: ['Stand'],
    }),
    saveStand: build.mutation<StandRecord, { revisionId: string; input: StandInput }>({
      query: ({ revisionId, input }) => requestTo(ROUTES.saveStand, { params: { id: revisionId }, body: input }),
      transformResponse: answerOf(ROUTES.saveStand),
      invalidatesTags: ['Stand'],
    }),
    findings: build.query<Finding[], string>({
      query: (setupId) => requestTo(ROUTES.findings, { params: { id: setupId } }),
      transformResponse: answerOf(ROUTES.findings),
      providesTags: ['Stand'],
    }),
    addFinding: build.mutation<Finding[], { setupId: string; finding: NewFinding }>({
      query: ({ setupId, finding }) => requestTo(ROUTES.addFinding, { params: { id: setupId }, body: finding }),
      transformResponse: answerOf(ROUTES.addFinding),
      invalidatesTags: ['Stand'],
    }),
    removeFinding: build.mutation<Finding[], { setupId: string; id: string }>({
      query: ({ setupId, id }) => requestTo(ROUTES.removeFinding, { params: { id: setupId, findingId: id } }),
      transformResponse: answerOf(ROUTES.removeFinding),
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
