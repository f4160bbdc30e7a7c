import { createHash } from 'node:crypto';
import { Readable, type Transform } from 'node:stream';
import Papa from 'papaparse';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
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
  entries: 500_000,
  descriptorBytes: 8 * MIB,
  /** Nothing honest packs tighter than this beyond the first megabytes. */
  ratio: 200,
  ratioFrom: 64 * MIB,
  /** Longest field of a table: the track of a course, the findings of a run. */
  fieldCharacters: 64 * MIB,
  /** One log, one photo. */
  fileBytes: 512 * MIB,
};

export function refuse(message: string): DomainError {
  return new DomainError('cannot-read', `${message} Nothing was stored.`);
}

/** A zip that has been looked through: every entry is listed, no longer than it says, and has the hash it is said to have. */
export class PackageReader {
  private constructor(
    private readonly zip: ZipFile,
    private readonly entries: ReadonlyMap<string, Entry>,
    readonly descriptor: Descriptor,
    /** SHA-256 of files beside the tables, by path. */
    readonly files: ReadonlyMap<string, string>,
  ) {}

  /** Fails: `cannot-read`, with what is wrong and where. */
  static async open(path: string): Promise<PackageReader> {
    const zip = await openPromise(path, { lazyEntries: true, autoClose: false, strictFileNames: true }).catch(() => {
      throw refuse('This is not a zip file, or it is cut off.');
    });
    try {
      const entries = await listEntries(zip);
      const descriptor = await readDescriptor(zip, entries);
      const files = await readFiles(zip, entries, descriptor);
      await verify(zip, entries, descriptor, files);
      return new PackageReader(zip, entries, descriptor, files);
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
    for await (const cells of csvRows(await streamOf(this.zip, this.entries.get(path)!))) {
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
    const entry = this.entries.get(path);
    if (!entry || !this.files.has(path))
      throw refuse(`The file ${path} is named in a table and is not in the package.`);
    return bytesOf(this.zip, entry, LIMITS.fileBytes);
  }
}

async function listEntries(zip: ZipFile): Promise<Map<string, Entry>> {
  const entries = new Map<string, Entry>();
  if (zip.entryCount > LIMITS.entries) throw refuse('The package holds more entries than a package has.');
  try {
    for await (const entry of zip.eachEntry()) {
      const { fileName: name, uncompressedSize: size, compressedSize: packed } = entry;
      // The zip reader refuses absolute paths and those that climb; a package has plain names only.
      if (!/^[A-Za-z0-9][A-Za-z0-9._-]*(\/[A-Za-z0-9][A-Za-z0-9._-]*)?$/.test(name))
        throw refuse(`The package holds an entry with the name “${name.slice(0, 80)}”, which no package has.`);
      if (entries.has(name)) throw refuse(`The package holds ${name} twice.`);
      if (size > LIMITS.ratioFrom && size > LIMITS.ratio * packed)
        throw refuse(`${name} unpacks to ${Math.round(size / MIB)} MiB, far more than it can hold.`);
      if (entry.isEncrypted()) throw refuse(`${name} is encrypted.`);
      entries.set(name, entry);
    }
    return entries;
  } catch (error) {
    if (error instanceof DomainError) throw error;
    throw refuse(`The zip file is damaged or hostile: ${error instanceof Error ? error.message : 'unreadable'}.`);
  }
}

async function readDescriptor(zip: ZipFile, entries: ReadonlyMap<string, Entry>): Promise<Descriptor> {
  const entry = entries.get(DESCRIPTOR);
  if (!entry) throw refuse(`There is no ${DESCRIPTOR} in it: this is no data package.`);
  let json: unknown;
  try {
    json = JSON.parse((await bytesOf(zip, entry, LIMITS.descriptorBytes)).toString('utf8'));
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

async function readFiles(
  zip: ZipFile,
  entries: ReadonlyMap<string, Entry>,
  { resources }: Descriptor,
): Promise<Map<string, string>> {
  const listed = new Set([DESCRIPTOR, README, FILES, ...resources.map(({ path }) => path)]);
  for (const { path } of resources)
    if (!entries.has(path)) throw refuse(`${path} is listed and is not in the package.`);
  const files = new Map<string, string>();
  const entry = entries.get(FILES);
  if (entry) {
    let line = 0;
    for await (const [path = '', bytes = '', sha256 = ''] of csvRows(await streamOf(zip, entry))) {
      if (++line === 1) continue;
      const found = entries.get(path);
      if (!found) throw refuse(`${path.slice(0, 80)} is listed in ${FILES} and is not in the package.`);
      if (found.uncompressedSize !== Number(bytes)) throw refuse(`${path} is not as long as ${FILES} says.`);
      files.set(path, sha256);
    }
  }
  for (const name of entries.keys())
    if (!listed.has(name) && !files.has(name)) throw refuse(`The package holds ${name}, which it does not list.`);
  return files;
}

async function verify(
  zip: ZipFile,
  entries: ReadonlyMap<string, Entry>,
  { resources }: Descriptor,
  files: ReadonlyMap<string, string>,
): Promise<void> {
  const wanted: (readonly [path: string, sha256: string])[] = [
    ...resources.map(({ path, hash }) => [path, hash.slice('sha256:'.length)] as const),
    ...files,
  ];
  for (const [path, sha256] of wanted) {
    const hash = createHash('sha256');
    try {
      for await (const piece of await streamOf(zip, entries.get(path)!)) hash.update(piece as Buffer);
    } catch {
      throw refuse(`${path} is damaged.`);
    }
    if (hash.digest('hex') !== sha256) throw refuse(`${path} is not what was written: its SHA-256 differs.`);
  }
}

function streamOf(zip: ZipFile, entry: Entry): Promise<Readable> {
  return new Promise((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))),
  );
}

async function bytesOf(zip: ZipFile, entry: Entry, limit: number): Promise<Buffer> {
  if (entry.uncompressedSize > limit) throw refuse(`${entry.fileName} is longer than it may be.`);
  const pieces: Buffer[] = [];
  for await (const piece of await streamOf(zip, entry)) pieces.push(piece as Buffer);
  return Buffer.concat(pieces);
}

async function* csvRows(source: Readable): AsyncGenerator<string[]> {
  const parser = Papa.parse(Papa.NODE_STREAM_INPUT, { header: false, skipEmptyLines: true }) as unknown as Transform;
  source.setEncoding('utf8');
  source.on('error', (error) => parser.destroy(error));
  for await (const row of source.pipe(parser)) yield row as string[];
}
