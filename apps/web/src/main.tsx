import '@fontsource-variable/archivo/wdth.css';
import '@fontsource/b612/400.css';
import '@fontsource/b612/700.css';
import './app/theme.css';
import './app/buttons.css';
import './app/tables.css';
import './app/shell.css';
import './app/bench.css';
import './app/by-hand.css';
import './app/decide.css';
import './app/forecast.css';
import './app/logbook.css';
import './app/upkeep.css';
import './app/plan.css';
import './app/console.css';
import './app/measures.css';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider } from 'react-router';
import type { Room } from '@ebrix/contract';
import { makeRouter } from './app/router.js';
import { makeStore } from './app/store.js';
import { baseApi, TAGS } from './shared/api/base-api.js';
import { checkFirstAnswers, loadSchemas } from './shared/api/route.js';
import { makeReady } from './shared/ui/make-ready.js';
import { ShortcutProvider } from './shared/shortcuts/index.js';

/** By the first word of an address. The first page needs none before it is there. */
const ROOMS_AT: Readonly<Record<string, readonly Room[]>> = {
  bench: ['bench'],
  courses: ['import'],
  trials: ['trial', 'bench'],
  ride: ['trial', 'bench', 'import'],
  runs: ['run'],
  forecast: ['forecast', 'bench'],
  decide: ['decide'],
  logbook: ['logbook'],
  notebook: ['import'],
  import: ['import', 'bench'],
  upkeep: ['upkeep', 'account'],
  'quick-look': ['meta'],
};

const store = makeStore();
const isFirstPage = /^\/(trials\/?)?$/.test(location.pathname);
// What the answers at this place are held against comes beside its own piece of the program.
const rooms = isFirstPage ? [] : ROOMS_AT[location.pathname.split('/', 2)[1]!];
for (const room of rooms ?? []) loadSchemas(room).catch(() => undefined);

/** An answer that is not what it should be is asked for again, and then refused at its place. */
const check = (): void =>
  void checkFirstAnswers(() => void store.dispatch(baseApi.util.invalidateTags([...TAGS]))).catch(() => undefined);
// At any other place nothing is shown unchecked: making its schemas ready later would meet a hand.
if (!isFirstPage) check();

createRoot(document.getElementById('root')!).render(
  <Provider store={store}>
    <ShortcutProvider>
      <RouterProvider router={makeRouter(store)} />
    </ShortcutProvider>
  </Provider>,
);

const AFTER_THE_FIRST_PAGE_MS = 1500;
setTimeout(() => {
  check();
  void makeReady();
}, AFTER_THE_FIRST_PAGE_MS);
