import { Input } from 'antd';
import { useState } from 'react';

interface Props {
  readonly id?: string;
  readonly value?: number | null;
  readonly onChange?: (value: number | null) => void;
  readonly placeholder?: string;
}

/** A factor, or the two circumferences that it is made of: "2070/2105". Undefined: neither. */
export function readWheelFactor(text: string): number | null | undefined {
  const plain = text
    .trim()
    .replaceAll(',', '.')
    .replaceAll(/mm|m\b/g, '');
  if (plain === '') return null;
  const [true_, set, ...more] = plain.split(/[/÷:]/).map((part) => Number(part.trim() || NaN));
  const factor = set === undefined ? true_! : true_! / set;
  return more.length === 0 && factor >= 0.3 && factor <= 3 ? Number(factor.toPrecision(6)) : undefined;
}

/** The true wheel circumference over the one that was set. */
export function WheelFactorInput({ id, value, onChange, placeholder }: Props) {
  const [typed, setTyped] = useState<string>();
  const isUnread = typed !== undefined && readWheelFactor(typed) === undefined;
  return (
    <>
      <Input
        {...(id !== undefined && { id })}
        value={typed ?? (value ? String(value) : '')}
        placeholder={placeholder ?? 'set right'}
        onChange={({ target }) => {
          setTyped(target.value);
          const factor = readWheelFactor(target.value);
          if (factor !== undefined) onChange?.(factor);
        }}
        onBlur={() => !isUnread && setTyped(undefined)}
      />
      {isUnread && <span className="problem">Write it as 2070/2105, or as a factor such as 0.983.</span>}
    </>
  );
}
