import { Input } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { plain } from '../format/format-quantity.js';

interface Props {
  readonly value: number;
  readonly label: string;
  readonly onChange: (value: number) => void;
}

/** A bare number; text that is none changes nothing, and goes when the field is left. */
export function NumberInput({ value, label, onChange }: Props) {
  return (
    <OptionalNumber
      value={value}
      label={label}
      onChange={(typed) => {
        if (typed !== null) onChange(typed);
      }}
    />
  );
}

interface OptionalProps {
  /** Null: nothing said. */
  readonly value: number | null;
  readonly label: string;
  readonly suffix?: string;
  readonly onChange: (value: number | null) => void;
}
export function OptionalNumber({ value, label, suffix, onChange }: OptionalProps) {
  const textOf = (v: number | null): string => (v === null ? '' : plain(v, 5));
  const [text, setText] = useState(() => textOf(value));
  const last = useRef(value);
  useEffect(() => {
    // Only what came from outside replaces the typed text.
    if (Object.is(last.current, value)) return;
    last.current = value;
    setText(textOf(value));
  }, [value]);
  return (
    <Input
      inputMode="decimal"
      aria-label={label}
      value={text}
      suffix={suffix ? <span className="quiet">{suffix}</span> : undefined}
      onChange={({ target }) => {
        setText(target.value);
        const typed = target.value.trim() === '' ? null : Number(target.value.trim().replace(',', '.'));
        if (typed !== null && !Number.isFinite(typed)) return;
        last.current = typed;
        onChange(typed);
      }}
      onBlur={() => setText(textOf(value))}
    />
  );
}
