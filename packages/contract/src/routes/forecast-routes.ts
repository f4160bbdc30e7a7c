import { ADDRESSES } from '../addresses.js';
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
    ...ADDRESSES.calibrationOfSetup,
    summary: 'A setup as its own rides show it, for forecasts; learned anew when rides or parts change',
    answer: setupCalibrationSchema,
  },
  forecast: {
    ...ADDRESSES.forecast,
    access: 'reader',
    summary: 'A ride of a stored setup foretold from its own rides',
    body: forecastAskSchema,
    answer: forecastAnswerSchema,
  },
  listForecasts: {
    ...ADDRESSES.listForecasts,
    summary: 'Forecasts that were kept, and how those did that were ridden',
    answer: keptForecastSchema.array(),
  },
  keepForecast: {
    ...ADDRESSES.keepForecast,
    summary: 'Keep a forecast until it is ridden',
    body: keptForecastInputSchema,
    answer: keptForecastSchema,
  },
  setForecastAgainst: {
    ...ADDRESSES.setForecastAgainst,
    summary: 'Set a kept forecast against a ride, or against none',
    body: setAgainstRideSchema,
    answer: keptForecastSchema,
  },
  deleteForecast: {
    ...ADDRESSES.deleteForecast,
    summary: 'Delete a kept forecast',
    query: seenQuerySchema,
    answer: null,
  },
} as const satisfies Record<string, Route>;
