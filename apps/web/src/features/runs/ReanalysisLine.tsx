import { Button, Progress } from 'antd';
import { useEffect, useRef } from 'react';
import { useDispatch } from 'react-redux';
import {
  runsApi,
  useBeginReanalysisMutation,
  useCancelReanalysisMutation,
  useReanalysisQuery,
} from '../../entities/run/index.js';

const POLL_MS = 1000;

/** Figures that an earlier method worked out, and the work on them: seen only when there is something to say. */
export function ReanalysisLine() {
  const dispatch = useDispatch();
  const { data } = useReanalysisQuery(undefined, { refetchOnMountOrArgChange: true });
  const latest = data?.latest ?? null;
  const isWorking = latest?.state === 'working';
  useReanalysisQuery(undefined, { pollingInterval: isWorking ? POLL_MS : 0, skip: !isWorking });
  const [begin, beginning] = useBeginReanalysisMutation();
  const [cancel] = useCancelReanalysisMutation();
  const wasWorking = useRef(false);
  useEffect(() => {
    if (wasWorking.current && !isWorking) dispatch(runsApi.util.invalidateTags(['Run', 'Trial']));
    wasWorking.current = isWorking;
  }, [isWorking, dispatch]);
  if (!data) return null;
  if (isWorking)
    return (
      <div className="actions reanalysis" role="status">
        <span>
          Recalculating figures: {latest.done + latest.failed} of {latest.total} runs, {latest.changed} changed so far.
        </span>
        <Progress
          percent={latest.total === 0 ? 100 : Math.round((100 * (latest.done + latest.failed)) / latest.total)}
          className="w-180"
          size="small"
          aria-label="Runs recalculated"
        />
        <Button size="small" onClick={() => void cancel(latest.id)}>
          Stop
        </Button>
      </div>
    );
  if (data.outdated === 0) return null;
  return (
    <div className="actions reanalysis">
      <span>
        {data.outdated.toLocaleString()} {data.outdated === 1 ? 'run was' : 'runs were'} calculated by an earlier
        method. Verdicts must not mix methods.
        {latest !== null &&
          latest.failed > 0 &&
          ` ${latest.failed} could not be recalculated last time: see each run’s page.`}
      </span>
      <Button size="small" type="primary" loading={beginning.isLoading} onClick={() => void begin('outdated')}>
        Recalculate them
      </Button>
    </div>
  );
}
