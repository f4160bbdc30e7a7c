import type { Sentence, UnitSystem } from '@ebrix/core/units';
import { useUnits } from '../preferences/index.js';
import { formatQuantity, quantityNumber } from '../format/format-quantity.js';

/** A sentence of the core in the person's units. */
export function SentenceText({ of }: { readonly of: Sentence }) {
  return <>{sentenceText(of, useUnits())}</>;
}

export function sentenceText(sentence: Sentence, system: UnitSystem): string {
  return sentence
    .map((part) =>
      typeof part === 'string'
        ? part
        : part.isBare
          ? quantityNumber(part.value, part.unit, system, part.digits)
          : formatQuantity(part.value, part.unit, system, part.digits).replaceAll(' ', '\u00a0'),
    )
    .join('');
}

/** What a warning or a derivation says: with its quantities in the person's units, where it has some. */
export function Said({ text, said }: { readonly text: string; readonly said?: Sentence | undefined }) {
  const system = useUnits();
  return <>{said ? sentenceText(said, system) : text}</>;
}
