import { useState } from 'react';
import { displayUnit, type UnitName } from '@ebrix/core/units';
import type { CarriedMark } from '../store/carried-ride.js';
import { fromTyped, useUnitSystem } from './units.js';

export type SheetKind = 'gauge' | 'note' | 'temperature' | 'voltage';
const TITLES: Readonly<Record<SheetKind, { readonly words: string; readonly unit?: UnitName }>> = {
  temperature: { words: 'Temperature by hand', unit: '°C' },
  gauge: { words: 'Bars lit' },
  voltage: { words: 'Voltage', unit: 'V' },
  note: { words: 'Note' },
};
const PLACES = ['motor', 'controller', 'battery', 'air'] as const;

/** A reading typed with one thumb, standing. */
export function MarkSheet({
  kind,
  onDone,
}: {
  readonly kind: SheetKind;
  readonly onDone: (given: (Pick<CarriedMark, 'kind'> & Partial<CarriedMark>) | undefined) => void;
}) {
  const system = useUnitSystem();
  const { words, unit } = TITLES[kind];
  const title = unit ? `${words}, ${displayUnit(unit, system)}` : words;
  const [text, setText] = useState('');
  const [place, setPlace] = useState<(typeof PLACES)[number]>('motor');
  const typed = Number(text.replace(',', '.'));
  const value = unit ? fromTyped(typed, unit, system) : typed;
  const isReady = text.trim() !== '' && (kind === 'note' || Number.isFinite(value));
  return (
    <form
      className="along-form"
      aria-label={title}
      onSubmit={(event) => {
        event.preventDefault();
        if (!isReady) return;
        onDone(
          kind === 'note' ? { kind, text: text.trim() } : { kind, value, place: kind === 'temperature' ? place : null },
        );
      }}
    >
      {kind === 'temperature' && (
        <>
          <div className="along-marks" role="group" aria-label="Where">
            {PLACES.map((one) => (
              <button key={one} type="button" aria-pressed={place === one} onClick={() => setPlace(one)}>
                {one[0]!.toUpperCase() + one.slice(1)}
              </button>
            ))}
          </div>
          <p className="quiet">Stand still first; do not measure anything that turns.</p>
        </>
      )}
      <label>
        {title}
        <input
          autoFocus
          inputMode={kind === 'note' ? 'text' : 'decimal'}
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
      </label>
      <div className="along-pair">
        <button type="button" onClick={() => onDone(undefined)}>
          Back
        </button>
        <button type="submit" className="along-main" disabled={!isReady}>
          Note it
        </button>
      </div>
    </form>
  );
}
