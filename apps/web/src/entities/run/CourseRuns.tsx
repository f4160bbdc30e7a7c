import { TEST_KINDS, type TestKind } from '@ebrix/core/analysis';
import { Link } from 'react-router';
import type { RunSummary } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatClock, formatDay, formatFigure } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useListRunsQuery } from './api.js';

const MAX_SHOWN = 200;

/** All runs on a course, by kind of test: who rode what, and the first figure of each. */
export function CourseRuns({ courseId }: { readonly courseId: string }) {
  const query = useListRunsQuery(`course=${courseId}&pageSize=${MAX_SHOWN}`);
  return (
    <section className="section" aria-label="Runs on this course">
      <h2>Runs on this course</h2>
      <QueryView query={query}>
        {({ items, total }) =>
          total === 0 ? (
            <p className="quiet">None yet. Plan a trial on it, or import a ride.</p>
          ) : (
            <>
              {[...byKind(items)].map(([kind, runs]) => (
                <Kind key={kind} kind={kind} runs={runs} />
              ))}
              {total > MAX_SHOWN && (
                <p>
                  <Link to={`/runs?course=${courseId}`}>All {total.toLocaleString()} runs</Link>
                </p>
              )}
            </>
          )
        }
      </QueryView>
    </section>
  );
}

function byKind(runs: readonly RunSummary[]): Map<TestKind, RunSummary[]> {
  const kinds = new Map<TestKind, RunSummary[]>();
  for (const run of runs) kinds.set(run.testKind, [...(kinds.get(run.testKind) ?? []), run]);
  return kinds;
}

function Kind({ kind, runs }: { readonly kind: TestKind; readonly runs: readonly RunSummary[] }) {
  const system = useUnits();
  return (
    <div className="scroll-x mt-8">
      <table className="rows">
        <caption className="align-left weight-650">{TEST_KINDS[kind].label}</caption>
        <thead>
          <tr>
            <th scope="col">Day</th>
            <th scope="col">Setup</th>
            <th scope="col" className="number">
              {runs.find(({ headline }) => headline)?.headline?.label ?? 'Figure'}
            </th>
            <th scope="col" className="number">
              Long
            </th>
            <th scope="col">State</th>
          </tr>
        </thead>
        <tbody>
          {runs.map((run) => (
            <tr key={run.id}>
              <td>
                <Link to={`/runs/${run.id}`}>{formatDay(run.outing.date)}</Link>
              </td>
              <td>
                {run.setup.name}
                {run.setup.revisionNumber > 1 && <span className="quiet">, revision {run.setup.revisionNumber}</span>}
              </td>
              <td className="number">
                {run.headline ? (
                  formatFigure(run.headline.value, run.headline.standardUncertainty, run.headline.unit, system)
                ) : (
                  <span className="quiet">none</span>
                )}
              </td>
              <td className="number">{formatClock(run.durationS)}</td>
              <td className="quiet">
                {run.exclusion
                  ? `left out: ${run.exclusion.reason}`
                  : run.isSimulated
                    ? 'simulated, does not count'
                    : 'counts'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
