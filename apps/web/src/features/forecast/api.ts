import { ROUTES, type KeptForecast, type KeptForecastInput, type SetupCalibration } from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const forecastApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getCalibration: build.query<SetupCalibration, string>({
      query: (id) => requestTo(ROUTES.calibrationOfSetup, { params: { id } }),
      transformResponse: answerOf(ROUTES.calibrationOfSetup),
      providesTags: ['Run', 'Setup'],
    }),
    listForecasts: build.query<KeptForecast[], void>({
      query: () => requestTo(ROUTES.listForecasts),
      transformResponse: answerOf(ROUTES.listForecasts),
      providesTags: ['Forecast', 'Run'],
    }),
    keepForecast: build.mutation<KeptForecast, KeptForecastInput>({
      query: (body) => requestTo(ROUTES.keepForecast, { body }),
      transformResponse: answerOf(ROUTES.keepForecast),
      invalidatesTags: ['Forecast'],
    }),
    setAgainstRide: build.mutation<KeptForecast, { stored: Versioned; runId: string | null }>({
      query: ({ stored, runId }) =>
        requestTo(ROUTES.setForecastAgainst, { params: { id: stored.id }, body: { version: stored.version, runId } }),
      transformResponse: answerOf(ROUTES.setForecastAgainst),
      invalidatesTags: ['Forecast'],
    }),
    deleteForecast: build.mutation<null, Versioned>({
      query: ({ id, version }) => requestTo(ROUTES.deleteForecast, { params: { id }, query: { version } }),
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
