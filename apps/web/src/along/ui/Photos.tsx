import { useState } from 'react';
import type { CarriedRide } from '../store/carried-ride.js';
import type { PhoneApp } from './phone-app.js';

/** A photo of what was seen, with a word to it. */
export function Photos({ app, ride }: { readonly app: PhoneApp; readonly ride: CarriedRide }) {
  const [caption, setCaption] = useState('');
  const [problem, setProblem] = useState<string>();
  const count = app.state().photos.filter(({ rideId }) => rideId === ride.id).length;
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setProblem(undefined);
    try {
      await app.takePhoto(ride, file, caption.trim());
      setCaption('');
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <details>
      <summary>Photos{count > 0 && `: ${count} on this phone`}</summary>
      <div className="along-form">
        <label>
          What it shows
          <input value={caption} maxLength={120} onChange={({ target }) => setCaption(target.value)} />
        </label>
        <label className="along-file">
          Take a photo
          <input
            type="file"
            accept="image/*"
            capture="environment"
            onChange={({ target }) => {
              void take(target.files?.[0]);
              target.value = '';
            }}
          />
        </label>
        <p className="quiet">It goes to the photos of the setup, once Ebrix is in reach.</p>
        {problem !== undefined && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
      </div>
    </details>
  );
}
