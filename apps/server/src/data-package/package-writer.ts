import { createHash } from 'node:crypto';
import { Readable, Transform, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { ZipFile } from 'yazl';
import type { WrittenFile } from './package-descriptor.js';

type Pieces = AsyncIterable<Uint8Array | string>;
interface Planned {
  readonly path: string;
  readonly pieces: () => Pieces;
  readonly isPacked: boolean;
}

/** Writes a zip entry by entry as it is read from; no more than a piece of one entry is in memory. Knows sizes and hashes of what it wrote. */
export class PackageWriter {
  readonly written: WrittenFile[] = [];
  private readonly planned: Planned[] = [];

  get plannedCount(): number {
    return this.planned.length;
  }

  /** Entries are made when their turn comes, so that a later one may tell of those before. `isPacked`: JPEGs are already. */
  add(path: string, pieces: () => Pieces, isPacked = false): void {
    this.planned.push({ path, pieces, isPacked });
  }

  /** Fails as a piece does; a reader that leaves ends it, and so does the signal. */
  async writeTo(output: Writable, signal?: AbortSignal): Promise<void> {
    const zip = new ZipFile();
    let failure: unknown;
    for (const { path, pieces, isPacked } of this.planned)
      zip.addReadStreamLazy(path, { compress: !isPacked }, (callback) => {
        const source = Readable.from(pieces());
        const hashing = this.hashing(path);
        source.on('error', (error) => hashing.destroy(error));
        hashing.on('error', (error) => {
          failure ??= error;
          source.destroy();
          (zip.outputStream as Readable).destroy(error);
        });
        callback(null, source.pipe(hashing));
      });
    zip.end();
    try {
      await pipeline(zip.outputStream as Readable, output, { ...(signal && { signal }) });
    } catch (error) {
      throw failure ?? error;
    }
  }

  private hashing(path: string): Transform {
    const hash = createHash('sha256');
    let bytes = 0;
    return new Transform({
      transform: (chunk: Buffer | string, _encoding, done) => {
        const piece = typeof chunk === 'string' ? Buffer.from(chunk, 'utf8') : chunk;
        hash.update(piece);
        bytes += piece.length;
        done(null, piece);
      },
      flush: (done) => {
        this.written.push({ path, bytes, sha256: hash.digest('hex') });
        done();
      },
    });
  }
}

/** One line of a table, exact: nothing is put before what a spreadsheet might take for a formula. */
export function exactLine(cells: readonly (string | null)[]): string {
  return `${cells.map(exactCell).join(',')}\r\n`;
}
function exactCell(text: string | null): string {
  if (text === null) return '';
  return /[",\r\n]/.test(text) || text !== text.trim() ? `"${text.replaceAll('"', '""')}"` : text;
}

const ROWS_PER_PIECE = 200;
/** A table as CSV, some rows at a time. */
export async function* csvOf(
  names: readonly string[],
  rows: AsyncIterable<readonly (string | null)[]>,
): AsyncGenerator<string> {
  yield exactLine(names);
  let lines: string[] = [];
  for await (const row of rows) {
    lines.push(exactLine(row));
    if (lines.length < ROWS_PER_PIECE) continue;
    yield lines.join('');
    lines = [];
  }
  yield lines.join('');
}
