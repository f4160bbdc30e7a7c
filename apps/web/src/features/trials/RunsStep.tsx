import { Link } from 'react-router';
import type { Trial } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { displayUnit, type UnitName } from '@ebrix/core/units';
import { formatDay } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { MeasuredCell } from '../../shared/ui/Measured.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { useGetTrialRunsQuery, useGetVerdictQuery } from '../../entities/trial/index.js';
import { figureChoice } from './figure-choices.js';
import { OpenClearance } from './OpenClearance.js';

/** The runs behind each setup, day by day. */
export function RunsStep({ trial }: { readonly trial: Trial }) {
  const system = useUnits();
  const query = useGetTrialRunsQuery(trial.id);
  const { currentData: verdict } = useGetVerdictQuery(trial.id);
  const { label, unit } = figureChoice(trial.decidingFigure);
  // Consumption, distance and speed stand in the table anyway.
  const isListed = ['netConsumption', 'meanMovingSpeed'].includes(trial.decidingFigure);
  const valueOf = new Map((verdict?.points ?? []).map((point) => [point.runId, point]));
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
              <div className="scroll-x">
                <table className="rows">
                  <thead>
                    <tr>
                      <th scope="col">Setup</th>
                      <th scope="col">Day</th>
                      <th scope="col">Outing</th>
                      {!isListed && (
                        <th scope="col" className="number">
                          {label}, {displayUnit(unit, system)}
                        </th>
                      )}
                      <th scope="col" className="number">
                        Net, {displayUnit('Wh/km', system)}
                      </th>
                      <th scope="col" className="number">
                        Distance, {displayUnit('km', system)}
                      </th>
                      <th scope="col" className="number">
                        Speed, {displayUnit('km/h', system)}
                      </th>
                      <th scope="col">Left out because</th>
                    </tr>
                  </thead>
                  <tbody>
                    {rows.map(({ letter, run }) => (
                      <tr key={run.id} style={run.exclusion ? { color: 'var(--ink-2)' } : {}}>
                        <td>
                          <SetupMark letter={letter} />
                        </td>
                        <td>
                          <Link to={`/runs/${run.id}`}>{formatDay(run.outing.date)}</Link>
                        </td>
                        <td>{run.outing.title}</td>
                        {!isListed && (
                          <td className="number">
                            <MeasuredCell figure={measured(valueOf.get(run.id), unit)} />
                          </td>
                        )}
                        <td className="number">
                          <MeasuredCell figure={run.figures.netConsumption} />
                        </td>
                        <td className="number">
                          <MeasuredCell figure={run.figures.distance} />
                        </td>
                        <td className="number">
                          <MeasuredCell figure={run.figures.meanMovingSpeed} />
                        </td>
                        <td>{run.exclusion?.reason}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
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

function measured(
  point: { value: number; standardUncertainty: number } | undefined,
  unit: UnitName,
): Parameters<typeof MeasuredCell>[0]['figure'] {
  return point && { value: point.value, standardUncertainty: point.standardUncertainty, unit };
}
