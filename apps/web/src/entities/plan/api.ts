import type { OpenSlot, Plan, PlanBasis, PlanSave, PlanTest } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const plansApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getPlan: build.query<{ plan: Plan | null }, string>({
      query: (trialId) => requestTo('getPlan', { params: { id: trialId } }),
      transformResponse: answerOf('getPlan'),
      providesTags: ['Plan', 'Trial', 'Ride', 'Run'],
    }),
    getPlanBasis: build.query<
      PlanBasis,
      { trialId: string; tests: readonly PlanTest[]; airTemperatureC: number; setups: string }
    >({
      query: ({ trialId, tests, airTemperatureC }) =>
        requestTo('getPlanBasis', { params: { id: trialId }, body: { tests, airTemperatureC } }),
      transformResponse: answerOf('getPlanBasis'),
      providesTags: ['Course', 'Run', 'Setup', 'Trial'],
    }),
    listOpenSlots: build.query<OpenSlot[], void>({
      query: () => requestTo('listOpenSlots'),
      transformResponse: answerOf('listOpenSlots'),
      providesTags: ['Plan', 'Trial', 'Ride', 'Run'],
    }),
    savePlan: build.mutation<Plan, PlanSave & { trialId: string }>({
      query: ({ trialId, ...body }) => requestTo('savePlan', { params: { id: trialId }, body }),
      transformResponse: answerOf('savePlan'),
      invalidatesTags: ['Plan', 'Ride'],
    }),
  }),
});
export const { useGetPlanQuery, useGetPlanBasisQuery, useListOpenSlotsQuery, useSavePlanMutation } = plansApi;
