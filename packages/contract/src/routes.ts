import { accountRoutes } from './routes/account-routes.js';
import { metaRoutes } from './routes/meta-routes.js';
import { benchRoutes } from './routes/bench-routes.js';
import { importRoutes } from './routes/import-routes.js';
import { runRoutes } from './routes/run-routes.js';
import { decideRoutes } from './routes/decide-routes.js';
import { forecastRoutes } from './routes/forecast-routes.js';
import { logbookRoutes } from './routes/logbook-routes.js';
import { upkeepRoutes } from './routes/upkeep-routes.js';
import { trialRoutes } from './routes/trial-routes.js';
export { accessOf, type Download, type Method, type Route } from './routes/route.js';

type Routes = typeof metaRoutes &
  typeof accountRoutes &
  typeof benchRoutes &
  typeof importRoutes &
  typeof runRoutes &
  typeof trialRoutes &
  typeof decideRoutes &
  typeof forecastRoutes &
  typeof logbookRoutes &
  typeof upkeepRoutes;

/** The whole API, room by room: the server's router, its description and the pages' requests are held against this table. */
export const ROUTES: Routes = {
  ...metaRoutes,
  ...accountRoutes,
  ...benchRoutes,
  ...importRoutes,
  ...runRoutes,
  ...trialRoutes,
  ...decideRoutes,
  ...forecastRoutes,
  ...logbookRoutes,
  ...upkeepRoutes,
};
