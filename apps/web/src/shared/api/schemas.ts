import type { Room, Route } from '@ebrix/contract';

type Routes = Readonly<Record<string, Route>>;

/** Each room of the API with its schemas: made ready, all of them together would keep a slow processor busy for half a second. */
export const ROUTES_OF: Readonly<Record<Room, () => Promise<Routes>>> = {
  meta: async () => (await import('@ebrix/contract/routes/meta')).metaRoutes,
  account: async () => (await import('@ebrix/contract/routes/account')).accountRoutes,
  bench: async () => (await import('@ebrix/contract/routes/bench')).benchRoutes,
  import: async () => (await import('@ebrix/contract/routes/import')).importRoutes,
  run: async () => (await import('@ebrix/contract/routes/run')).runRoutes,
  trial: async () => (await import('@ebrix/contract/routes/trial')).trialRoutes,
  decide: async () => (await import('@ebrix/contract/routes/decide')).decideRoutes,
  forecast: async () => (await import('@ebrix/contract/routes/forecast')).forecastRoutes,
  logbook: async () => (await import('@ebrix/contract/routes/logbook')).logbookRoutes,
  upkeep: async () => (await import('@ebrix/contract/routes/upkeep')).upkeepRoutes,
};
