import type {
  Fitting,
  FittingStepInput,
  FittingRecordInput,
  FittingSummary,
  FittingTemplate,
  SaveFittingTemplate,
  StoredFittingRecord,
} from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const fittingApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getFitting: build.query<Fitting, string>({
      query: (setupId) => requestTo('getFitting', { params: { id: setupId } }),
      transformResponse: answerOf('getFitting'),
      providesTags: ['Fitting'],
    }),
    saveFitting: build.mutation<Fitting, { setupId: string; version: number; steps: readonly FittingStepInput[] }>({
      query: ({ setupId, ...body }) => requestTo('saveFitting', { params: { id: setupId }, body }),
      transformResponse: answerOf('saveFitting'),
      invalidatesTags: ['Fitting'],
    }),
    setClock: build.mutation<Fitting, { setupId: string; version: number; stepId: string; isRunning: boolean }>({
      query: ({ setupId, ...body }) => requestTo('setClock', { params: { id: setupId }, body }),
      transformResponse: answerOf('setClock'),
      invalidatesTags: ['Fitting'],
    }),
    getFittingRecord: build.query<StoredFittingRecord, string>({
      query: (setupId) => requestTo('getFittingRecord', { params: { id: setupId } }),
      transformResponse: answerOf('getFittingRecord'),
      providesTags: ['FittingRecord'],
    }),
    saveFittingRecord: build.mutation<
      StoredFittingRecord,
      { setupId: string; version: number; record: FittingRecordInput }
    >({
      query: ({ setupId, ...body }) => requestTo('saveFittingRecord', { params: { id: setupId }, body }),
      transformResponse: answerOf('saveFittingRecord'),
      invalidatesTags: ['FittingRecord'],
    }),
    listFittings: build.query<FittingSummary[], void>({
      query: () => requestTo('listFittings'),
      transformResponse: answerOf('listFittings'),
      providesTags: ['Fitting'],
    }),
    listTemplates: build.query<FittingTemplate[], void>({
      query: () => requestTo('listTemplates'),
      transformResponse: answerOf('listTemplates'),
      providesTags: ['Fitting'],
    }),
    saveTemplate: build.mutation<FittingTemplate[], SaveFittingTemplate>({
      query: (body) => requestTo('saveTemplate', { body }),
      transformResponse: answerOf('saveTemplate'),
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
