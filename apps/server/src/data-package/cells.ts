import { z } from 'zod';
import type { Column } from './table-catalog.js';

const SCHEMAS: Partial<Record<Column['type'], z.ZodType>> = {
  uuid: z.guid(),
  integer: z.string().regex(/^-?\d{1,18}$/),
  number: z.string().regex(/^(-?\d+(\.\d+)?(e[+-]?\d+)?|NaN|-?Infinity)$/i),
  boolean: z.enum(['true', 'false']),
  datetime: z.iso.datetime({ precision: 6 }),
  date: z.iso.date(),
};

/** A cell as it goes into the database; null is "not known". Undefined: it is no such thing. */
export function readCell({ type, isRequired }: Column, text: string): string | null | undefined {
  if (text === '' && !(type === 'string' && isRequired)) return isRequired ? undefined : null;
  if (type === 'json' || type === 'array') {
    try {
      const value: unknown = JSON.parse(text);
      return type === 'array' && !(Array.isArray(value) && value.every((one) => typeof one === 'string'))
        ? undefined
        : text;
    } catch {
      return undefined;
    }
  }
  return SCHEMAS[type]?.safeParse(text).success === false ? undefined : text;
}
