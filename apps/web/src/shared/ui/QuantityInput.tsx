import { Input } from 'antd';
import { useCallback, useEffect, useRef, useState } from 'react';
import { convertUnit, displayUnit, type UnitName } from '@ebrix/core/units';
import { useUnits } from '../preferences/index.js';
import { plain, unitText } from '../format/format-quantity.js';
import { parseQuantity } from '../format/parse-quantity.js';

interface Props {
  readonly id?: string;
  /** In `unit`; null for unknown, NaN for text that cannot be read. */
  readonly value?: number | null;
  readonly onChange?: (value: number | null) => void;
  readonly unit: UnitName;
  /** Shown in this unit whatever system the person chose, for shares in per cent. */
  readonly shownAs?: UnitName;
  /** A bare number above this is in that unit: nobody has a wheel of 2105 m. */
  readonly bareAbove?: { readonly above: number; readonly unit: UnitName };
  readonly placeholder?: string;
  readonly 'aria-label'?: string;
}

/** Tyres of more bar than that are meant in psi. */
export const PSI_ABOVE = { above: 12, unit: 'psi' } as const;

/** A number with its unit: takes a decimal comma and a typed unit ("28 mph"), shows the person's own. */
export function QuantityInput({ value, onChange, unit, shownAs, bareAbove, ...rest }: Props) {
  const system = useUnits();
  const shown = shownAs ?? displayUnit(unit, system);
  const textOf = useCallback(
    (v: number | null | undefined): string =>
      v === null || v === undefined || Number.isNaN(v) ? '' : plain(convertUnit(v, unit, shown), 6),
    [unit, shown],
  );
  const [text, setText] = useState(() => textOf(value));
  const last = useRef<number | null | undefined>(value);
  useEffect(() => {
    // Only what came from outside replaces the typed text.
    if (Object.is(last.current, value)) return;
    last.current = value;
    setText(textOf(value));
  }, [value, textOf]);
  useEffect(() => setText((typed) => (Number.isNaN(last.current) ? typed : textOf(last.current))), [textOf]);
  return (
    <Input
      {...rest}
      inputMode="decimal"
      value={text}
      suffix={<span className="quiet">{unitText(shown)}</span>}
      onChange={({ target }) => {
        setText(target.value);
        const typed = parseQuantity(target.value, unit, shown) ?? null;
        const isBare = bareAbove && /^[\d\s.,]+$/.test(target.value) && typed !== null && typed > bareAbove.above;
        last.current = isBare ? (parseQuantity(target.value, unit, bareAbove.unit) ?? null) : typed;
        onChange?.(last.current);
      }}
      onBlur={() => {
        if (!Number.isNaN(last.current)) setText(textOf(last.current));
      }}
    />
  );
}

/** Form rule: an unreadable number is refused with the way to write it. */
export const readableNumber = {
  validator: (_rule: unknown, value: unknown) =>
    typeof value === 'number' && Number.isNaN(value)
      ? Promise.reject(new Error('Write a number, for example 23.5, 23,5 or one with its unit.'))
      : Promise.resolve(),
};
