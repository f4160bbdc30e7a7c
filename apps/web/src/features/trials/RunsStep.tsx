import { Table, type TableProps } from 'antd';
import { Link } from 'react-router';
import type { Letter, RunSummary, Trial } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { ridingText } from '@ebrix/core/compare';
import { displayUnit, type UnitName } from '@ebrix/core/units';
import { formatDay } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { MeasuredCell } from '../../shared/ui/Measured.js';
import { unknownLast } from '../../shared/ui/unknown-last.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { useGetTrialRunsQuery, useGetVerdictQuery } from '../../entities/trial/index.js';
import { figureChoice } from './figure-choices.js';
import { OpenClearance } from './OpenClearance.js';

const PAGE_SIZE = 100;

interface Row {
  readonly letter: Letter;
  readonly apart: string | null;
  readonly run: RunSummary;
}
type ShownFigure = Parameters<typeof MeasuredCell>[0]['figure'];

/** The runs behind each setup, day by day. */
export function RunsStep({ trial }: { readonly trial: Trial }) {
  const system = useUnits();
  const query = useGetTrialRunsQuery(trial.id);
  const { currentData: verdict } = useGetVerdictQuery(trial.id);
  const { label, unit } = figureChoice(trial.decidingFigure);
  // Consumption, distance and speed stand in the table anyway.
  const isListed = ['netConsumption', 'meanMovingSpeed'].includes(trial.decidingFigure);
  const valueOf = new Map((verdict?.points ?? []).map((point) => [point.runId, point]));
  const columns: TableProps<Row>['columns'] = [
    {
      key: 'setup',
      title: 'Setup',
      sorter: (a, b) => a.letter.localeCompare(b.letter),
      render: (_, { letter }) => <SetupMark letter={letter} />,
    },
    {
      key: 'day',
      title: 'Day',
      sorter: (a, b) => a.run.outing.date.localeCompare(b.run.outing.date),
      render: (_, { run }) => <Link to={`/runs/${run.id}`}>{formatDay(run.outing.date)}</Link>,
    },
    { key: 'outing', title: 'Outing', render: (_, { run }) => run.outing.title },
    ...(isListed
      ? []
      : [figureColumn(`${label}, ${displayUnit(unit, system)}`, ({ run }) => measured(valueOf.get(run.id), unit))]),
    figureColumn(`Net, ${displayUnit('Wh/km', system)}`, ({ run }) => run.figures.netConsumption),
    figureColumn(`Distance, ${displayUnit('km', system)}`, ({ run }) => run.figures.distance),
    figureColumn(`Speed, ${displayUnit('km/h', system)}`, ({ run }) => run.figures.meanMovingSpeed),
    { key: 'ridden', title: 'Ridden', render: (_, { run }) => ridingText(run.riding) || '–' },
    {
      key: 'exclusion',
      title: 'Does not count because',
      render: (_, { run, apart }) => run.exclusion?.reason ?? apart,
    },
  ];
  return (
    <QueryView query={query}>
      {(rows) => (
        <div className="grid gap-14">
          <OpenClearance trial={trial} />
          {rows.length === 0 ? (
            <div className="teach">
              <p>
                No runs yet{trial.course ? ` on ${trial.course.name}` : ''}. Ride each setup at least twice, best in
                turns on the same day, and import the logs.
              </p>
              <LinkButton isMain to="/import" label="Import rides" />
            </div>
          ) : (
            <>
              {/* A grid's item is as wide as its content unless it is told otherwise. */}
              <div className="min-w-0">
                <Table
                  rowKey={({ run }) => run.id}
                  size="small"
                  columns={columns}
                  dataSource={[...rows]}
                  rowClassName={({ run, apart }) => (run.exclusion || apart ? 'quiet' : '')}
                  showSorterTooltip={false}
                  scroll={{ x: 'max-content' }}
                  pagination={{ pageSize: PAGE_SIZE, showSizeChanger: false, hideOnSinglePage: true }}
                />
              </div>
              <div className="actions">
                <LinkButton isMain to={`/trials/${trial.id}/verdict`} label="See the verdict" />
                <LinkButton to="/import" label="Import more rides" />
              </div>
            </>
          )}
        </div>
      )}
    </QueryView>
  );
}

/** Sorted by value; runs without the figure come last. */
function figureColumn(title: string, figureOf: (row: Row) => ShownFigure) {
  return {
    key: title,
    title,
    align: 'right' as const,
    sorter: unknownLast((row: Row) => figureOf(row)?.value),
    render: (_: unknown, row: Row) => <MeasuredCell figure={figureOf(row)} />,
  };
}

function measured(point: { value: number; standardUncertainty: number } | undefined, unit: UnitName): ShownFigure {
  return point && { value: point.value, standardUncertainty: point.standardUncertainty, unit };
}
