import { useEffect, useState } from 'react';
import { isOver, type RideState } from '@ebrix/core/ride';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { allowMotion } from '../log/motion-source.js';
import type { CarriedRide } from '../store/carried-ride.js';
import { Finished } from './Finished.js';
import type { Live } from '../log/led-ride.js';
import type { PhoneApp } from './phone-app.js';
import { Preparing } from './Preparing.js';
import { Armed, Running } from './Riding.js';
import { Sensors } from './Sensors.js';
import { allowSound } from './signals.js';
import { RIDE_STATE_LABELS, stopSentence, testWords } from './words.js';

interface Props {
  readonly app: PhoneApp;
  readonly ride: CarriedRide;
  readonly live: Live;
  readonly onClose: () => void;
}

/** One ride on the phone, from the first check to what becomes of it. */
export function RideView({ app, ride, live, onClose }: Props) {
  const [refusal, setRefusal] = useState<string>();
  const [asks, setAsks] = useState<'aborted' | 'repeated'>();
  const { planned, state } = ride;
  const go = async (to: RideState, reason?: string): Promise<void> => {
    allowSound();
    if (to === 'armed' && ride.feels) await allowMotion();
    const refused = await app.step(ride.id, to, reason);
    setRefusal(refused?.message);
    if (!refused) setAsks(undefined);
    if (!refused && (to === 'kept' || to === 'repeated' || to === 'aborted')) {
      onClose();
      void app.send();
    }
  };
  const stops = app.stopsOf(ride.id);
  // What is new in a state stands at its top.
  useEffect(() => {
    window.scrollTo(0, 0);
  }, [state]);
  return (
    <main className="along" data-state={state}>
      <header className="along-head">
        <h1>{RIDE_STATE_LABELS[state]}</h1>
        {(state === 'preparing' || isOver(state)) && (
          <button type="button" className="along-plain" onClick={onClose}>
            Back
          </button>
        )}
      </header>
      <p className="along-what">
        {planned.slot && <SetupMark letter={planned.slot.letter} />} {planned.setup.name}: {testWords(planned.testKind)}
        , {planned.course.name}
        {planned.direction === -1 && ', reversed'}
        {planned.level && `, level ${planned.level}`}
      </p>
      {ride.isPractice && <p className="along-practice">Practice: a simulated bike. Nothing of it goes to Ebrix.</p>}
      {stops.map((stop) => (
        <p key={stop.code} role="alert" className={stop.severity === 'stop' ? 'along-alarm' : 'caution'}>
          {stopSentence(stop)}
        </p>
      ))}
      {refusal !== undefined && (
        <p className="problem" role="alert">
          {refusal}
        </p>
      )}
      {state === 'preparing' && <Preparing app={app} ride={ride} />}
      {state === 'armed' && (
        <>
          <Armed ride={ride} live={live} />
          <Sensors app={app} isPractice={ride.isPractice === true} />
        </>
      )}
      {state === 'running' && <Running app={app} ride={ride} live={live} />}
      {state === 'finished' && <Finished app={app} ride={ride} />}
      {asks ? (
        <Reason what={asks} onDone={(reason) => (reason === undefined ? setAsks(undefined) : void go(asks, reason))} />
      ) : (
        <Foot state={state} onGo={(to) => void go(to)} onAsk={setAsks} />
      )}
    </main>
  );
}

function Foot({
  state,
  onGo,
  onAsk,
}: {
  readonly state: RideState;
  readonly onGo: (to: RideState) => void;
  readonly onAsk: (what: 'aborted' | 'repeated') => void;
}) {
  const next = { preparing: 'armed', armed: 'running', running: 'finished', finished: 'kept' }[state as string] as
    | RideState
    | undefined;
  const label = { preparing: 'Ready', armed: 'Start', running: 'Finished', finished: 'Keep it' }[state as string];
  if (!next) return null;
  return (
    <div className="along-foot">
      <button type="button" className="along-stop" onClick={() => onAsk('aborted')}>
        Abort
      </button>
      {state === 'finished' && (
        <>
          <button type="button" onClick={() => onAsk('repeated')}>
            Repeat it
          </button>
          <button type="button" onClick={() => onGo('running')}>
            Go on riding
          </button>
        </>
      )}
      {state === 'armed' && (
        <button type="button" onClick={() => onGo('preparing')}>
          Not yet
        </button>
      )}
      <button type="button" className="along-main" onClick={() => onGo(next)}>
        {label}
      </button>
    </div>
  );
}

function Reason({
  what,
  onDone,
}: {
  readonly what: 'aborted' | 'repeated';
  readonly onDone: (reason?: string) => void;
}) {
  const [text, setText] = useState('');
  return (
    <form
      className="along-form"
      aria-label="Why"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim() !== '') onDone(text.trim());
      }}
    >
      <label>
        {what === 'aborted' ? 'Why is it broken off?' : 'Why is it ridden again?'}
        <input value={text} maxLength={400} onChange={({ target }) => setText(target.value)} />
      </label>
      <div className="along-pair">
        <button type="button" onClick={() => onDone()}>
          Back
        </button>
        <button type="submit" className="along-stop" disabled={text.trim() === ''}>
          {what === 'aborted' ? 'Abort it' : 'Repeat it'}
        </button>
      </div>
    </form>
  );
}
