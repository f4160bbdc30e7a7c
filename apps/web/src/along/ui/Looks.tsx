import { useEffect, useState } from 'react';
import { chooseUnits, useUnitSystem } from './units.js';
import { canSpeak, isSpoken, setSpoken } from './signals.js';

const LIGHTS = ['light', 'dark', 'sunlight'] as const;
const LIGHT_WORDS = { light: 'Day', dark: 'Night', sunlight: 'Sun' } as const;
const UNIT_WORDS = { metric: 'km', imperial: 'Miles' } as const;
const SIZES = ['1', '1.2', '1.45'] as const;
const SIZE_WORDS = { '1': 'Usual', '1.2': 'Large', '1.45': 'Largest' } as const;

function remembered<T extends string>(name: string, choices: readonly T[]): T {
  const kept = localStorage.getItem(`along-${name}`);
  return choices.find((choice) => choice === kept) ?? choices[0]!;
}
function show(light: string, size: string): void {
  document.documentElement.dataset['theme'] = light;
  document.documentElement.style.setProperty('--along-size', size);
}

/** As it was left, before anything is drawn. */
export function showAsLeft(): void {
  show(remembered('light', LIGHTS), remembered('size', SIZES));
}

/** Light and size of the app: each tap goes on to the next. */
export function Looks() {
  const [light, setLight] = useState(() => remembered('light', LIGHTS));
  const [size, setSize] = useState(() => remembered('size', SIZES));
  useEffect(() => {
    localStorage.setItem('along-light', light);
    localStorage.setItem('along-size', size);
    show(light, size);
  }, [light, size]);
  const system = useUnitSystem();
  const [spoken, say] = useState(isSpoken);
  const next = <T,>(list: readonly T[], now: T): T => list[(list.indexOf(now) + 1) % list.length]!;
  return (
    <span className="along-looks">
      <button type="button" className="along-plain" onClick={() => setLight(next(LIGHTS, light))}>
        {LIGHT_WORDS[light]}
      </button>
      <button type="button" className="along-plain" onClick={() => setSize(next(SIZES, size))}>
        {SIZE_WORDS[size]}
      </button>
      <button
        type="button"
        className="along-plain"
        onClick={() => chooseUnits(system === 'metric' ? 'imperial' : 'metric')}
      >
        {UNIT_WORDS[system]}
      </button>
      {canSpeak() && (
        <button
          type="button"
          className="along-plain"
          onClick={() => {
            setSpoken(!spoken);
            say(!spoken);
          }}
        >
          {spoken ? 'Spoken' : 'Sounds'}
        </button>
      )}
    </span>
  );
}
