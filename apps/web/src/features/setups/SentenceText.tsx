import type { Sentence } from '@ebrix/core/bench';
import type { UnitSystem } from '@ebrix/core/units';
import { useUnits } from '../../shared/preferences/index.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';

/** A sentence of the core in the person's units. */
export function SentenceText({ of }: { readonly of: Sentence }) {
  return <>{sentenceText(of, useUnits())}</>;
}

export function sentenceText(sentence: Sentence, system: UnitSystem): string {
  return sentence
    .map((part) =>
      typeof part === 'string'
        ? part
        : formatQuantity(part.value, part.unit, system, part.digits).replaceAll(' ', '\u00a0'),
    )
    .join('');
}
