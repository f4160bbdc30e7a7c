import { Button, Progress } from 'antd';
import { useEffect } from 'react';
import { useDispatch } from 'react-redux';
import { baseApi } from '../../shared/api/base-api.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { useGetDemoQuery, useLoadDemoMutation } from './api.js';

interface Props {
  readonly what: string;
  readonly action?: { readonly to: string; readonly label: string };
}

const POLL_MS = 700;

/** An empty place: what it is for, the one next step, and in an empty installation the demo to look at. */
export function EmptyStart({ what, action }: Props) {
  const { data: demo } = useGetDemoQuery(undefined, { pollingInterval: POLL_MS });
  const [load, { isLoading }] = useLoadDemoMutation();
  const dispatch = useDispatch();
  const isLoaded = demo && !demo.isEmpty && demo.loading === null;
  const done = demo?.loading?.done;
  useEffect(() => {
    if (isLoaded || done) dispatch(baseApi.util.invalidateTags(['Part', 'Setup', 'Course', 'Outing', 'Run', 'Trial']));
  }, [isLoaded, done, dispatch]);
  return (
    <div className="teach">
      <p className="text-16">{what}</p>
      <div className="actions">
        {action && <LinkButton isMain {...action} />}
        {demo?.isEmpty && (
          <Button loading={isLoading} onClick={() => void load()}>
            Load demo data
          </Button>
        )}
      </div>
      {demo?.isEmpty && (
        <p className="quiet">
          The demo is a delivery co-operative that chooses a kit for eight bikes: three trials, 33 runs, made by the
          ride model and read through the same import as yours.
        </p>
      )}
      {demo?.loading && (
        <div className="w-340">
          <p className="quiet">
            Riding the demo: {demo.loading.done} of {demo.loading.total} runs
          </p>
          <Progress
            percent={Math.round((100 * demo.loading.done) / demo.loading.total)}
            showInfo={false}
            aria-label="Demo data"
          />
        </div>
      )}
      {demo?.problem && <p className="problem">{demo.problem}</p>}
    </div>
  );
}
