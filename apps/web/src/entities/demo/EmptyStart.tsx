import { useEffect } from 'react';
import { useDispatch } from 'react-redux';
import { Link } from 'react-router';
import { baseApi } from '../../shared/api/base-api.js';
import { PlainButton } from '../../shared/ui/PlainButton.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { useGetDemoQuery, useLoadDemoMutation } from './api.js';

interface Props {
  readonly what: string;
  readonly action?: { readonly to: string; readonly label: string };
}

const POLL_MS = 700;

/** An empty place: what it is for, the one next step, and in an empty installation the demo to look at. */
export function EmptyStart({ what, action }: Props) {
  const { demo, load, isLoading } = useDemo();
  return (
    <div className="teach">
      <p className="text-16">{what}</p>
      <div className="actions">
        {action && <LinkButton isMain {...action} />}
        {demo?.isEmpty && (
          <PlainButton isBusy={isLoading} onClick={() => void load()}>
            Load demo data
          </PlainButton>
        )}
      </div>
      {demo?.isEmpty && <p className="quiet">{DEMO_WORDS}</p>}
      <DemoProgress demo={demo} />
    </div>
  );
}

/** The first page of an empty installation asks what one has in hand, and leads on. */
export function StartChoices() {
  const { demo, load, isLoading } = useDemo();
  return (
    <section aria-label="Where to begin">
      <p className="text-16 mb-14">What do you have in hand?</p>
      <ul className="start-choices">
        {CHOICES.map(({ to, label, what }) => (
          <li key={to}>
            <Link to={to}>{label}</Link>
            <span>{what}</span>
          </li>
        ))}
        {demo?.isEmpty && (
          <li>
            <span>
              <PlainButton isBusy={isLoading} onClick={() => void load()}>
                Load demo data
              </PlainButton>
            </span>
            <span className="quiet">{DEMO_WORDS}</span>
          </li>
        )}
      </ul>
      <DemoProgress demo={demo} />
    </section>
  );
}

const DEMO_WORDS =
  'The demo is a delivery co-operative that chooses a kit for eight bikes: eight trials with their runs, made by the ride model and read through the same import as yours.';
const CHOICES = [
  {
    to: '/quick-look/compare',
    label: 'Two rides to compare',
    what: 'Log files of two setups: the answer at once, nothing stored unless you keep it.',
  },
  {
    to: '/notebook',
    label: 'A notebook full of rides',
    what: 'Distance, bars, volts and time as read off a display: typed in or pasted, no logger needed.',
  },
  {
    to: '/bench/setups/new',
    label: 'A box to fit',
    what: 'A kit and a bike: does it fit, is it safe, what will it weigh, cost and reach.',
  },
  {
    to: '/trials/new/question',
    label: 'A question to plan',
    what: 'Which setup does better, by how much: how many rides that takes, in which order.',
  },
] as const;

function useDemo() {
  const { data: demo } = useGetDemoQuery(undefined, { pollingInterval: POLL_MS });
  const [load, { isLoading }] = useLoadDemoMutation();
  const dispatch = useDispatch();
  const isLoaded = demo && !demo.isEmpty && demo.loading === null;
  const done = demo?.loading?.done;
  useEffect(() => {
    if (isLoaded || done) dispatch(baseApi.util.invalidateTags(['Part', 'Setup', 'Course', 'Outing', 'Run', 'Trial']));
  }, [isLoaded, done, dispatch]);
  return { demo, load, isLoading };
}

function DemoProgress({ demo }: { readonly demo: ReturnType<typeof useDemo>['demo'] }) {
  return (
    <>
      {demo?.loading && (
        <div className="w-340">
          <p className="quiet">
            Riding the demo: {demo.loading.done} of {demo.loading.total} runs
          </p>
          <progress className="progress" value={demo.loading.done} max={demo.loading.total} aria-label="Demo data" />
        </div>
      )}
      {demo?.problem && <p className="problem">{demo.problem}</p>}
    </>
  );
}
