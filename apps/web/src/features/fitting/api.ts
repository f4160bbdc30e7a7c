import {
  fittingSchema,
  fittingSummarySchema,
  fittingTemplateSchema,
  type Fitting,
  type FittingStepInput,
  type FittingSummary,
  type FittingTemplate,
} from '@ebrix/contract';
import { baseApi, checked } from '../../shared/api/base-api.js';

export const fittingApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getFitting: build.query<Fitting, string>({
      query: (setupId) => `setups/${setupId}/fitting`,
      transformResponse: checked(fittingSchema),
      providesTags: ['Fitting'],
    }),
    saveFitting: build.mutation<Fitting, { setupId: string; version: number; steps: readonly FittingStepInput[] }>({
      query: ({ setupId, ...body }) => ({ url: `setups/${setupId}/fitting`, method: 'PUT', body }),
      transformResponse: checked(fittingSchema),
      invalidatesTags: ['Fitting'],
    }),
    setClock: build.mutation<Fitting, { setupId: string; version: number; stepId: string; isRunning: boolean }>({
      query: ({ setupId, ...body }) => ({ url: `setups/${setupId}/fitting/clock`, method: 'POST', body }),
      transformResponse: checked(fittingSchema),
      invalidatesTags: ['Fitting'],
    }),
    listFittings: build.query<FittingSummary[], void>({
      query: () => 'fittings',
      transformResponse: checked(fittingSummarySchema.array()),
      providesTags: ['Fitting'],
    }),
    listTemplates: build.query<FittingTemplate[], void>({
      query: () => 'fitting-templates',
      transformResponse: checked(fittingTemplateSchema.array()),
      providesTags: ['Fitting'],
    }),
    saveTemplate: build.mutation<FittingTemplate[], Omit<FittingTemplate, 'id'>>({
      query: (body) => ({ url: 'fitting-templates', method: 'POST', body }),
      transformResponse: checked(fittingTemplateSchema.array()),
      invalidatesTags: ['Fitting'],
    }),
  }),
});
export const {
  useGetFittingQuery,
  useSaveFittingMutation,
  useSetClockMutation,
  useListFittingsQuery,
  useListTemplatesQuery,
  useSaveTemplateMutation,
} = fittingApi;
