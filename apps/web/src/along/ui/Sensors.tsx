import { useState } from 'react';
import { listenTo, RADIO_SENSORS, radioHere, type RadioKind } from '../log/radio-sensors.js';
import { standInRadio } from '../log/stand-in-radio.js';
import type { PhoneApp } from './phone-app.js';

/** Sensors that the phone hears by radio; where a browser has none, it says so and the ride goes on without. */
export function Sensors({ app, isPractice }: { readonly app: PhoneApp; readonly isPractice: boolean }) {
  const [radio] = useState(() => (isPractice ? standInRadio() : radioHere()));
  const [states, setStates] = useState<Partial<Record<RadioKind, string>>>({});
  const [problem, setProblem] = useState<string>();
  const say = (kind: RadioKind, state: string): void => setStates((now) => ({ ...now, [kind]: state }));
  const add = async (kind: RadioKind): Promise<void> => {
    if (!radio) return;
    setProblem(undefined);
    try {
      const { name } = await listenTo(
        radio,
        kind,
        (reading) => app.sense(reading),
        (state) => say(kind, state === 'here' ? 'heard' : 'not heard just now'),
      );
      say(kind, `${name} is heard`);
    } catch (error) {
      // Whoever closes the list of devices wants none.
      if (error instanceof DOMException && error.name === 'NotFoundError') return;
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <details>
      <summary>Sensors by radio</summary>
      <div className="along-form">
        {!radio && (
          <p className="quiet">This browser hears no sensors. Positions, marks and readings work without them.</p>
        )}
        {radio &&
          (Object.keys(RADIO_SENSORS) as RadioKind[]).map((kind) => (
            <button key={kind} type="button" onClick={() => void add(kind)}>
              {RADIO_SENSORS[kind].label}
              {states[kind] !== undefined && `: ${states[kind]}`}
            </button>
          ))}
        {problem !== undefined && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
      </div>
    </details>
  );
}
