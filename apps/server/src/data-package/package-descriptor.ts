import { z } from 'zod';
import { fileColumnOf, type CellType, type Column, type Table } from './table-catalog.js';
import { TABLE_WORDS, unitOfColumn } from './table-words.js';

/** The profile of the Frictionless Data Package standard, version 2. */
export const PROFILE = 'https://datapackage.org/profiles/2.0/datapackage.json';
export const FORMAT = 'ebrix-data-package';
export const FORMAT_VERSION = 1;
export const DESCRIPTOR = 'datapackage.json';
export const README = 'README.md';
export const FILES = 'data/files.csv';
export const tablePath = (table: string): string => `data/${table}.csv`;

const hash = z.string().regex(/^sha256:[0-9a-f]{64}$/, 'A hash is sha256: and 64 hexadecimal digits.');
const fieldSchema = z.looseObject({ name: z.string().min(1).max(80), type: z.string() });
const resourceSchema = z.looseObject({
  name: z.string().regex(/^[a-z0-9._-]+$/, 'A resource’s name is of small letters, digits, dots and dashes.'),
  path: z.string().min(1).max(200),
  bytes: z.int().min(0),
  hash,
  schema: z.looseObject({ fields: z.array(fieldSchema).max(200) }).optional(),
  isDerived: z.boolean().optional(),
});
/** What an importer needs of a descriptor; the rest is for others. */
export const descriptorSchema = z.looseObject({
  name: z.string(),
  created: z.iso.datetime(),
  resources: z.array(resourceSchema).max(500),
  ebrix: z.strictObject({
    format: z.literal(FORMAT),
    formatVersion: z.int().min(1),
    version: z.string(),
    /** The last change of the database that the package knows of. */
    schema: z.string(),
    of: z.string(),
  }),
});
export type Descriptor = z.output<typeof descriptorSchema>;
export type Resource = z.output<typeof resourceSchema>;

/** A resource as it was written. */
export interface WrittenFile {
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
}

const FIELD_TYPES: Readonly<Record<CellType, { type: string; format?: string }>> = {
  uuid: { type: 'string', format: 'uuid' },
  string: { type: 'string' },
  integer: { type: 'integer' },
  number: { type: 'number' },
  boolean: { type: 'boolean' },
  json: { type: 'any' },
  array: { type: 'array' },
  datetime: { type: 'datetime' },
  date: { type: 'date' },
  file: { type: 'string' },
};

function fieldOf(table: string, { name, type, isRequired }: Column): object {
  const unit = type === 'number' || type === 'integer' ? unitOfColumn(name) : undefined;
  const file = type === 'file' ? `Path of the file in this package, in ${fileColumnOf(table)!.folder}/.` : undefined;
  return {
    name,
    ...FIELD_TYPES[type],
    ...(unit && { unit }),
    ...((file ?? unit) && { description: file ?? `In ${unit!}.` }),
    // An empty text is a text; an empty cell of anything else is not known.
    ...(isRequired && type !== 'string' && { constraints: { required: true } }),
  };
}

export function tableResource(table: Table, { bytes, sha256, path }: WrittenFile): object {
  return {
    name: table.name.replaceAll('_', '-'),
    type: 'table',
    title: table.name.replaceAll('_', ' '),
    description: TABLE_WORDS[table.name],
    path,
    format: 'csv',
    mediatype: 'text/csv',
    encoding: 'utf-8',
    bytes,
    hash: `sha256:${sha256}`,
    schema: {
      fields: table.columns.map((column) => fieldOf(table.name, column)),
      missingValues: [''],
      ...(table.key.length > 0 && { primaryKey: table.key }),
      ...(table.references.length > 0 && {
        foreignKeys: table.references.map(({ columns, table: target, target: others }) => ({
          fields: columns,
          reference: { resource: target === table.name ? '' : target.replaceAll('_', '-'), fields: others },
        })),
      }),
    },
  };
}

/** A table that is made of the others, for those who do not want to put it together. */
export function derivedResource(
  name: string,
  description: string,
  fields: readonly { readonly name: string; readonly type: string; readonly unit?: string }[],
  { bytes, sha256, path }: WrittenFile,
): object {
  return {
    name,
    type: 'table',
    description,
    path,
    format: 'csv',
    mediatype: 'text/csv',
    encoding: 'utf-8',
    bytes,
    hash: `sha256:${sha256}`,
    isDerived: true,
    schema: { fields, missingValues: [''] },
  };
}

export function descriptorText(
  resources: readonly object[],
  { version, schema, of, created }: { version: string; schema: string; of: string; created: Date },
): string {
  return `${JSON.stringify(
    {
      $schema: PROFILE,
      name: 'ebrix-data',
      title: `Ebrix: ${of}`,
      description: 'Setups, runs, raw logs and figures of conversion kits under test. README.md says how to read it.',
      created: created.toISOString(),
      ebrix: { format: FORMAT, formatVersion: FORMAT_VERSION, version, schema, of },
      resources,
    },
    null,
    2,
  )}\n`;
}

export const README_TEXT = `# An Ebrix data package

Setups, runs, raw logs and figures of electric conversion kits under test, after the Frictionless Data Package standard, version 2.

- \`datapackage.json\` describes every table: its columns with types and units, keys, and what refers to what.
- \`data/*.csv\`: UTF-8, comma, a header row. An empty cell is "not known" (in a text it is an empty text). Times are UTC.
- \`data/files.csv\` lists every other file with its size and SHA-256.
- \`logs/\`: raw logs, byte for byte as they came; the table \`log\` says how their columns were read.
- \`photos/\`: photos as JPEG. \`channels/\`, where asked for: cleaned channels of each log as CSV or Parquet, in field units.
- \`derived/\`: runs with their figures side by side, and verdicts of trials; made of the rest.

To begin with: \`run\` joins \`log\`, \`setup_revision\`, \`course\` and \`outing\`; \`figure\` holds one row a run and figure, with its
standard uncertainty, 95 % interval and how it came about. Runs with an open row in \`run_exclusion\` (no \`undone_at\`) do not count.

Cells may begin with = or +: a spreadsheet would take them for formulas. Read the tables as text, or use the XLSX export.
`;
