import { lazy, Suspense } from 'react';
import type { ChartDto } from '@ebrix/contract';

const TestChart = lazy(() => import('./TestChart.js'));

/** What there is to see of a test, side by side where there is room. */
export function TestCharts({ charts }: { readonly charts: readonly ChartDto[] }) {
  if (charts.length === 0) return null;
  const isAlone = charts.length === 1;
  return (
    <div className={`pictures${isAlone ? ' alone' : ''}`}>
      <Suspense
        fallback={charts.map((chart) => (
          <ChartPlace key={chart.key} chart={chart} isAlone={isAlone} />
        ))}
      >
        {charts.map((chart) => (
          <TestChart key={chart.key} chart={chart} />
        ))}
      </Suspense>
    </div>
  );
}

/** A chart by itself on a window this wide has the names of its lines beside it. */
const NAMES_BESIDE_PX = 860;

/** As much room as the chart will take, under its title: what stands below it stays where it is. */
function ChartPlace({
  chart: { title, series, lines },
  isAlone,
}: {
  readonly chart: ChartDto;
  readonly isAlone: boolean;
}) {
  const curves = series.filter(({ isFit }) => !isFit);
  const below = isAlone && window.innerWidth > NAMES_BESIDE_PX ? [] : lines.filter(({ axis }) => axis === 'y');
  const names = [...(curves.length > 1 ? curves : []), ...below];
  return (
    <figure className="picture">
      <figcaption>{title}</figcaption>
      <div role="status" aria-label="Loading" className="loading picture-place" />
      {names.length > 0 && (
        <ul className="picture-names">
          {names.map(({ label }) => (
            <li key={label}>
              <svg width={26} height={12} aria-hidden="true" />
              {label}
            </li>
          ))}
        </ul>
      )}
      <details>
        <summary className="quiet">Chart data</summary>
      </details>
    </figure>
  );
}
