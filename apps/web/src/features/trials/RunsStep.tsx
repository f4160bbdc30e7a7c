import { useMemo } from 'react';
import { Link } from 'react-router';
import type { Letter, RunSummary, Trial } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { ridingText } from '@ebrix/core/compare';
import { displayUnit, type UnitName } from '@ebrix/core/units';
import { formatDay } from '../../shared/format/format-quantity.js';
import { SortedTable, type KeyedColumn } from '../../shared/ui/DataTable.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { MeasuredCell } from '../../shared/ui/Measured.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { useGetTrialRunsQuery, useGetVerdictQuery } from '../../entities/trial/index.js';
import { figureChoice } from './figure-choices.js';
import { OpenClearance } from './OpenClearance.js';

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
  const points = verdict?.points;
  const columns = useMemo((): KeyedColumn<Row>[] => {
    const valueOf = new Map((points ?? []).map((point) => [point.runId, point]));
    return [
      {
        key: 'setup',
        title: 'Setup',
        sortKey: ({ letter }) => letter,
        cell: ({ letter }) => <SetupMark letter={letter} />,
      },
      {
        key: 'day',
        title: 'Day',
        sortKey: ({ run }) => run.outing.date,
        cell: ({ run }) => <Link to={`/runs/${run.id}`}>{formatDay(run.outing.date)}</Link>,
      },
      { key: 'outing', title: 'Outing', cell: ({ run }) => run.outing.title },
      ...(isListed
        ? []
        : [figureColumn(`${label}, ${displayUnit(unit, system)}`, ({ run }) => measured(valueOf.get(run.id), unit))]),
      figureColumn(`Net, ${displayUnit('Wh/km', system)}`, ({ run }) => run.figures.netConsumption),
      figureColumn(`Distance, ${displayUnit('km', system)}`, ({ run }) => run.figures.distance),
      figureColumn(`Speed, ${displayUnit('km/h', system)}`, ({ run }) => run.figures.meanMovingSpeed),
      { key: 'ridden', title: 'Ridden', cell: ({ run }) => ridingText(run.riding) || '–' },
      {
        key: 'exclusion',
        title: 'Does not count because',
        cell: ({ run, apart }) => run.exclusion?.reason ?? apart,
      },
    ];
  }, [points, isListed, label, unit, system]);
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
                <SortedTable
                  label="Runs of the trial"
                  columns={columns}
                  rows={rows}
                  idOf={({ run }) => run.id}
                  toneOf={({ run, apart }) => (run.exclusion || apart ? 'quiet' : '')}
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
function figureColumn(title: string, figureOf: (row: Row) => ShownFigure): KeyedColumn<Row> {
  return {
    key: title,
    title,
    isNumber: true,
    sortKey: (row) => figureOf(row)?.value,
    cell: (row) => <MeasuredCell figure={figureOf(row)} />,
  };
}

function measured(point: { value: number; standardUncertainty: number } | undefined, unit: UnitName): ShownFigure {
  return point && { value: point.value, standardUncertainty: point.standardUncertainty, unit };
}
