import { useState } from 'react';
import { displayUnit, type UnitName } from '@ebrix/core/units';
import { asTyped, fromTyped, useUnitSystem } from './units.js';

/** A number typed with a thumb, in the person's units; what is no number is not taken. */
export function NumberField({
  label,
  unit,
  value,
  onChange,
}: {
  readonly label: string;
  /** In which it is kept. */
  readonly unit?: UnitName;
  readonly value: number | null;
  readonly onChange: (value: number | null) => void;
}) {
  const system = useUnitSystem();
  const [text, setText] = useState(value === null ? '' : unit ? asTyped(value, unit, system) : String(value));
  const read = text.trim() === '' ? null : Number(text.replace(',', '.'));
  return (
    <label>
      {label}
      {unit && `, ${displayUnit(unit, system)}`}
      <input
        inputMode="decimal"
        value={text}
        aria-invalid={read !== null && !Number.isFinite(read)}
        onChange={({ target }) => {
          setText(target.value);
          const next = target.value.trim() === '' ? null : Number(target.value.replace(',', '.'));
          if (next === null) onChange(null);
          else if (Number.isFinite(next)) onChange(unit ? fromTyped(next, unit, system) : next);
        }}
      />
    </label>
  );
}
