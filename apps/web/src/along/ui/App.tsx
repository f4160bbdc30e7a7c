import { useEffect, useState, useSyncExternalStore } from 'react';
import type { RideState } from '@ebrix/core/ride';
import { allowMotion, watchMotion } from '../log/motion-source.js';
import { phoneClock } from '../log/phone-log.js';
import { watchPosition } from '../log/position-source.js';
import { playStandIn } from '../log/stand-in.js';
import { Home } from './Home.js';
import type { PhoneApp } from './phone-app.js';
import { RideView } from './RideView.js';
import { keepAwake, sound } from './signals.js';

/** A ride that is being led is what the phone shows; one that is only prepared waits until it is opened. */
const LED: readonly RideState[] = ['armed', 'running', 'finished'];

/** One thing at a time: the ride that is being led, or what the phone carries. */
export function App({ app }: { readonly app: PhoneApp }) {
  const shown = useSyncExternalStore(app.subscribe, app.state);
  const [chosen, setChosen] = useState<string>();
  const open = shown.rides.find(({ id }) => id === chosen) ?? shown.rides.find(({ state }) => LED.includes(state));
  const leads = app.leads;
  useEffect(() => {
    if (leads === undefined) return undefined;
    const ride = app.state().rides.find(({ id }) => id === leads);
    if (ride?.isPractice)
      return playStandIn(
        ride.planned.course.path,
        phoneClock,
        (fix) => void app.fix(fix),
        (reading) => app.feel(reading, 0),
      );
    const stop = watchPosition(
      (fix) => void app.fix(fix),
      (trouble) => app.trouble(trouble),
    );
    // After a restart a phone may want to be asked again, and only a tap may do that.
    const ask = (): void => void allowMotion();
    if (ride?.feels) document.addEventListener('click', ask, { once: true });
    const still = watchMotion((reading, agoS) => app.feel(reading, agoS));
    const release = keepAwake();
    return () => {
      stop();
      still();
      document.removeEventListener('click', ask);
      release();
    };
  }, [app, leads]);
  useEffect(() => app.onSignal(sound), [app]);
  useEffect(() => {
    const settle = (): void => void app.settle();
    const again = (): void => void app.send();
    document.addEventListener('visibilitychange', settle);
    window.addEventListener('pagehide', settle);
    window.addEventListener('online', again);
    again();
    return () => {
      document.removeEventListener('visibilitychange', settle);
      window.removeEventListener('pagehide', settle);
      window.removeEventListener('online', again);
    };
  }, [app]);
  if (open)
    return <RideView key={open.id} app={app} ride={open} live={shown.live} onClose={() => setChosen(undefined)} />;
  return <Home app={app} shown={shown} onOpen={setChosen} />;
}
