import { Button } from 'antd';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { Ride } from '@ebrix/contract';
import { graverOf, readingsFromMarks, stopConditions } from '@ebrix/core/ride';
import { EFFORTS } from '@ebrix/core/ride-model';
import { TEST_KINDS } from '@ebrix/core/analysis';
import { useUnits } from '../../shared/preferences/index.js';
import { errorCode, errorDetails, errorMessage } from '../../shared/api/base-api.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useGetRideQuery, useStepRideMutation } from './api.js';
import { Armed } from './Armed.js';
import { Finished } from './Finished.js';
import { Over } from './Over.js';
import { Preparing } from './Preparing.js';
import { ReasonSheet } from './ReasonSheet.js';
import { Running } from './Running.js';
import { STATE_LABELS, stopSentence } from './ride-labels.js';
import type { Steps } from './steps.js';
import { useRideSaver } from './use-ride-saver.js';
import { useMarks, useRideEvents } from './use-ride.js';

const ASK_AGAIN_MS = 4000;

/** The roadside console of one ride: for a phone in a wet hand and for sunlight. */
export default function ConsolePage() {
  const { id = '' } = useParams();
  const query = useGetRideQuery(id);
  const { state, runId, conversion } = query.currentData ?? {};
  // Beside the stream: a console must not wait for ever for a word that was lost on the way.
  useGetRideQuery(id, {
    pollingInterval: ASK_AGAIN_MS,
    skip: !(state === 'kept' && runId === null && conversion?.status !== 'failed'),
  });
  return (
    <main className="console" id="main">
      <QueryView query={query}>{(ride) => <Console key={ride.id} ride={ride} />}</QueryView>
    </main>
  );
}

function Console({ ride }: { readonly ride: Ride }) {
  const system = useUnits();
  const navigate = useNavigate();
  const { live, isConnected } = useRideEvents(ride.id);
  const marks = useMarks(ride.id);
  const saver = useRideSaver(ride);
  const [step, { isLoading, error, reset }] = useStepRideMutation();
  const [reasonFor, setReasonFor] = useState<'aborted' | 'repeated'>();
  const time = useTimeOfDay();
  useEffect(() => {
    document.title = `${STATE_LABELS[ride.state]} · ${ride.setup.name} · Ebrix`;
  }, [ride.state, ride.setup.name]);
  const go: Steps['go'] = (to, reason) => {
    reset();
    void step({ id: ride.id, from: ride.state, to, reason: reason ?? null });
  };
  const steps: Steps = { go, isBusy: isLoading };
  const isOver = ride.state === 'kept' || ride.state === 'repeated' || ride.state === 'aborted';
  useShortcut('x', 'Abort with reason', () => !isOver && setReasonFor('aborted'));
  useShortcut('n', 'Next run', () => isOver && void navigate('/ride'));
  const { slot, course } = ride;
  // What was read by hand is judged here: brake trouble stops the ride with no logger and no connection, too.
  const manualStops = stopConditions(ride.limits, readingsFromMarks([...ride.marks, ...marks.waiting]));
  const stops = ride.state === 'running' || ride.state === 'finished' ? graverOf(live?.stops ?? [], manualStops) : [];
  const overtaken = errorCode(error) === 'changed-meanwhile';
  const clearanceError = errorDetails(error, 'clearance-open') as { setupId: string } | undefined;
  return (
    <>
      <header className="console-head">
        <div>
          <Link to="/ride" aria-label="Back to all rides">
            ‹
          </Link>{' '}
          {slot ? `Run ${slot.number} of ${slot.of} · setup ${slot.letter}` : ride.setup.name}
        </div>
        <div className="figures">{time}</div>
      </header>
      <h1 className="console-state" data-state={ride.state}>
        {STATE_LABELS[ride.state]}
      </h1>
      <p className="console-what">
        {ride.state === 'preparing' ? (
          <Link to={`/how/${ride.testKind}`}>{TEST_KINDS[ride.testKind].label}</Link>
        ) : (
          TEST_KINDS[ride.testKind].label
        )}{' '}
        · {course.name}
        {ride.direction === -1 && ', reversed'}
        {ride.level && ` · level ${ride.level}`} · {EFFORTS[ride.effort].label.toLowerCase()}
        {ride.laps > 1 && ` · ${ride.laps} laps`}
      </p>
      {!isConnected && (
        <p className="caution" role="status">
          No connection to Ebrix. Marks are kept here and sent when it returns
          {marks.waiting.length > 0 && `: ${marks.waiting.length} wait`}. A logger keeps recording by itself.
        </p>
      )}
      {stops.map((stop) => (
        <p
          key={stop.code}
          className={stop.severity === 'stop' ? 'console-stop' : 'caution'}
          role={stop.severity === 'stop' ? 'alert' : 'status'}
        >
          {stopSentence(stop, system)}
        </p>
      ))}
      {marks.problem !== undefined && (
        <p className="caution" role="alert">
          A mark was not saved: {errorMessage(marks.problem)}
        </p>
      )}
      {saver.error !== undefined && (
        <p className="caution" role="alert">
          Not saved: {errorMessage(saver.error)}{' '}
          <Button size="small" onClick={() => void saver.flush()}>
            Save now
          </Button>
        </p>
      )}
      {error !== undefined && (
        <p className="caution" role="alert">
          {overtaken ? 'Another phone moved this ride on. This is its state now.' : errorMessage(error)}{' '}
          {clearanceError && <Link to={`/bench/setups/${clearanceError.setupId}/clearance`}>To its safety checks</Link>}
        </p>
      )}
      {reasonFor ? (
        <ReasonSheet
          to={reasonFor}
          onCancel={() => setReasonFor(undefined)}
          onGiven={(reason) => {
            setReasonFor(undefined);
            go(reasonFor, reason);
          }}
        />
      ) : (
        <>
          {ride.state === 'preparing' && (
            <Preparing ride={ride} saver={saver} steps={steps} onAbort={() => setReasonFor('aborted')} />
          )}
          {ride.state === 'armed' && (
            <Armed ride={ride} live={live} steps={steps} onAbort={() => setReasonFor('aborted')} />
          )}
          {ride.state === 'running' && (
            <Running ride={ride} live={live} marks={marks} steps={steps} onAbort={() => setReasonFor('aborted')} />
          )}
          {ride.state === 'finished' && (
            <Finished
              ride={ride}
              saver={saver}
              live={live}
              marks={marks}
              steps={steps}
              onAbort={() => setReasonFor('aborted')}
              onRepeat={() => setReasonFor('repeated')}
            />
          )}
          {isOver && <Over ride={ride} />}
        </>
      )}
    </>
  );
}

function useTimeOfDay(): string {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 5000);
    return () => clearInterval(timer);
  }, []);
  return now.toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit', hour12: false });
}
