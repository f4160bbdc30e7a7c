import Papa from 'papaparse';
import { z } from 'zod';
import { partInputSchemas, type Part, type PartInput, type PartKind } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';

/** Lists of numbers are written with blanks between them; what is nested deeper stays JSON in its cell. */
type CellKind = 'text' | 'number' | 'flag' | 'numbers' | 'words' | 'json';
interface CsvColumn {
  readonly name: string;
  readonly path: readonly string[];
  readonly kind: CellKind;
}
const MAX_ROWS = 2000;
/** A cell that begins so is run as a formula by spreadsheets; a leading apostrophe keeps it text. */
const FORMULA_START = /^'(?=[=+\-@\t\r])/;

/** Columns of a kind of part, from its schema: `price.amount` is the amount within the price. */
export function csvColumns(kind: PartKind): readonly CsvColumn[] {
  return columnsOf(partInputSchemas[kind], []);
}

function columnsOf(schema: z.ZodObject, above: readonly string[]): CsvColumn[] {
  return Object.entries(schema.shape).flatMap(([field, type]): CsvColumn[] => {
    const inner = unwrap(type as z.ZodType);
    const path = [...above, field];
    if (inner instanceof z.ZodObject) return columnsOf(inner, path);
    return [{ name: path.join('.'), path, kind: kindOf(inner) }];
  });
}
function unwrap(type: z.ZodType): z.ZodType {
  return type instanceof z.ZodDefault || type instanceof z.ZodNullable
    ? unwrap((type as z.ZodDefault<z.ZodType>).unwrap())
    : type;
}
function kindOf(type: z.ZodType): CellKind {
  if (type instanceof z.ZodNumber) return 'number';
  if (type instanceof z.ZodBoolean) return 'flag';
  if (type instanceof z.ZodArray) {
    const element = unwrap(type.element as z.ZodType);
    if (element instanceof z.ZodNumber) return 'numbers';
    return element instanceof z.ZodObject ? 'json' : 'words';
  }
  return 'text';
}

export function toCsv<K extends PartKind>(kind: K, parts: readonly Part<K>[]): string {
  const columns = csvColumns(kind);
  const rows = parts.map((part) => columns.map((column) => cellOf(column, valueAt(part, column.path))));
  return Papa.unparse(
    { fields: columns.map(({ name }) => name), data: rows },
    { escapeFormulae: true, newline: '\r\n' },
  );
}
function valueAt(value: unknown, path: readonly string[]): unknown {
  return path.reduce((at: unknown, field) => (at as Record<string, unknown> | null | undefined)?.[field], value);
}
function cellOf({ kind }: CsvColumn, value: unknown): string | number {
  if (value === null || value === undefined) return '';
  if (kind === 'numbers' || kind === 'words') return (value as unknown[]).join(' ');
  if (kind === 'json') return (value as unknown[]).length === 0 ? '' : JSON.stringify(value);
  return typeof value === 'string' || typeof value === 'number' ? value : value === true ? 'yes' : 'no';
}

export interface CsvRow<K extends PartKind> {
  readonly line: number;
  readonly input: PartInput<K>;
}

/**
 * Reads parts from a CSV with the columns of `csvColumns`, in any order; columns may be left out. Comma or semicolon,
 * decimal point or comma. Fails: `cannot-read` with every row and column that is wrong; nothing is taken then.
 */
export function fromCsv<K extends PartKind>(kind: K, text: string): CsvRow<K>[] {
  const known = new Map(csvColumns(kind).map((column) => [column.name, column]));
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), { skipEmptyLines: 'greedy' });
  const problems: { line: number; message: string }[] = errors
    .filter(({ type }) => type === 'Quotes')
    .map(({ row, message }) => ({ line: (row ?? 0) + 1, message }));
  const [header = [], ...rows] = data;
  const names = header.map((name) => name.trim());
  const unknown = names.filter((name) => !known.has(name));
  if (!names.includes('name')) problems.push({ line: 1, message: 'There is no column "name".' });
  if (unknown.length > 0)
    problems.push({
      line: 1,
      message: `Unknown columns: ${unknown.slice(0, 8).join(', ')}. Export once to see which there are.`,
    });
  if (new Set(names).size !== names.length) problems.push({ line: 1, message: 'A column appears twice.' });
  if (rows.length > MAX_ROWS) problems.push({ line: MAX_ROWS + 2, message: `At most ${MAX_ROWS} rows.` });
  if (problems.length > 0) throw refused(problems);

  const found: CsvRow<K>[] = [];
  rows.forEach((cells, k) => {
    const line = k + 2;
    const draft: Record<string, unknown> = {};
    names.forEach((name, c) => {
      const cell = (cells[c] ?? '').trim();
      if (cell !== '') put(draft, known.get(name)!.path, parseCell(known.get(name)!.kind, cell));
    });
    fillNested(kind, draft);
    const parsed = partInputSchemas[kind].safeParse(draft);
    if (parsed.success) found.push({ line, input: parsed.data as PartInput<K> });
    else
      for (const { path, message } of parsed.error.issues)
        problems.push({ line, message: `${path.join('.')}: ${message}` });
  });
  const seen = new Set<string>();
  for (const { line, input } of found) {
    const key = input.name.toLowerCase();
    if (seen.has(key)) problems.push({ line, message: `name: "${input.name}" appears twice.` });
    seen.add(key);
  }
  if (problems.length > 0) throw refused(problems);
  return found;
}

/** A nested thing of which some fields are given has the others unknown. */
function fillNested(kind: PartKind, draft: Record<string, unknown>): void {
  for (const [field, type] of Object.entries(partInputSchemas[kind].shape)) {
    const inner = unwrap(type as z.ZodType);
    const given = draft[field];
    if (!(inner instanceof z.ZodObject) || typeof given !== 'object' || given === null) continue;
    for (const own of Object.keys(inner.shape)) if (!(own in given)) (given as Record<string, unknown>)[own] = null;
  }
}
function put(draft: Record<string, unknown>, path: readonly string[], value: unknown): void {
  const [field, ...rest] = path as [string, ...string[]];
  if (rest.length === 0) draft[field] = value;
  else put((draft[field] ??= {}) as Record<string, unknown>, rest, value);
}
function parseCell(kind: CellKind, cell: string): unknown {
  switch (kind) {
    case 'number':
      return toNumber(cell);
    case 'flag':
      return /^(yes|true|1)$/i.test(cell) ? true : /^(no|false|0)$/i.test(cell) ? false : cell;
    case 'numbers':
      return cell.split(/[\s;]+/).map(toNumber);
    case 'words':
      return cell.split(/[\s;]+/);
    case 'json':
      try {
        return JSON.parse(cell) as unknown;
      } catch {
        return cell;
      }
    case 'text':
      return cell.replace(FORMULA_START, '');
  }
}
/** A cell that is no number stays text, so that the schema says what is wrong with it. */
function toNumber(cell: string): number | string {
  const value = Number(cell.replace(/^'/, '').replace(/^(-?\d*),(\d+)$/, '$1.$2'));
  return Number.isFinite(value) ? value : cell;
}

function refused(problems: readonly { line: number; message: string }[]): DomainError {
  const shown = problems.slice(0, 5).map(({ line, message }) => `Line ${line}: ${message}`);
  const more = problems.length > shown.length ? ` And ${problems.length - shown.length} more.` : '';
  return new DomainError('cannot-read', `${shown.join(' ')}${more} Nothing was stored.`, {
    problems: problems.slice(0, 100),
  });
}
