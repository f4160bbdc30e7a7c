import '@fontsource-variable/archivo/wdth.css';
import '@fontsource/b612/400.css';
import '@fontsource/b612/700.css';
import './app/theme.css';
import './app/tables.css';
import './app/shell.css';
import './app/bench.css';
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
import { ShortcutProvider } from './shared/shortcuts/index.js';

const store = makeStore();

createRoot(document.getElementById('root')!).render(
  <Provider store={store}>
    <ShortcutProvider>
      <RouterProvider router={makeRouter(store)} />
    </ShortcutProvider>
  </Provider>,
);
