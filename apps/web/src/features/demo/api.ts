import { baseApi } from '../../shared/api/base-api.js';

export interface DemoState {
  readonly isEmpty: boolean;
  readonly loading: { readonly done: number; readonly total: number } | null;
  readonly problem: string | null;
}

export const demoApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getDemo: build.query<DemoState, void>({ query: () => 'demo', providesTags: ['Demo'] }),
    loadDemo: build.mutation<void, void>({ query: () => ({ url: 'demo', method: 'POST' }), invalidatesTags: ['Demo'] }),
  }),
});
export const { useGetDemoQuery, useLoadDemoMutation } = demoApi;
