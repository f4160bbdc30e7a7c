import { Button } from 'antd';
import { memo, useCallback, useMemo } from 'react';
import { Link } from 'react-router';
import type { ListedFigure, RunListPage, RunSummary } from '@ebrix/contract';
import { displayUnit, type UnitSystem } from '@ebrix/core/units';
import { ridingText } from '@ebrix/core/compare';
import { TEST_KINDS } from '@ebrix/core/analysis';
import { useUnits } from '../../shared/preferences/index.js';
import { formatDay, formatFigure } from '../../shared/format/format-quantity.js';
import { DataTable, type Column, type Order } from '../../shared/ui/DataTable.js';
import { MeasuredCell } from '../../shared/ui/Measured.js';

/** What the address of the list shall say otherwise. */
export type Changes = Readonly<Record<string, string | undefined>>;

interface TableProps {
  readonly data: RunListPage;
  readonly isFetching: boolean;
  readonly chosen: readonly string[];
  readonly sort: string;
  readonly order: 'down' | 'up';
  readonly onChoose: (runs: readonly RunSummary[], isChosen: boolean) => void;
  readonly onChange: (changes: Changes) => void;
}

export const RunsTable = memo(function RunsTable({
  data: { items },
  isFetching,
  chosen,
  sort,
  order,
  onChoose,
  onChange,
}: TableProps) {
  const system = useUnits();
  const columns = useMemo(() => columnsIn(system), [system]);
  const choose = useCallback((run: RunSummary, isChosen: boolean) => onChoose([run], isChosen), [onChoose]);
  // The list is always in some order: what would be none is the other way round.
  const turn = (wanted: Order = { key: sort, direction: 'up' }): void =>
    onChange({ sort: wanted.key, order: wanted.direction });
  if (items.length === 0) return <p className="quiet">No matching runs. Clear a filter.</p>;
  return (
    <DataTable
      label="Runs"
      className="of-runs"
      columns={columns}
      rows={items}
      idOf={({ id }) => id}
      order={{ key: sort, direction: order }}
      onOrder={turn}
      isWaiting={isFetching}
      choosing={{
        chosen,
        onChoose: choose,
        label: (run) => `Choose the run of ${formatDay(run.outing.date)}, ${run.setup.name}`,
      }}
    />
  );
});

function columnsIn(system: UnitSystem): Column<RunSummary>[] {
  const figureColumn = (key: ListedFigure, title: string, unit: 'Wh/km' | 'km' | 'km/h'): Column<RunSummary> => ({
    key,
    title: `${title}, ${displayUnit(unit, system)}`,
    isSorted: true,
    isNumber: true,
    cell: (run) => <MeasuredCell figure={run.figures[key]} />,
  });
  return [
    {
      key: 'date',
      title: 'Day',
      isSorted: true,
      width: 108,
      cell: (run) => (
        <Link className="nowrap" to={`/runs/${run.id}`}>
          {formatDay(run.outing.date)}
        </Link>
      ),
    },
    {
      key: 'setup',
      title: 'Setup',
      isSorted: true,
      width: 182,
      cell: (run) => (
        <>
          {run.setup.name}
          {run.setup.revisionNumber > 1 && <span className="quiet">, revision {run.setup.revisionNumber}</span>}
          {run.exclusion && <div className="quiet text-12-5">left out: {run.exclusion.reason}</div>}
        </>
      ),
    },
    {
      key: 'course',
      title: 'Course, outing',
      isSorted: true,
      width: 150,
      cell: (run) => (
        <>
          {run.course.name}
          <div className="quiet text-12-5">{run.outing.title}</div>
        </>
      ),
    },
    {
      key: 'test',
      title: 'Test and result',
      width: 186,
      cell: (run) => (
        <>
          {TEST_KINDS[run.testKind].label}
          {run.isSimulated && <span className="tag"> simulated</span>}
          <div className="quiet text-12-5">{ridingText(run.riding)}</div>
          {run.testKind !== 'range' && run.headline && (
            <div className="text-12-5">
              <span className="quiet">{run.headline.label}</span>
              <div className="figures">
                {formatFigure(run.headline.value, run.headline.standardUncertainty, run.headline.unit, system)}
              </div>
            </div>
          )}
        </>
      ),
    },
    figureColumn('netConsumption', 'Net', 'Wh/km'),
    figureColumn('distance', 'Distance', 'km'),
    figureColumn('meanMovingSpeed', 'Speed', 'km/h'),
    figureColumn('rangeWithReserve', 'Range with reserve', 'km'),
  ];
}

/** How many there are, and on and back among them. */
export function RunPager({
  page: { total, next, previous },
  pageSize,
  isFirst,
  onChange,
}: {
  readonly page: RunListPage;
  readonly pageSize: number;
  readonly isFirst: boolean;
  readonly onChange: (changes: Changes) => void;
}) {
  return (
    <nav className="actions mt-8" aria-label="Pages of runs">
      <span className="quiet">
        {total.toLocaleString()} {total === 1 ? 'run' : 'runs'}
      </span>
      {previous !== null && (
        <>
          <Button onClick={() => onChange({})}>To the first</Button>
          <Button onClick={() => onChange({ before: previous })}>{`${pageSize} before`}</Button>
        </>
      )}
      {previous === null && !isFirst && <Button onClick={() => onChange({})}>To the first</Button>}
      {next !== null && <Button onClick={() => onChange({ after: next })}>{`Next ${pageSize}`}</Button>}
    </nav>
  );
}
