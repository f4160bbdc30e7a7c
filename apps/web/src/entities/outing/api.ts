import { ROUTES, type Outing, type OutingInput } from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const outingsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listOutings: build.query<Outing[], void>({
      query: () => requestTo(ROUTES.listOutings),
      transformResponse: answerOf(ROUTES.listOutings),
      providesTags: ['Outing'],
    }),
    saveOuting: build.mutation<Outing, { input: OutingInput; stored?: Versioned }>({
      query: ({ input, stored }) =>
        stored
          ? requestTo(ROUTES.changeOuting, { params: { id: stored.id }, body: { ...input, version: stored.version } })
          : requestTo(ROUTES.addOuting, { body: input }),
      transformResponse: answerOf(ROUTES.changeOuting),
      invalidatesTags: ['Outing', 'Run'],
    }),
  }),
});
export const { useListOutingsQuery, useSaveOutingMutation } = outingsApi;
