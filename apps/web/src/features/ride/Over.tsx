import { useEffect } from 'react';
import { useDispatch } from 'react-redux';
import { Link } from 'react-router';
import type { Ride } from '@ebrix/contract';
import type { ApiDispatch } from '../../shared/api/base-api.js';
import { baseApi } from '../../shared/api/base-api.js';
import { formatFigure } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { Said } from '../../shared/ui/SentenceText.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { useGetRunQuery } from '../../entities/run/index.js';
import { STATE_LABELS } from './ride-labels.js';

/** What became of the ride, and the way to the next one. */
export function Over({ ride }: { readonly ride: Ride }) {
  const dispatch = useDispatch<ApiDispatch>();
  const { runId } = ride;
  useEffect(() => {
    // The run was made while other pages waited: what they show is of before it.
    if (runId !== null) dispatch(baseApi.util.invalidateTags(['Run', 'Trial', 'Plan', 'Ride']));
  }, [runId, dispatch]);
  return (
    <section className="console-body">
      {ride.state === 'kept' ? (
        runId === null ? (
          ride.conversion?.status === 'failed' ? (
            <p className="caution" role="alert">
              It could not be turned into a run: {ride.conversion.message} Nothing recorded is lost: it is under{' '}
              <Link to="/import">Import rides</Link>.
            </p>
          ) : (
            <p role="status">Calculating the figures …</p>
          )
        ) : (
          <Result runId={runId} />
        )
      ) : (
        <p>
          {STATE_LABELS[ride.state]}: {ride.reason}. {ride.slot && 'The planned run is waiting again.'}
        </p>
      )}
      <div className="console-foot">
        {ride.slot && <LinkButton to={`/trials/${ride.slot.trialId}/plan`} label="To the plan" />}
        <LinkButton isMain to="/ride" label="Next run" />
      </div>
    </section>
  );
}

const SHOWN = [
  'netConsumption',
  'climbTime',
  'twoWayTopSpeed',
  'distance',
  'meanMovingSpeed',
  'energyOut',
  'motorTemperatureRise',
];

function Result({ runId }: { readonly runId: string }) {
  const system = useUnits();
  const { currentData: run } = useGetRunQuery(runId);
  if (!run) return <p role="status">Calculating the figures …</p>;
  return (
    <>
      <dl className="console-grid">
        {run.allFigures
          .filter(({ key }) => SHOWN.includes(key))
          .map((figure) => (
            <div key={figure.key}>
              <dt>{figure.label}</dt>
              <dd className="figures text-20">
                {formatFigure(figure.value, figure.standardUncertainty, figure.unit, system)}
              </dd>
            </div>
          ))}
      </dl>
      {run.warnings.map(({ code, message, said }) => (
        <p key={code} className="quiet">
          <Said text={message} said={said} />
        </p>
      ))}
      <p>
        <Link to={`/runs/${runId}`}>Open the run</Link>
      </p>
    </>
  );
}
