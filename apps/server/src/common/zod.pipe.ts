import type { PipeTransform } from '@nestjs/common';
import { z } from 'zod';
import { DomainError } from './domain-error.js';

/** Parses at the edge; inside, the type is trusted. */
export class ZodPipe<Schema extends z.ZodType> implements PipeTransform<unknown, z.output<Schema>> {
  constructor(private readonly schema: Schema) {}
  transform(value: unknown): z.output<Schema> {
    return parseOrRefuse(this.schema, value);
  }
}

export function parseOrRefuse<Schema extends z.ZodType>(schema: Schema, value: unknown): z.output<Schema> {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const issues = parsed.error.issues.map(({ path, message }) => ({ path: path.join('.'), message }));
  throw new DomainError(
    'invalid-request',
    issues.map(({ path, message }) => (path ? `${path}: ${message}` : message)).join(' '),
    { issues },
  );
}

/** JSON in a form field. */
export function parseJsonField(name: string, text: string | undefined): unknown {
  if (text === undefined || text.trim() === '') return undefined;
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new DomainError('invalid-request', `The field "${name}" is not valid JSON.`);
  }
}
