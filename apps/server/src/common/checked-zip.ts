import type { Readable } from 'node:stream';
import crc32 from 'buffer-crc32';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import { DomainError } from './domain-error.js';

const MIB = 1024 * 1024;
/** Nothing honest packs tighter than this beyond the first megabytes. */
const MOST_RATIO = 200;
const RATIO_FROM = 64 * MIB;

/** How a kind of zip is spoken of where it is refused, and how much of it there may be. */
export interface ZipKind {
  /** “The package”. */
  readonly name: string;
  readonly entries: number;
  readonly refuse: (message: string) => DomainError;
}

/** A zip of which every entry was listed before anything is unpacked: plain names, each once, none that swells beyond reason. */
export class CheckedZip {
  private constructor(
    private readonly zip: ZipFile,
    private readonly kind: ZipKind,
    private readonly entries: ReadonlyMap<string, Entry>,
  ) {}

  /** Fails as its kind says, with what is wrong. */
  static async open(path: string, kind: ZipKind): Promise<CheckedZip> {
    const zip = await openPromise(path, { lazyEntries: true, autoClose: false, strictFileNames: true }).catch(() => {
      throw kind.refuse('This is not a zip file, or it is cut off.');
    });
    try {
      return new CheckedZip(zip, kind, await listEntries(zip, kind));
    } catch (error) {
      zip.close();
      throw error;
    }
  }

  close(): void {
    this.zip.close();
  }

  names(): Iterable<string> {
    return this.entries.keys();
  }
  has(name: string): boolean {
    return this.entries.has(name);
  }
  /** Bytes of an entry once unpacked, as the zip says. */
  sizeOf(name: string): number | undefined {
    return this.entries.get(name)?.uncompressedSize;
  }

  /** The unpacked bytes as they come. Fails where the entry is missing or cannot be opened. */
  stream(name: string): Promise<Readable> {
    return new Promise((resolve, reject) =>
      this.zip.openReadStream(this.entry(name), (error, stream) => (error ? reject(error) : resolve(stream))),
    );
  }

  /** All of an entry, as it was packed: its check sum agrees. */
  async bytes(name: string, limit: number): Promise<Buffer> {
    if (this.entry(name).uncompressedSize > limit) throw this.kind.refuse(`${name} is longer than it may be.`);
    const pieces: Buffer[] = [];
    for await (const piece of this.checked(name)) pieces.push(piece);
    return Buffer.concat(pieces);
  }

  /** Goes through an entry once without keeping it, so that what is worked off as it comes is known to be whole before its first line counts. */
  async requireWhole(name: string): Promise<void> {
    const pieces = this.checked(name);
    while ((await pieces.next()).done !== true);
  }

  /** Half of all single bits that turn in packed text change a digit of it, and nothing but the check sum knows. */
  private async *checked(name: string): AsyncGenerator<Buffer> {
    const { crc32: wanted } = this.entry(name);
    let sum: number | undefined;
    try {
      for await (const piece of await this.stream(name)) {
        sum = crc32.unsigned(piece as Buffer, sum);
        yield piece as Buffer;
      }
    } catch (error) {
      throw error instanceof DomainError ? error : this.kind.refuse(`${name} is damaged.`);
    }
    if ((sum ?? 0) !== wanted) throw this.kind.refuse(`${name} is damaged.`);
  }

  private entry(name: string): Entry {
    const entry = this.entries.get(name);
    if (!entry) throw this.kind.refuse(`${name} is not in it.`);
    return entry;
  }
}

async function listEntries(zip: ZipFile, { name: what, entries: most, refuse }: ZipKind): Promise<Map<string, Entry>> {
  const entries = new Map<string, Entry>();
  if (zip.entryCount > most) throw refuse(`${what} holds more entries than it can.`);
  try {
    for await (const entry of zip.eachEntry()) {
      const { fileName: name, uncompressedSize: size, compressedSize: packed } = entry;
      // The zip reader refuses absolute paths and those that climb; ours have plain names only.
      if (!/^[A-Za-z0-9][A-Za-z0-9._-]*(\/[A-Za-z0-9][A-Za-z0-9._-]*)?$/.test(name))
        throw refuse(`${what} holds an entry with the name “${name.slice(0, 80)}”, which it cannot have.`);
      if (entries.has(name)) throw refuse(`${what} holds ${name} twice.`);
      if (size > RATIO_FROM && size > MOST_RATIO * packed)
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
