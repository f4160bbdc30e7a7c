import { z } from 'zod';
import { planBasisSchema, planSchema, type Plan, type PlanBasis, type PlanSave, type PlanTest } from '@ebrix/contract';
import { baseApi, checked } from '../../shared/api/base-api.js';

const answerSchema = z.strictObject({ plan: planSchema.nullable() });

export const plansApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getPlan: build.query<{ plan: Plan | null }, string>({
      query: (trialId) => `trials/${trialId}/plan`,
      transformResponse: checked(answerSchema),
      providesTags: ['Plan', 'Trial', 'Ride', 'Run'],
    }),
    getPlanBasis: build.query<
      PlanBasis,
      { trialId: string; tests: readonly PlanTest[]; airTemperatureC: number; setups: string }
    >({
      query: ({ trialId, tests, airTemperatureC }) => ({
        url: `trials/${trialId}/plan/basis`,
        method: 'POST',
        body: { tests, airTemperatureC },
      }),
      transformResponse: checked(planBasisSchema),
      providesTags: ['Course', 'Run', 'Setup', 'Trial'],
    }),
    savePlan: build.mutation<Plan, PlanSave & { trialId: string }>({
      query: ({ trialId, ...body }) => ({ url: `trials/${trialId}/plan`, method: 'PUT', body }),
      transformResponse: checked(planSchema),
      invalidatesTags: ['Plan', 'Ride'],
    }),
  }),
});
export const { useGetPlanQuery, useGetPlanBasisQuery, useSavePlanMutation } = plansApi;
