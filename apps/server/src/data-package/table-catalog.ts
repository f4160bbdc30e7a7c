import type { Knex } from 'knex';
import { BYTES_IN, LEFT_OUT, TABLE_WORDS } from './table-words.js';

export type CellType =
  | 'array'
  | 'boolean'
  | 'date'
  | 'datetime'
  | 'file'
  | 'integer'
  | 'json'
  | 'number'
  | 'string'
  | 'uuid';

export interface Column {
  readonly name: string;
  readonly type: CellType;
  readonly isRequired: boolean;
  readonly hasDefault: boolean;
}
export interface Reference {
  readonly columns: readonly string[];
  readonly table: string;
  readonly target: readonly string[];
  /** Rows go with what they refer to. */
  readonly isOwned: boolean;
}
export interface Table {
  readonly name: string;
  readonly columns: readonly Column[];
  /** Empty where rows have no identity outside this installation. */
  readonly key: readonly string[];
  readonly references: readonly Reference[];
}

const TYPES: Readonly<Record<string, CellType>> = {
  uuid: 'uuid',
  text: 'string',
  int4: 'integer',
  int2: 'integer',
  int8: 'integer',
  float8: 'number',
  bool: 'boolean',
  jsonb: 'json',
  timestamptz: 'datetime',
  date: 'date',
  bytea: 'file',
  _text: 'array',
};

/** The tables that go into packages as the database has them now, referred ones before those that refer to them. */
export async function readCatalog(database: Knex): Promise<Table[]> {
  const { rows: columns } = await database.raw<{
    rows: { table: string; name: string; type: string; required: boolean; fallback: boolean; generated: boolean }[];
  }>(
    `select c.relname as table, a.attname as name, t.typname as type, a.attnotnull as required,
       a.atthasdef as fallback, a.attidentity <> '' or a.attgenerated <> '' as generated
     from pg_attribute a join pg_class c on c.oid = a.attrelid join pg_type t on t.oid = a.atttypid
     where c.relnamespace = 'public'::regnamespace and c.relkind = 'r' and a.attnum > 0 and not a.attisdropped
     order by c.relname, a.attnum`,
  );
  const { rows: constraints } = await database.raw<{
    rows: { table: string; kind: 'f' | 'p'; columns: string[]; target: string | null; others: string[]; del: string }[];
  }>(
    `select c.relname as table, k.contype as kind, f.relname as target, k.confdeltype as del,
       (select array_agg(a.attname::text order by o) from unnest(k.conkey) with ordinality u(n, o)
          join pg_attribute a on a.attrelid = k.conrelid and a.attnum = u.n) as columns,
       coalesce((select array_agg(a.attname::text order by o) from unnest(k.confkey) with ordinality u(n, o)
          join pg_attribute a on a.attrelid = k.confrelid and a.attnum = u.n), '{}') as others
     from pg_constraint k join pg_class c on c.oid = k.conrelid left join pg_class f on f.oid = k.confrelid
     where c.relnamespace = 'public'::regnamespace and k.contype in ('p', 'f')`,
  );
  const names = [...new Set(columns.map(({ table }) => table))].filter((name) => !LEFT_OUT.includes(name));
  const tables = names.map((name): Table => {
    if (TABLE_WORDS[name] === undefined) throw new Error(`The table ${name} is not described for data packages.`);
    const own = columns.filter((column) => column.table === name);
    const generated = new Set(own.filter((column) => column.generated).map((column) => column.name));
    const key = constraints.find(({ table, kind }) => table === name && kind === 'p')?.columns ?? [];
    return {
      name,
      columns: own
        .filter((column) => !column.generated)
        .map(({ name: column, type, required, fallback }) => {
          const cell = TYPES[type];
          if (!cell) throw new Error(`Data packages do not know the type ${type} of ${name}.${column}.`);
          return { name: column, type: cell, isRequired: required, hasDefault: fallback };
        }),
      key: key.some((column) => generated.has(column)) ? [] : key,
      references: constraints
        .filter(
          ({ table, kind, target }) => table === name && kind === 'f' && target !== null && names.includes(target),
        )
        .map(({ columns: from, target, others, del }) => ({
          columns: from,
          table: target!,
          target: others,
          isOwned: del === 'c',
        })),
    };
  });
  return inOrder(tables);
}

function inOrder(tables: readonly Table[]): Table[] {
  const sorted: Table[] = [];
  const visit = (table: Table): void => {
    if (sorted.includes(table)) return;
    for (const { table: target } of table.references) {
      const other = tables.find(({ name }) => name === target);
      if (other && other !== table) visit(other);
    }
    sorted.push(table);
  };
  for (const table of tables) visit(table);
  return sorted;
}

/** Files that a table's rows bring with them. */
export function fileColumnOf(table: string): { readonly column: string; readonly folder: string } | undefined {
  return BYTES_IN[table];
}

const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`;

/** A column as the text that stands in a package: exact, the same whatever the session's time zone. */
export function textOf({ name, type }: Column): string {
  const column = quoted(name);
  switch (type) {
    case 'datetime':
      return `to_char(${column} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as ${column}`;
    case 'array':
      return `to_json(${column})::text as ${column}`;
    case 'boolean':
      return `case ${column} when true then 'true' when false then 'false' end as ${column}`;
    case 'file':
      return `null as ${column}`;
    default:
      return `${column}::text as ${column}`;
  }
}

/** A binding for a column, from that text. */
export function valueOf({ type }: Column): string {
  switch (type) {
    case 'uuid':
      return '?::uuid';
    case 'integer':
      return '?::bigint';
    case 'number':
      return '?::double precision';
    case 'boolean':
      return '?::boolean';
    case 'json':
      return '?::jsonb';
    case 'datetime':
      return '?::timestamptz';
    case 'date':
      return '?::date';
    case 'array':
      return `(select coalesce(array_agg(value), '{}') from jsonb_array_elements_text(?::jsonb))`;
    case 'file':
    case 'string':
      return '?';
  }
}

/** A condition that an index can serve: these columns are one of as many keys. Bindings: the keys' values, one after the other. */
export function isOneOf(table: Table, by: readonly string[], keys: number): string {
  const columns = by.map((name) => table.columns.find((column) => column.name === name)!);
  const place = `(${columns.map(valueOf).join(', ')})`;
  return `(${by.map(quoted).join(', ')}) in (${Array.from({ length: keys }, () => place).join(', ')})`;
}

export { quoted };
