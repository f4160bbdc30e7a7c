import { lazy, Suspense } from 'react';
import type { ChartDto } from '@ebrix/contract';

const TestChart = lazy(() => import('./TestChart.js'));

/** What there is to see of a test, side by side where there is room. */
export function TestCharts({ charts }: { readonly charts: readonly ChartDto[] }) {
  if (charts.length === 0) return null;
  return (
    <div className={`pictures${charts.length === 1 ? ' alone' : ''}`}>
      <Suspense fallback={<div role="status" aria-label="Loading" className="loading min-h-270" />}>
        {charts.map((chart) => (
          <TestChart key={chart.key} chart={chart} />
        ))}
      </Suspense>
    </div>
  );
}
