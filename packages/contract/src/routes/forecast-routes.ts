import { seenQuerySchema } from '../common.js';
import {
  forecastAnswerSchema,
  forecastAskSchema,
  keptForecastInputSchema,
  keptForecastSchema,
  setAgainstRideSchema,
  setupCalibrationSchema,
} from '../forecast.js';
import type { Route } from './route.js';

/** Rides foretold from rides. */
export const forecastRoutes = {
  calibrationOfSetup: {
    method: 'get',
    path: 'setups/{id}/calibration',
    summary: 'A setup as its own rides show it, for forecasts; learned anew when rides or parts change',
    answer: setupCalibrationSchema,
  },
  forecast: {
    method: 'post',
    path: 'forecast',
    access: 'reader',
    summary: 'A ride of a stored setup foretold from its own rides',
    body: forecastAskSchema,
    answer: forecastAnswerSchema,
  },
  listForecasts: {
    method: 'get',
    path: 'forecasts',
    summary: 'Forecasts that were kept, and how those did that were ridden',
    answer: keptForecastSchema.array(),
  },
  keepForecast: {
    method: 'post',
    path: 'forecasts',
    summary: 'Keep a forecast until it is ridden',
    body: keptForecastInputSchema,
    answer: keptForecastSchema,
  },
  setForecastAgainst: {
    method: 'put',
    path: 'forecasts/{id}/ride',
    summary: 'Set a kept forecast against a ride, or against none',
    body: setAgainstRideSchema,
    answer: keptForecastSchema,
  },
  deleteForecast: {
    method: 'delete',
    path: 'forecasts/{id}',
    summary: 'Delete a kept forecast',
    query: seenQuerySchema,
    answer: null,
  },
} as const satisfies Record<string, Route>;
