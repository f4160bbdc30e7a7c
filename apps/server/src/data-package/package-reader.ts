import { createHash } from 'node:crypto';
import { Readable, type Transform } from 'node:stream';
import Papa from 'papaparse';
import { CheckedZip, type ZipKind } from '../common/checked-zip.js';
import { DomainError } from '../common/domain-error.js';
import {
  DESCRIPTOR,
  descriptorSchema,
  FILES,
  FORMAT_VERSION,
  README,
  type Descriptor,
  type Resource,
} from './package-descriptor.js';

const MIB = 1024 * 1024;
const LIMITS = {
  descriptorBytes: 8 * MIB,
  /** Longest field of a table: the track of a course, the findings of a run. */
  fieldCharacters: 64 * MIB,
  /** One log, one photo. */
  fileBytes: 512 * MIB,
};

export function refuse(message: string): DomainError {
  return new DomainError('cannot-read', `${message} Nothing was stored.`);
}

const PACKAGE: ZipKind = { name: 'The package', entries: 500_000, refuse };

/** A zip that has been looked through: every entry is listed, no longer than it says, and has the hash it is said to have. */
export class PackageReader {
  private constructor(
    private readonly zip: CheckedZip,
    readonly descriptor: Descriptor,
    /** SHA-256 of files beside the tables, by path. */
    readonly files: ReadonlyMap<string, string>,
  ) {}

  /** Fails: `cannot-read`, with what is wrong and where. */
  static async open(path: string): Promise<PackageReader> {
    const zip = await CheckedZip.open(path, PACKAGE);
    try {
      const descriptor = await readDescriptor(zip);
      const files = await readFiles(zip, descriptor);
      await verify(zip, descriptor, files);
      return new PackageReader(zip, descriptor, files);
    } catch (error) {
      zip.close();
      throw error;
    }
  }

  close(): void {
    this.zip.close();
  }

  /** Resources that tables of the database come from. */
  get tables(): readonly Resource[] {
    return this.descriptor.resources.filter(({ isDerived, path }) => isDerived !== true && path.endsWith('.csv'));
  }

  /** Rows of a table with their line numbers, the header checked. */
  async *rows({ path, schema }: Resource): AsyncGenerator<{ line: number; cells: Record<string, string> }> {
    const names = schema?.fields.map(({ name }) => name) ?? [];
    let line = 0;
    for await (const cells of csvRows(await this.zip.stream(path))) {
      line++;
      if (line === 1) {
        if (cells.length !== names.length || cells.some((name, k) => name !== names[k]))
          throw refuse(`${path}: its header is not what ${DESCRIPTOR} says.`);
        continue;
      }
      if (cells.length !== names.length)
        throw refuse(`${path}, row ${line}: ${cells.length} cells where ${names.length} belong.`);
      yield { line, cells: Object.fromEntries(names.map((name, k) => [name, cells[k]!])) };
    }
    if (line === 0) throw refuse(`${path} is empty: its header is missing.`);
  }

  /** Bytes of a file that a row names. */
  async file(path: string): Promise<Buffer> {
    if (!this.zip.has(path) || !this.files.has(path))
      throw refuse(`The file ${path} is named in a table and is not in the package.`);
    return this.zip.bytes(path, LIMITS.fileBytes);
  }
}

async function readDescriptor(zip: CheckedZip): Promise<Descriptor> {
  if (!zip.has(DESCRIPTOR)) throw refuse(`There is no ${DESCRIPTOR} in it: this is no data package.`);
  let json: unknown;
  try {
    json = JSON.parse((await zip.bytes(DESCRIPTOR, LIMITS.descriptorBytes)).toString('utf8'));
  } catch (error) {
    if (error instanceof DomainError) throw error;
    throw refuse(`${DESCRIPTOR} is no JSON.`);
  }
  const version = (json as { ebrix?: { formatVersion?: unknown } } | null)?.ebrix?.formatVersion;
  if (typeof version === 'number' && version > FORMAT_VERSION)
    throw refuse(
      `The package is of format version ${version}; this version of Ebrix reads up to ${FORMAT_VERSION}. Update Ebrix first.`,
    );
  const read = descriptorSchema.safeParse(json);
  if (!read.success) {
    const [issue] = read.error.issues;
    throw refuse(`${DESCRIPTOR} is not one of Ebrix: ${issue!.path.join('.')}: ${issue!.message}`);
  }
  return read.data;
}

async function readFiles(zip: CheckedZip, { resources }: Descriptor): Promise<Map<string, string>> {
  const listed = new Set([DESCRIPTOR, README, FILES, ...resources.map(({ path }) => path)]);
  for (const { path } of resources) if (!zip.has(path)) throw refuse(`${path} is listed and is not in the package.`);
  const files = new Map<string, string>();
  if (zip.has(FILES)) {
    let line = 0;
    for await (const [path = '', bytes = '', sha256 = ''] of csvRows(await zip.stream(FILES))) {
      if (++line === 1) continue;
      const size = zip.sizeOf(path);
      if (size === undefined) throw refuse(`${path.slice(0, 80)} is listed in ${FILES} and is not in the package.`);
      if (size !== Number(bytes)) throw refuse(`${path} is not as long as ${FILES} says.`);
      files.set(path, sha256);
    }
  }
  for (const name of zip.names())
    if (!listed.has(name) && !files.has(name)) throw refuse(`The package holds ${name}, which it does not list.`);
  return files;
}

async function verify(zip: CheckedZip, { resources }: Descriptor, files: ReadonlyMap<string, string>): Promise<void> {
  const wanted: (readonly [path: string, sha256: string])[] = [
    ...resources.map(({ path, hash }) => [path, hash.slice('sha256:'.length)] as const),
    ...files,
  ];
  for (const [path, sha256] of wanted) {
    const hash = createHash('sha256');
    try {
      for await (const piece of await zip.stream(path)) hash.update(piece as Buffer);
    } catch {
      throw refuse(`${path} is damaged.`);
    }
    if (hash.digest('hex') !== sha256) throw refuse(`${path} is not what was written: its SHA-256 differs.`);
  }
}

async function* csvRows(source: Readable): AsyncGenerator<string[]> {
  const parser = Papa.parse(Papa.NODE_STREAM_INPUT, { header: false, skipEmptyLines: true }) as unknown as Transform;
  source.setEncoding('utf8');
  source.on('error', (error) => parser.destroy(error));
  for await (const row of source.pipe(parser)) yield row as string[];
}
