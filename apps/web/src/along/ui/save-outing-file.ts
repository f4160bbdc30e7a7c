import type { OutingZip } from '@ebrix/contract';
import { channelsOf } from '../log/phone-log.js';
import { waiting } from '../send/send-rides.js';
import { asInput } from '../store/carried-ride.js';
import type { PhoneStore } from '../store/phone-store.js';

/** Seconds of a log that are packed before the page gets its turn. */
const SECONDS_AT_ONCE = 300;

/** All rides that wait, with their lines, and all photos, as one zip that Ebrix takes in later. Packed as it is read: no log is held as a whole. */
export async function outingFile(store: PhoneStore, nowMs = Date.now()): Promise<Blob> {
  const { strToU8, Zip, ZipDeflate, ZipPassThrough } = await import('fflate');
  const pieces: Uint8Array<ArrayBuffer>[] = [];
  let problem: Error | undefined;
  const zip = new Zip((error, piece) => {
    if (error) problem = error;
    else pieces.push(piece);
  });
  const rides = waiting(await store.rides());
  const photos = await store.photos();
  const head: OutingZip = {
    format: 'ebrix-along',
    formatVersion: 2,
    title: titleOf(rides, photos.length),
    phone: (await store.setting('phone')) ?? 'Phone',
    rides: await Promise.all(
      rides.map(async (ride) => {
        const hasLines = (await store.nextLine(ride.id)) > 0;
        const log = hasLines ? { channels: [...channelsOf(ride)], units: {} } : null;
        return { id: ride.id, ride: asInput(ride, hasLines, nowMs), log };
      }),
    ),
    photos: photos.map(({ id, setupId, caption }) => ({ id, setupId, caption })),
  };
  const about = new ZipDeflate('outing.json', { level: 6 });
  zip.add(about);
  about.push(strToU8(JSON.stringify(head)), true);
  for (const { id, log } of head.rides) {
    if (!log) continue;
    const entry = new ZipDeflate(`log/${id}.jsonl`, { level: 3 });
    zip.add(entry);
    for (let next = 0; ;) {
      const chunks = await store.chunks(id, next, SECONDS_AT_ONCE);
      const last = chunks.at(-1);
      if (!last) break;
      const lines = chunks.flatMap((chunk) => chunk.lines).map((line) => `${JSON.stringify(line)}\n`);
      entry.push(strToU8(lines.join('')));
      next = last.fromN + last.lines.length;
    }
    entry.push(new Uint8Array(), true);
  }
  for (const { id, bytes } of photos) {
    // Packed already, by what made it a picture.
    const entry = new ZipPassThrough(`photo/${id}`);
    zip.add(entry);
    entry.push(new Uint8Array(bytes), true);
  }
  zip.end();
  if (problem) throw problem;
  return new Blob(pieces, { type: 'application/zip' });
}

function titleOf(rides: readonly { readonly createdAt: string }[], photos: number): string {
  const [first] = rides;
  if (!first) return photos > 0 ? 'Photos' : 'No rides';
  return `${rides.length} rides of ${first.createdAt.slice(0, 10)}`;
}

/** Through the phone's own sharing where it takes files, else as a download. */
export async function saveOutingFile(store: PhoneStore): Promise<void> {
  const content = await outingFile(store);
  const name = `ebrix-along-${new Date().toISOString().slice(0, 16).replace(':', '')}.zip`;
  const file = new File([content], name, { type: 'application/zip' });
  if (navigator.canShare?.({ files: [file] })) {
    try {
      await navigator.share({ files: [file], title: name });
      return;
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') return;
    }
  }
  const link = document.createElement('a');
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}
