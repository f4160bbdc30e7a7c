import { useState } from 'react';

/** A number typed with a thumb; what is no number is not taken. */
export function NumberField({
  label,
  unit,
  value,
  onChange,
}: {
  readonly label: string;
  readonly unit: string;
  readonly value: number | null;
  readonly onChange: (value: number | null) => void;
}) {
  const [text, setText] = useState(value === null ? '' : String(value));
  const read = text.trim() === '' ? null : Number(text.replace(',', '.'));
  return (
    <label>
      {label}
      {unit && `, ${unit}`}
      <input
        inputMode="decimal"
        value={text}
        aria-invalid={read !== null && !Number.isFinite(read)}
        onChange={({ target }) => {
          setText(target.value);
          const next = target.value.trim() === '' ? null : Number(target.value.replace(',', '.'));
          if (next === null || Number.isFinite(next)) onChange(next);
        }}
      />
    </label>
  );
}
