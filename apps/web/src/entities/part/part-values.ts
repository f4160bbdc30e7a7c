import type { z } from 'zod';
import { partInputSchemas, type Part, type PartInput, type PartKind } from '@ebrix/contract';
import type { PartField } from './field.js';
import { fieldsOf } from './part-fields.js';

type Values = Record<string, unknown>;

export function valueAt(values: unknown, name: string): unknown {
  return name.split('.').reduce((at: unknown, field) => (at as Values | null | undefined)?.[field], values);
}
function setAt(values: Values, name: string, value: unknown): void {
  const path = name.split('.');
  const last = path.pop()!;
  let at = values;
  for (const field of path) at = (at[field] ??= {}) as Values;
  at[last] = value;
}

/** A stored part as the form holds it: lists of numbers as text, so that they can be typed. */
export function toFormValues(kind: PartKind, part: Part | undefined): Values {
  const values: Values = {};
  for (const { name, kind: field } of fieldsOf(kind)) {
    const stored = part === undefined ? undefined : valueAt(part, name);
    if (field === 'numbers') setAt(values, name, Array.isArray(stored) ? stored.join(' ') : '');
    else if (stored !== undefined && stored !== null) setAt(values, name, stored);
  }
  return values;
}

export type Read =
  | { readonly ok: true; readonly input: PartInput }
  | { readonly ok: false; readonly problems: readonly { readonly name: string[]; readonly message: string }[] };

/** What was typed, as the contract takes it: what is empty is unknown; nested things of which nothing is known are absent. */
export function fromFormValues(kind: PartKind, values: Values): Read {
  const draft: Values = {};
  for (const field of fieldsOf(kind)) setAt(draft, field.name, readField(field, valueAt(values, field.name)));
  for (const [name, value] of Object.entries(draft))
    if (isNested(value) && Object.values(value).every((own) => own === null || own === undefined || own === ''))
      draft[name] = null;
  const parsed = partInputSchemas[kind].safeParse(draft);
  if (parsed.success) return { ok: true, input: parsed.data };
  return { ok: false, problems: parsed.error.issues.map(toProblem) };
}

function isNested(value: unknown): value is Values {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
function readField({ kind }: PartField, value: unknown): unknown {
  switch (kind) {
    case 'text':
    case 'notes':
      return value ?? '';
    case 'numbers':
      return readNumbers(String((value as string | undefined) ?? ''));
    case 'choices':
    case 'box':
      return value ?? [];
    case 'price':
      return hasAmount(value) ? value : null;
    case 'number':
    case 'whole':
    case 'choice':
    case 'flag':
    case 'blocks':
      return value ?? null;
  }
}
function hasAmount(value: unknown): boolean {
  return isNested(value) && typeof value['amount'] === 'number';
}
/** "14 16, 18" → [14, 16, 18]; what is no number stays text, for the schema to refuse. */
function readNumbers(text: string): (number | string)[] {
  return text
    .split(/[\s,;/]+/)
    .filter((word) => word !== '')
    .map((word) => (/^\d+$/.test(word) ? Number(word) : word));
}
function toProblem({ path, message, code }: z.core.$ZodIssue): { name: string[]; message: string } {
  const name = path.map(String);
  // The place within a list typed as one line is the line.
  const isList = name[0] === 'chainringTeeth' || name[0] === 'cogTeeth';
  const words = code === 'invalid_type' ? 'Write a number.' : message;
  return {
    name: isList ? [name[0]!] : name,
    message:
      code === 'invalid_value' && !isList
        ? 'Choose one.'
        : isList
          ? `Tooth counts separated by spaces: ${words}`
          : words,
  };
}
