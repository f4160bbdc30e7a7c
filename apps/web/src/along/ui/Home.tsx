import { useEffect, useState } from 'react';
import type { AlongPlanned, RideOverview } from '@ebrix/contract';
import { isOver } from '@ebrix/core/ride';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { httpServer, NobodyThere, ServerRefusal } from '../send/server.js';
import { waiting } from '../send/send-rides.js';
import type { CarriedRide } from '../store/carried-ride.js';
import type { TakenOuting } from '../store/phone-store.js';
import { FreeRide } from './FreeRide.js';
import type { PhoneApp, Shown } from './phone-app.js';
import { Looks } from './Looks.js';
import { Room } from './Room.js';
import { saveOutingFile } from './save-outing-file.js';
import { allowSound } from './signals.js';
import { RIDE_STATE_LABELS, testWords } from './words.js';

/** What the phone carries, what is next, and what waits to be sent. */
export function Home({
  app,
  shown,
  onOpen,
}: {
  readonly app: PhoneApp;
  readonly shown: Shown;
  readonly onOpen: (id: string) => void;
}) {
  const unsent = waiting(shown.rides);
  const begin = async (planned: AlongPlanned, outing: TakenOuting): Promise<void> => {
    allowSound();
    onOpen((await app.begin(planned, outing)).id);
  };
  return (
    <main className="along">
      <header className="along-head">
        <h1>Along</h1>
        <Looks />
        <a href="/ride">To Ebrix</a>
      </header>
      {unsent.length > 0 && <Waiting app={app} shown={shown} unsent={unsent} />}
      {shown.photos.length > 0 && <WaitingPhotos app={app} shown={shown} isAlone={unsent.length === 0} />}
      {shown.outings.map((outing) => (
        <Outing key={outing.id} outing={outing} rides={shown.rides} onBegin={begin} app={app} />
      ))}
      <Take app={app} hasSome={shown.outings.length > 0} sent={shown.sent} />
      <Ridden rides={shown.rides} onOpen={onOpen} onForget={(id) => void app.forget(id)} />
      <Room />
    </main>
  );
}

function Waiting({
  app,
  shown: { sending, sent, trouble },
  unsent,
}: {
  readonly app: PhoneApp;
  readonly shown: Shown;
  readonly unsent: readonly CarriedRide[];
}) {
  const refused = unsent.filter(({ problem }) => problem !== null);
  return (
    <section aria-label="Waiting to be sent" className="along-part">
      <h2>{unsent.length === 1 ? 'One ride waits' : `${unsent.length} rides wait`} on this phone</h2>
      <p>It goes to Ebrix by itself as soon as Ebrix is in reach.{sent?.isCutOff && ' It is not in reach now.'}</p>
      {trouble !== undefined && (
        <p className="problem" role="alert">
          It could not be sent: {trouble}. Save it as a file before anything is cleared on this phone.
        </p>
      )}
      {sent?.isSignedOut && (
        <p className="caution">
          Ebrix wants to know who you are first. <a href="/ride">Sign in</a>, and come back here: nothing is lost
          meanwhile.
        </p>
      )}
      {refused.map((ride) => (
        <Refused key={ride.id} app={app} ride={ride} />
      ))}
      <div className="along-pair">
        <button type="button" className="along-main" disabled={sending === 'yes'} onClick={() => void app.send()}>
          {sending === 'yes' ? 'Sending' : 'Send now'}
        </button>
        <SaveFile app={app} />
      </div>
    </section>
  );
}

/** Of all that waits, rides and photos. Packing hours of a log takes a phone some seconds. */
function SaveFile({ app }: { readonly app: PhoneApp }) {
  const [state, setState] = useState<'idle' | 'packing' | { readonly problem: string }>('idle');
  const save = async (): Promise<void> => {
    setState('packing');
    try {
      await saveOutingFile(app.store);
      setState('idle');
    } catch (error) {
      setState({ problem: error instanceof Error ? error.message : String(error) });
    }
  };
  return (
    <>
      <button type="button" disabled={state === 'packing'} onClick={() => void save()}>
        {state === 'packing' ? 'Packing' : 'Save as a file'}
      </button>
      {typeof state === 'object' && (
        <p className="problem" role="alert">
          The file could not be made: {state.problem}
        </p>
      )}
    </>
  );
}

function WaitingPhotos({
  app,
  shown: { photos, sending },
  isAlone,
}: {
  readonly app: PhoneApp;
  readonly shown: Shown;
  /** No ride waits whose file would hold them. */
  readonly isAlone: boolean;
}) {
  const refused = photos.filter(({ problem }) => problem !== null);
  return (
    <section aria-label="Photos waiting to be sent" className="along-part">
      <h2>{photos.length === 1 ? 'One photo waits' : `${photos.length} photos wait`} on this phone</h2>
      {refused.map(({ id, caption, problem }) => (
        <div key={id} className="caution">
          <strong>{caption}</strong>
          <p>{problem}</p>
          <Throw what="Throw this photo away" onThrow={() => void app.dropPhoto(id)} />
        </div>
      ))}
      <div className="along-pair">
        <button type="button" disabled={sending === 'yes'} onClick={() => void app.send()}>
          {sending === 'yes' ? 'Sending' : 'Send photos now'}
        </button>
        {isAlone && <SaveFile app={app} />}
      </div>
    </section>
  );
}

/** What the server said no to is shown, and chosen: nothing is overwritten unseen. */
function Refused({ app, ride }: { readonly app: PhoneApp; readonly ride: CarriedRide }) {
  const isAboutPlan = ride.problem!.code === 'changed-meanwhile' || ride.problem!.code === 'not-there';
  const beside = async (): Promise<void> => {
    await app.change(ride.id, { isBesidePlan: true });
    await app.send();
  };
  return (
    <div className="caution">
      <strong>
        {ride.planned.setup.name}, {ride.planned.course.name}
      </strong>
      <p>{ride.problem!.message}</p>
      {isAboutPlan && ride.planned.slot !== null && (
        <div className="along-pair">
          <button type="button" onClick={() => void beside()}>
            Bring it in beside the plan
          </button>
          <Throw what="Throw this ride away" onThrow={() => void app.forget(ride.id)} />
        </div>
      )}
    </div>
  );
}

/** Asked twice: it is not anywhere else. */
function Throw({ what, onThrow }: { readonly what: string; readonly onThrow: () => void }) {
  const [isSure, setSure] = useState(false);
  return isSure ? (
    <button type="button" className="along-stop" onClick={onThrow}>
      Yes, for good
    </button>
  ) : (
    <button type="button" onClick={() => setSure(true)}>
      {what}
    </button>
  );
}

function Outing({
  outing,
  rides,
  onBegin,
  app,
}: {
  readonly outing: TakenOuting;
  readonly rides: readonly CarriedRide[];
  readonly onBegin: (planned: AlongPlanned, outing: TakenOuting) => Promise<void>;
  readonly app: PhoneApp;
}) {
  const { bundle } = outing;
  // A run that was broken off or is to be repeated comes up again.
  const done = new Set(
    rides
      .filter(({ state, isPractice }) => state !== 'aborted' && state !== 'repeated' && !isPractice)
      .map(({ planned }) => planned.slot?.id),
  );
  const open = bundle.planned.filter(({ slot }) => !done.has(slot?.id));
  const hasUnsent = waiting(rides).length > 0;
  return (
    <section className="along-part" aria-label={bundle.title}>
      <h2>{bundle.title}</h2>
      <p className="quiet">
        Taken along {new Date(bundle.takenAt).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })}
        {bundle.planned.length > 0 &&
          `; ${bundle.planned.length - open.length} of ${bundle.planned.length} ridden here`}
        {bundle.leftHere > 0 && `; ${bundle.leftHere} were ridden before`}.
      </p>
      <ol className="along-slots">
        {open.map((planned, k) => (
          <li key={planned.slot!.id}>
            <SetupMark letter={planned.slot!.letter} label={planned.setup.name} />
            <span>
              {testWords(planned.testKind)}, {planned.course.name}
            </span>
            <button type="button" className={k === 0 ? 'along-main' : ''} onClick={() => void onBegin(planned, outing)}>
              {k === 0 ? 'Prepare this run' : 'Ride this one first'}
            </button>
          </li>
        ))}
      </ol>
      {bundle.planned.length > 0 && open.length === 0 && <p>All of it is ridden.</p>}
      <FreeRide bundle={bundle} onBegin={(planned) => void onBegin(planned, outing)} />
      {hasUnsent ? null : <Throw what="Leave it here no longer" onThrow={() => void app.dropOuting(outing.id)} />}
    </section>
  );
}

/** What could come along, while Ebrix answers. */
function Take({
  app,
  hasSome,
  sent,
}: {
  readonly app: PhoneApp;
  readonly hasSome: boolean;
  readonly sent: Shown['sent'];
}) {
  const [overview, setOverview] = useState<RideOverview>();
  const [problem, setProblem] = useState<string>();
  const [isSignedOut, setSignedOut] = useState(false);
  const [phone, setPhone] = useState('');
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    void app.store.setting('phone').then((name) => name !== undefined && setPhone(name));
  }, [app]);
  // Again when the network comes back, and when something was sent.
  useEffect(() => {
    const look = (): void =>
      void httpServer.overview().then(
        (found) => {
          setOverview(found);
          setProblem(undefined);
          setSignedOut(false);
        },
        (error: unknown) => {
          setOverview(undefined);
          setSignedOut(error instanceof ServerRefusal && error.status === 401);
          setProblem(error instanceof NobodyThere ? undefined : error instanceof Error ? error.message : String(error));
        },
      );
    look();
    window.addEventListener('online', look);
    window.addEventListener('offline', look);
    return () => {
      window.removeEventListener('online', look);
      window.removeEventListener('offline', look);
    };
  }, [sent]);
  const take = async (planned: { trialId: string; outing: number } | null): Promise<void> => {
    setBusy(true);
    setProblem(undefined);
    try {
      await app.store.set('phone', phone.trim());
      await app.take(planned, phone.trim());
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      setBusy(false);
    }
  };
  if (!overview)
    return (
      <section className="along-part">
        <p>{problem ?? 'Ebrix is not in reach. What is on this phone works without it.'}</p>
        {isSignedOut && <a href="/ride">Sign in</a>}
        {!hasSome && <p className="quiet">Open this page once while Ebrix is in reach, and take an outing along.</p>}
      </section>
    );
  const isNamed = phone.trim() !== '';
  return (
    <section className="along-part" aria-label="Take along">
      <h2>Take along</h2>
      <label>
        What this phone is called
        <input
          value={phone}
          maxLength={40}
          placeholder="the blue one"
          onChange={({ target }) => setPhone(target.value)}
        />
      </label>
      {overview.next.map(({ slotId, trialId, question, outing, number, of }) => (
        <button key={slotId} type="button" disabled={busy || !isNamed} onClick={() => void take({ trialId, outing })}>
          {question}, outing {outing} (from run {number} of {of})
        </button>
      ))}
      <button type="button" disabled={busy || !isNamed} onClick={() => void take(null)}>
        Setups and courses only, for rides outside a plan
      </button>
      {!isNamed && <p className="quiet">Give the phone a name first: its log is kept under it.</p>}
      {problem !== undefined && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
    </section>
  );
}

function Ridden({
  rides,
  onOpen,
  onForget,
}: {
  readonly rides: readonly CarriedRide[];
  readonly onOpen: (id: string) => void;
  readonly onForget: (id: string) => void;
}) {
  if (rides.length === 0) return null;
  return (
    <section className="along-part" aria-label="Rides on this phone">
      <h2>Rides on this phone</h2>
      <ul className="along-slots">
        {[...rides].reverse().map((ride) => (
          <li key={ride.id}>
            <span>
              {new Date(ride.createdAt).toLocaleTimeString(undefined, { timeStyle: 'short' })} {ride.planned.setup.name}
              , {ride.planned.course.name}
            </span>
            <span className="quiet">
              {RIDE_STATE_LABELS[ride.state]}
              {ride.isPractice ? ', practice' : isOver(ride.state) && (ride.sent ? ', Ebrix has it' : ', waits here')}
            </span>
            {ride.sent && ride.problem && <p className="caution">{ride.problem.message}</p>}
            {!isOver(ride.state) && (
              <button type="button" onClick={() => onOpen(ride.id)}>
                Open
              </button>
            )}
            {(ride.sent ?? (ride.isPractice && isOver(ride.state))) && (
              <button type="button" onClick={() => onForget(ride.id)}>
                Clear from this phone
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
