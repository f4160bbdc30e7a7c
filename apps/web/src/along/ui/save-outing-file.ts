import type { AlongFile } from '@ebrix/contract';
import { channelsOf } from '../log/phone-log.js';
import { waiting } from '../send/send-rides.js';
import { asInput } from '../store/carried-ride.js';
import type { PhoneStore } from '../store/phone-store.js';

/** All rides that wait, with their lines, as one file that Ebrix takes in later. */
export async function outingFile(store: PhoneStore, nowMs = Date.now()): Promise<AlongFile> {
  const phone = (await store.setting('phone')) ?? 'Phone';
  const rides = waiting(await store.rides());
  const [first] = rides;
  return {
    format: 'ebrix-along',
    formatVersion: 1,
    title: first ? `${rides.length} rides of ${first.createdAt.slice(0, 10)}` : 'No rides',
    phone,
    rides: await Promise.all(
      rides.map(async (ride) => {
        const lines = (await store.chunks(ride.id, 0, 500_000)).flatMap((chunk) => chunk.lines);
        return {
          id: ride.id,
          ride: asInput(ride, lines.length > 0, nowMs),
          log:
            lines.length > 0
              ? { channels: [...channelsOf(ride)], units: {}, lines: lines.map((line) => [...line]) }
              : null,
        };
      }),
    ),
  };
}

/** Through the phone's own sharing where it takes files, else as a download. */
export async function saveOutingFile(store: PhoneStore): Promise<void> {
  const content = await outingFile(store);
  const name = `ebrix-along-${new Date().toISOString().slice(0, 16).replace(':', '')}.json`;
  const file = new File([JSON.stringify(content)], name, { type: 'application/json' });
  if (navigator.canShare?.({ files: [file] })) {
    try {
      await navigator.share({ files: [file], title: content.title });
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
