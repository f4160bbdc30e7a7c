import {
  ROUTES,
  type Fitting,
  type FittingStepInput,
  type FittingRecordInput,
  type FittingSummary,
  type FittingTemplate,
  type SaveFittingTemplate,
  type StoredFittingRecord,
} from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const fittingApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getFitting: build.query<Fitting, string>({
      query: (setupId) => requestTo(ROUTES.getFitting, { params: { id: setupId } }),
      transformResponse: answerOf(ROUTES.getFitting),
      providesTags: ['Fitting'],
    }),
    saveFitting: build.mutation<Fitting, { setupId: string; version: number; steps: readonly FittingStepInput[] }>({
      query: ({ setupId, ...body }) => requestTo(ROUTES.saveFitting, { params: { id: setupId }, body }),
      transformResponse: answerOf(ROUTES.saveFitting),
      invalidatesTags: ['Fitting'],
    }),
    setClock: build.mutation<Fitting, { setupId: string; version: number; stepId: string; isRunning: boolean }>({
      query: ({ setupId, ...body }) => requestTo(ROUTES.setClock, { params: { id: setupId }, body }),
      transformResponse: answerOf(ROUTES.setClock),
      invalidatesTags: ['Fitting'],
    }),
    getFittingRecord: build.query<StoredFittingRecord, string>({
      query: (setupId) => requestTo(ROUTES.getFittingRecord, { params: { id: setupId } }),
      transformResponse: answerOf(ROUTES.getFittingRecord),
      providesTags: ['FittingRecord'],
    }),
    saveFittingRecord: build.mutation<
      StoredFittingRecord,
      { setupId: string; version: number; record: FittingRecordInput }
    >({
      query: ({ setupId, ...body }) => requestTo(ROUTES.saveFittingRecord, { params: { id: setupId }, body }),
      transformResponse: answerOf(ROUTES.saveFittingRecord),
      invalidatesTags: ['FittingRecord'],
    }),
    listFittings: build.query<FittingSummary[], void>({
      query: () => requestTo(ROUTES.listFittings),
      transformResponse: answerOf(ROUTES.listFittings),
      providesTags: ['Fitting'],
    }),
    listTemplates: build.query<FittingTemplate[], void>({
      query: () => requestTo(ROUTES.listTemplates),
      transformResponse: answerOf(ROUTES.listTemplates),
      providesTags: ['Fitting'],
    }),
    saveTemplate: build.mutation<FittingTemplate[], SaveFittingTemplate>({
      query: (body) => requestTo(ROUTES.saveTemplate, { body }),
      transformResponse: answerOf(ROUTES.saveTemplate),
      invalidatesTags: ['Fitting'],
    }),
  }),
});
export const {
  useGetFittingQuery,
  useSaveFittingMutation,
  useGetFittingRecordQuery,
  useSaveFittingRecordMutation,
  useSetClockMutation,
  useListFittingsQuery,
  useListTemplatesQuery,
  useSaveTemplateMutation,
} = fittingApi;
