import type { Outing, OutingInput } from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const outingsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listOutings: build.query<Outing[], void>({
      query: () => requestTo('listOutings'),
      transformResponse: answerOf('listOutings'),
      providesTags: ['Outing'],
    }),
    saveOuting: build.mutation<Outing, { input: OutingInput; stored?: Versioned }>({
      query: ({ input, stored }) =>
        stored
          ? requestTo('changeOuting', { params: { id: stored.id }, body: { ...input, version: stored.version } })
          : requestTo('addOuting', { body: input }),
      transformResponse: answerOf('changeOuting'),
      invalidatesTags: ['Outing', 'Run'],
    }),
  }),
});
export const { useListOutingsQuery, useSaveOutingMutation } = outingsApi;
