import type { UnitName } from './unit-table.js';

/** A quantity within a sentence: the page writes it in the person's own units. */
export interface Amount {
  readonly value: number;
  readonly unit: UnitName;
  /** Significant digits. */
  readonly digits: number;
  /** The number alone, where its unit is said further on. */
  readonly isBare?: true | undefined;
}
export type Sentence = readonly (string | Amount)[];

export function amount(value: number, unit: UnitName, digits = 4): Amount {
  return { value, unit, digits };
}

/** Words and quantities in order: say`gap ${amount(3, 'mm')} on the chain's side`. */
export function say(words: TemplateStringsArray, ...values: readonly (string | number | Amount)[]): Sentence {
  return words.flatMap((word, k): (string | Amount)[] => {
    const value = values[k];
    if (value === undefined) return word === '' ? [] : [word];
    return [...(word === '' ? [] : [word]), typeof value === 'number' ? String(value) : value];
  });
}

/** In stored units, for exports and tests. */
export function plainText(sentence: Sentence): string {
  return sentence
    .map((part) =>
      typeof part === 'string'
        ? part
        : `${Number(part.value.toPrecision(part.digits))} ${part.isBare || part.unit === '1' ? '' : part.unit}`.trimEnd(),
    )
    .join('');
}

/** Whether all its quantities are numbers: what is not cannot be stored, and is said as text alone. */
export function hasFiniteAmounts(sentence: Sentence): boolean {
  return sentence.every((part) => typeof part === 'string' || Number.isFinite(part.value));
}
