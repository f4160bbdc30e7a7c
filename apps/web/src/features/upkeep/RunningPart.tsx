import type { Load } from '@ebrix/contract';
import { formatAge, formatBytes } from '../../shared/format/format-quantity.js';
import { useLoadQuery } from './api.js';

const LOOK_MS = 10_000;
/** A dump, a package and the database's own files need room beside what is there. */
const SHORT_BYTES = 2 * 1024 ** 3;
/** A server that began so lately may have ended by itself before. */
const LATELY_MS = 10 * 60_000;

/** Since when it runs, what waits, and how much room is left. Nothing where it cannot be told. */
export function RunningPart() {
  const { data } = useLoadQuery(undefined, { pollingInterval: LOOK_MS });
  if (!data) return null;
  const { disk } = data;
  return (
    <section className="section" aria-label="How it runs">
      <h2 className="mb-8">How it runs</h2>
      <p>{runningWords(data)}</p>
      {disk.freeBytes < SHORT_BYTES && (
        <p className="problem" role="alert">
          Only {formatBytes(disk.freeBytes)} are left on the disk. When it is full, rides and imports are refused until
          there is room again: free some.
        </p>
      )}
    </section>
  );
}

function runningWords({ startedAt, jobs, pages, background, disk }: Load): string {
  const isLately = Date.now() - Date.parse(startedAt) < LATELY_MS;
  const waiting = jobs.waiting + pages.waiting + background.waiting;
  return [
    `The server has run for ${formatAge(startedAt)}${isLately ? '; if you did not start it, it ended by itself and was started again: rides and work went on' : ''}.`,
    jobs.working + waiting === 0 ? 'Nothing waits to be worked on.' : `${jobs.working} at work, ${waiting} waiting.`,
    ...(jobs.failed > 0 ? [`${jobs.failed} failed lately; the server’s log says why.`] : []),
    `${formatBytes(disk.freeBytes)} of ${formatBytes(disk.ofBytes)} are free on its disk.`,
  ].join(' ');
}
