import { ROUTES, type Elsewhere, type ElsewhereInput, type FoundElsewhere } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const elsewhereApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getElsewhere: build.query<Elsewhere, string>({
      query: (trialId) => requestTo(ROUTES.getElsewhere, { params: { id: trialId } }),
      transformResponse: answerOf(ROUTES.getElsewhere),
      providesTags: ['Trial', 'Run'],
    }),
    addElsewhere: build.mutation<Elsewhere, { trialId: string; input: ElsewhereInput }>({
      query: ({ trialId, input }) => requestTo(ROUTES.addElsewhere, { params: { id: trialId }, body: input }),
      transformResponse: answerOf(ROUTES.addElsewhere),
      invalidatesTags: ['Trial'],
    }),
    removeElsewhere: build.mutation<void, string>({
      query: (id) => requestTo(ROUTES.deleteElsewhere, { params: { id } }),
      transformResponse: answerOf(ROUTES.deleteElsewhere),
      invalidatesTags: ['Trial'],
    }),
    readElsewhere: build.mutation<FoundElsewhere[], File>({
      query: (file) => requestTo(ROUTES.readElsewhere, { form: { file } }),
      transformResponse: answerOf(ROUTES.readElsewhere),
    }),
  }),
});
export const { useGetElsewhereQuery, useAddElsewhereMutation, useRemoveElsewhereMutation, useReadElsewhereMutation } =
  elsewhereApi;
