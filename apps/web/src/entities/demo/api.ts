import type { DemoState } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const demoApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getDemo: build.query<DemoState, void>({
      query: () => requestTo('getDemo'),
      transformResponse: answerOf('getDemo'),
      providesTags: ['Demo'],
    }),
    loadDemo: build.mutation<void, void>({ query: () => requestTo('loadDemo'), invalidatesTags: ['Demo'] }),
  }),
});
export const { useGetDemoQuery, useLoadDemoMutation } = demoApi;
