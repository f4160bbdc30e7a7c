import type { UnitSystem } from '@ebrix/core/units';
import { formatMoney, formatQuantity, plain, unitText } from '../../shared/format/format-quantity.js';
import type { Part, PartKind } from '@ebrix/contract';
import type { PartField } from './field.js';
import { choiceLabel, fieldsOf } from './part-fields.js';
import { valueAt } from './part-values.js';

export type ShownAs = Pick<PartField, 'kind' | 'unit' | 'choices'>;

/** A field's value in words, in the person's units; a dash for what is not known. */
export function partValueText({ kind, unit, choices }: ShownAs, value: unknown, system: UnitSystem): string {
  if (value === null || value === undefined || value === '' || (Array.isArray(value) && value.length === 0)) return '–';
  switch (kind) {
    case 'choice':
      return choiceLabel(choices, value);
    case 'choices':
      return (value as string[]).map((one) => choiceLabel(choices, one)).join(', ');
    case 'flag':
      return value === true ? 'Yes' : 'No';
    case 'numbers':
      return (value as number[]).join(' ');
    case 'price':
      return formatMoney(value as { amount: number; currency: string });
    case 'box':
      return (value as { what: string }[]).map(({ what }) => what).join(', ');
    case 'blocks':
      return '–';
    case 'text':
    case 'notes':
      return value as string;
    case 'number':
    case 'whole':
      return numberText(value as number, unit, system);
  }
}
function numberText(value: number, unit: ShownAs['unit'], system: UnitSystem): string {
  if (!unit) return plain(value);
  // Shares are stored as fractions.
  if (unit === '%') return `${plain(value * 100, 3)} ${unitText(unit)}`;
  return formatQuantity(value, unit, system, 4);
}

/** Everything that is known of some parts of one kind, row by row, in words; names and notes left out. */
export function partRows<K extends PartKind>(
  kind: K,
  parts: readonly (Part<K> | undefined)[],
  system: UnitSystem,
): (readonly [label: string, values: readonly string[]])[] {
  return fieldsOf(kind)
    .filter((field) => field.name !== 'name' && field.kind !== 'notes')
    .map(
      (field) => [field.label, parts.map((part) => partValueText(field, valueAt(part, field.name), system))] as const,
    );
}
