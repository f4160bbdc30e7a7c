import { lazy } from 'react';
import { createBrowserRouter, Navigate } from 'react-router';
import { ErrorPage } from './ErrorPage.js';
import { Shell } from './Shell.js';

const PartsPage = lazy(() => import('../features/bench/PartsPage.js'));
const SetupsPage = lazy(() => import('../features/setups/SetupsPage.js'));
const SetupPage = lazy(() => import('../features/setups/SetupPage.js'));
const ComposePage = lazy(() => import('../features/setups/ComposePage.js'));
const ComparePage = lazy(() => import('../features/setups/ComparePage.js'));
const ToolboxPage = lazy(() => import('../features/setups/ToolboxPage.js'));
const FittingsPage = lazy(() => import('../features/fitting/FittingsPage.js'));
const CoursesPage = lazy(() => import('../features/courses/CoursesPage.js'));
const CoursePage = lazy(() => import('../features/courses/CoursePage.js'));
const TrialsPage = lazy(() => import('../features/trials/TrialsPage.js'));
const TrialPage = lazy(() => import('../features/trials/TrialPage.js'));
const RunsPage = lazy(() => import('../features/runs/RunsPage.js'));
const RunPage = lazy(() => import('../features/runs/RunPage.js'));
const ImportPage = lazy(() => import('../features/imports/ImportPage.js'));
const QuickLookPage = lazy(() => import('../features/quick-look/QuickLookPage.js'));

export function makeRouter() {
  return createBrowserRouter([
    {
      element: <Shell />,
      errorElement: <ErrorPage />,
      children: [
        { index: true, element: <Navigate to="/trials" replace /> },
        { path: 'bench', element: <Navigate to="/bench/setups" replace /> },
        { path: 'bench/setups', element: <SetupsPage /> },
        { path: 'bench/setups/new', element: <ComposePage key="new" /> },
        { path: 'bench/setups/:id/edit', element: <ComposePage key="edit" /> },
        { path: 'bench/setups/:id/toolbox', element: <ToolboxPage /> },
        { path: 'bench/setups/:id/:tab?', element: <SetupPage /> },
        { path: 'bench/compare', element: <ComparePage /> },
        { path: 'bench/fittings', element: <FittingsPage /> },
        { path: 'bench/:kind', element: <PartsPage /> },
        { path: 'courses', element: <CoursesPage /> },
        { path: 'courses/:id', element: <CoursePage /> },
        { path: 'trials', element: <TrialsPage /> },
        { path: 'trials/:id', element: <Navigate to="verdict" replace /> },
        { path: 'trials/:id/:step', element: <TrialPage /> },
        { path: 'runs', element: <RunsPage /> },
        { path: 'runs/:id', element: <RunPage /> },
        { path: 'import', element: <ImportPage /> },
        { path: 'quick-look', element: <Navigate to="/quick-look/log" replace /> },
        { path: 'quick-look/:what', element: <QuickLookPage /> },
        { path: '*', element: <ErrorPage isUnknownPlace /> },
      ],
    },
  ]);
}
