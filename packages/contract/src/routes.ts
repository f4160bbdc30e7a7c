import { metaRoutes } from './routes/meta-routes.js';
import { benchRoutes } from './routes/bench-routes.js';
import { importRoutes } from './routes/import-routes.js';
import { runRoutes } from './routes/run-routes.js';
import { decideRoutes } from './routes/decide-routes.js';
import { forecastRoutes } from './routes/forecast-routes.js';
import { trialRoutes } from './routes/trial-routes.js';
export type { Download, Method, Route } from './routes/route.js';

/** The whole API, room by room: the server's router, its description and the pages' requests are held against this table. */
export const ROUTES = {
  ...metaRoutes,
  ...benchRoutes,
  ...importRoutes,
  ...runRoutes,
  ...trialRoutes,
  ...decideRoutes,
  ...forecastRoutes,
} as const;
export type RouteName = keyof typeof ROUTES;
