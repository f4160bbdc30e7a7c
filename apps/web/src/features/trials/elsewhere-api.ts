import type { Elsewhere, ElsewhereInput, FoundElsewhere } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const elsewhereApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getElsewhere: build.query<Elsewhere, string>({
      query: (trialId) => requestTo('getElsewhere', { params: { id: trialId } }),
      transformResponse: answerOf('getElsewhere'),
      providesTags: ['Trial', 'Run'],
    }),
    addElsewhere: build.mutation<Elsewhere, { trialId: string; input: ElsewhereInput }>({
      query: ({ trialId, input }) => requestTo('addElsewhere', { params: { id: trialId }, body: input }),
      transformResponse: answerOf('addElsewhere'),
      invalidatesTags: ['Trial'],
    }),
    removeElsewhere: build.mutation<void, string>({
      query: (id) => requestTo('deleteElsewhere', { params: { id } }),
      transformResponse: answerOf('deleteElsewhere'),
      invalidatesTags: ['Trial'],
    }),
    readElsewhere: build.mutation<FoundElsewhere[], File>({
      query: (file) => requestTo('readElsewhere', { form: { file } }),
      transformResponse: answerOf('readElsewhere'),
    }),
  }),
});
export const { useGetElsewhereQuery, useAddElsewhereMutation, useRemoveElsewhereMutation, useReadElsewhereMutation } =
  elsewhereApi;
