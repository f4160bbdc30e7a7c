import type { ComponentType } from 'react';
import {
  createBrowserRouter,
  generatePath,
  redirect,
  type LoaderFunction,
  type LoaderFunctionArgs,
} from 'react-router';
import { ErrorPage } from './ErrorPage.js';
import { Shell } from './Shell.js';
import type { RouteName } from '@ebrix/contract';
import { askEarly } from '../shared/api/early.js';
import { AT_ONCE } from '../shared/api/at-once.js';
import type { Store } from './store.js';

/**
 * A page's code is loaded by the router before it is shown. React's own lazy components would be revealed only 300 ms
 * after their fallback, however fast they come. `key` keeps two places apart that show the same page.
 */
function page(load: () => Promise<{ default: ComponentType }>, key?: string) {
  return async () => {
    await pressAnswered();
    const [{ default: Page }, { LibraryTheme }] = await Promise.all([load(), import('../shared/ui/LibraryTheme.js')]);
    return {
      element: (
        <LibraryTheme key={key}>
          <Page />
        </LibraryTheme>
      ),
    };
  };
}

let isFirstPlace = true;
const A_FRAME_MS = 100;
/** Making a page's code ready keeps a slow processor busy for a while: the press that leads there is answered on the screen before. */
async function pressAnswered(): Promise<void> {
  const isOpening = isFirstPlace;
  isFirstPlace = false;
  if (isOpening) return;
  await new Promise<void>((resolve) => {
    requestAnimationFrame(() => setTimeout(resolve));
    // A window in the background draws no frames.
    setTimeout(resolve, A_FRAME_MS);
  });
}

/** A page that needs nothing of the component library. */
function plainPage(load: () => Promise<{ default: ComponentType }>) {
  return async () => {
    await pressAnswered();
    const { default: Page } = await load();
    return { element: <Page /> };
  };
}

/** To the part of a place that is shown first, before anything is drawn: the place that is left stays until that one is there. */
const leadOn = (to: string) => ({
  loader: ({ params }: LoaderFunctionArgs) => redirect(generatePath(to, params)),
  element: null,
});

type Pieces = Readonly<Partial<Record<string, { readonly bring: () => Promise<void> }>>>;
/** The piece of a place that its address names comes beside the place's own code, so that it is shown with it. */
function bringing(load: () => Promise<Pieces>, name: 'step' | 'tab' | 'what', first?: LoaderFunction) {
  return async (asked: LoaderFunctionArgs): Promise<null> => {
    const wanted = asked.params[name];
    // What does not come says so where it is to be drawn.
    const piece = wanted && load().then((pieces) => pieces[wanted]?.bring());
    await Promise.all([first?.(asked), piece]).catch(() => undefined);
    return null;
  };
}

/** Until the place that Ebrix is opened at has begun to come. */
let isOpening = true;

/** What a place asks for by the names in its address: before its code is there, where Ebrix is opened at it. */
function asking(name: RouteName, query?: Readonly<Record<string, unknown>>) {
  return ({ params }: LoaderFunctionArgs): null => {
    if (isOpening) askEarly(name, { params: params as Record<string, string>, ...(query && { query }) });
    return null;
  };
}

/** Asks for a setup while the page's code is still on its way. */
function setupOf(store: Store) {
  return async ({ params }: LoaderFunctionArgs): Promise<null> => {
    if (isOpening && params['id'] !== undefined) askEarly('getSetup', { params: { id: params['id'] } });
    const { setupsApi } = await import('../entities/setup/api.js');
    if (params['id'] !== undefined) store.dispatch(setupsApi.util.prefetch('getSetup', params['id'], {}));
    return null;
  };
}

const PARTS_TO_CHOOSE = ['bikes', 'kits', 'packs', 'chargers', 'add-ons', 'limits'] as const;

/** The parts to choose from, and the setup that is changed. */
function composingOf(store: Store) {
  const getSetup = setupOf(store);
  return async (asked: LoaderFunctionArgs): Promise<null> => {
    if (asked.params['id'] !== undefined) void getSetup(asked);
    if (isOpening) for (const kind of PARTS_TO_CHOOSE) askEarly('listParts', { params: { kind } });
    const { benchApi } = await import('../entities/part/api.js');
    for (const kind of PARTS_TO_CHOOSE) store.dispatch(benchApi.util.prefetch('listParts', kind, {}));
    return null;
  };
}

export function makeRouter(store: Store) {
  const router = createBrowserRouter([
    {
      element: <Shell />,
      errorElement: <ErrorPage />,
      hydrateFallbackElement: <main className="page" aria-busy="true" />,
      children: [
        { index: true, ...leadOn('/trials') },
        { path: 'bench', ...leadOn('/bench/setups') },
        { path: 'bench/setups', lazy: page(() => import('../features/setups/SetupsPage.js')) },
        {
          path: 'bench/setups/new',
          loader: composingOf(store),
          lazy: page(() => import('../features/setups/ComposePage.js'), 'new'),
        },
        {
          path: 'bench/setups/:id/edit',
          loader: composingOf(store),
          lazy: page(() => import('../features/setups/ComposePage.js'), 'edit'),
        },
        { path: 'bench/setups/:id/toolbox', lazy: page(() => import('../features/setups/ToolboxPage.js')) },
        {
          path: 'bench/setups/:id/:tab?',
          loader: bringing(async () => (await import('../features/setups/tabs.js')).tabs, 'tab', setupOf(store)),
          lazy: page(() => import('../features/setups/SetupPage.js')),
        },
        { path: 'bench/compare', lazy: page(() => import('../features/setups/ComparePage.js')) },
        { path: 'bench/fittings', lazy: page(() => import('../features/fitting/FittingsPage.js')) },
        { path: 'bench/:kind', lazy: page(() => import('../features/bench/PartsPage.js')) },
        { path: 'courses', lazy: page(() => import('../features/courses/CoursesPage.js')) },
        { path: 'courses/:id', lazy: page(() => import('../features/courses/CoursePage.js')) },
        {
          path: 'trials',
          loader: asking('listTrials', { limit: AT_ONCE }),
          lazy: plainPage(() => import('../features/trials/TrialsPage.js')),
        },
        { path: 'trials/:id', ...leadOn('/trials/:id/verdict') },
        {
          path: 'trials/:id/:step',
          loader: bringing(async () => (await import('../features/trials/steps.js')).steps, 'step'),
          lazy: page(() => import('../features/trials/TrialPage.js')),
        },
        { path: 'trials/:id/sheet', lazy: page(() => import('../features/plans/RunSheetPage.js')) },
        { path: 'ride', lazy: page(() => import('../features/ride/RidePage.js')) },
        { path: 'ride/:id', lazy: page(() => import('../features/ride/ConsolePage.js')) },
        { path: 'how/:kind', lazy: page(() => import('../features/how/HowToRidePage.js')) },
        { path: 'runs', lazy: page(() => import('../features/runs/RunsPage.js')) },
        { path: 'runs/:id', loader: asking('getRun'), lazy: page(() => import('../features/runs/RunPage.js')) },
        { path: 'forecast', lazy: page(() => import('../features/forecast/ForecastPage.js')) },
        { path: 'decide', ...leadOn('/decide/uses') },
        {
          path: 'decide/:tab/:id?',
          loader: bringing(async () => (await import('../features/decide/tabs.js')).tabs, 'tab'),
          lazy: page(() => import('../features/decide/DecidePage.js')),
        },
        { path: 'logbook', ...leadOn('/logbook/entries') },
        {
          path: 'logbook/:tab/:id?',
          loader: bringing(async () => (await import('../features/logbook/tabs.js')).tabs, 'tab'),
          lazy: page(() => import('../features/logbook/LogbookPage.js')),
        },
        { path: 'notebook', lazy: page(() => import('../features/notebook/NotebookPage.js')) },
        { path: 'import', lazy: page(() => import('../features/imports/ImportPage.js')) },
        { path: 'upkeep', ...leadOn('/upkeep/people') },
        {
          path: 'upkeep/:tab',
          loader: bringing(async () => (await import('../features/upkeep/tabs.js')).tabs, 'tab'),
          lazy: page(() => import('../features/upkeep/UpkeepPage.js')),
        },
        { path: 'enter', lazy: page(() => import('../features/upkeep/EnterPage.js')) },
        { path: 'quick-look', ...leadOn('/quick-look/log') },
        {
          path: 'quick-look/:what',
          loader: bringing(async () => (await import('../features/quick-look/looks.js')).looks, 'what'),
          lazy: page(() => import('../features/quick-look/QuickLookPage.js')),
        },
        { path: '*', element: <ErrorPage isUnknownPlace /> },
      ],
    },
  ]);
  isOpening = false;
  return router;
}
