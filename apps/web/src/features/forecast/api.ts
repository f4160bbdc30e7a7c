import type { KeptForecast, KeptForecastInput, SetupCalibration } from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const forecastApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getCalibration: build.query<SetupCalibration, string>({
      query: (id) => requestTo('calibrationOfSetup', { params: { id } }),
      transformResponse: answerOf('calibrationOfSetup'),
      providesTags: ['Run', 'Setup'],
    }),
    listForecasts: build.query<KeptForecast[], void>({
      query: () => requestTo('listForecasts'),
      transformResponse: answerOf('listForecasts'),
      providesTags: ['Forecast', 'Run'],
    }),
    keepForecast: build.mutation<KeptForecast, KeptForecastInput>({
      query: (body) => requestTo('keepForecast', { body }),
      transformResponse: answerOf('keepForecast'),
      invalidatesTags: ['Forecast'],
    }),
    setAgainstRide: build.mutation<KeptForecast, { stored: Versioned; runId: string | null }>({
      query: ({ stored, runId }) =>
        requestTo('setForecastAgainst', { params: { id: stored.id }, body: { version: stored.version, runId } }),
      transformResponse: answerOf('setForecastAgainst'),
      invalidatesTags: ['Forecast'],
    }),
    deleteForecast: build.mutation<null, Versioned>({
      query: ({ id, version }) => requestTo('deleteForecast', { params: { id }, query: { version } }),
      invalidatesTags: ['Forecast'],
    }),
  }),
});
export const {
  useGetCalibrationQuery,
  useListForecastsQuery,
  useKeepForecastMutation,
  useSetAgainstRideMutation,
  useDeleteForecastMutation,
} = forecastApi;
