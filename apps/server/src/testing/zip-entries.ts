import { fromBufferPromise } from 'yauzl';

/** Entries of a zip by name. */
export async function entriesOf(bytes: Buffer): Promise<Map<string, Buffer>> {
  const zip = await fromBufferPromise(bytes, { autoClose: false });
  const entries = new Map<string, Buffer>();
  for await (const entry of zip.eachEntry()) {
    const pieces: Buffer[] = [];
    for await (const piece of await zip.openReadStreamPromise(entry)) pieces.push(piece as Buffer);
    entries.set(entry.fileName, Buffer.concat(pieces));
  }
  zip.close();
  return entries;
}
