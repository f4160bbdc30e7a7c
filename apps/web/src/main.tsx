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
import { makeRouter } from './app/router.js';
import { makeStore } from './app/store.js';
import { baseApi, TAGS } from './shared/api/base-api.js';
import { checkFirstAnswers, loadSchemas } from './shared/api/route.js';
import { makeReady } from './shared/ui/make-ready.js';
import { ShortcutProvider } from './shared/shortcuts/index.js';

const store = makeStore();
// Any page but the first waits for the schemas: they come beside its own piece of the program.
if (!/^\/(trials\/?)?$/.test(location.pathname)) loadSchemas().catch(() => undefined);

createRoot(document.getElementById('root')!).render(
  <Provider store={store}>
    <ShortcutProvider>
      <RouterProvider router={makeRouter(store)} />
    </ShortcutProvider>
  </Provider>,
);

const AFTER_THE_FIRST_PAGE_MS = 1500;
setTimeout(() => {
  // An answer that is not what it should be is asked for again, and then refused at its place.
  const askAgain = (): void => void store.dispatch(baseApi.util.invalidateTags([...TAGS]));
  checkFirstAnswers(askAgain).catch(() => undefined);
  void makeReady();
}, AFTER_THE_FIRST_PAGE_MS);
