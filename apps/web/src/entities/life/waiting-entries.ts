import { entryInputSchema, type EntryInput } from '@ebrix/contract';
import { errorMessage, mayPass, type ApiDispatch } from '../../shared/api/base-api.js';
import { WAITING_CHANGED, WAITING_KEY } from '../../shared/api/waiting.js';
import { lifeApi } from './api.js';

const REFUSED_KEY = 'ebrix.logbook.refused';
const AT_ONCE = 500;

export interface RefusedEntry {
  readonly entry: EntryInput;
  readonly message: string;
}

function read<T>(key: string, parse: (value: unknown) => T | undefined): T[] {
  try {
    const list: unknown = JSON.parse(localStorage.getItem(key) ?? '[]');
    return Array.isArray(list) ? list.flatMap((one) => parse(one) ?? []) : [];
  } catch {
    return [];
  }
}
function store(key: string, list: readonly unknown[]): void {
  if (list.length === 0) localStorage.removeItem(key);
  else localStorage.setItem(key, JSON.stringify(list));
  dispatchEvent(new Event(WAITING_CHANGED));
}
const asEntry = (value: unknown): EntryInput | undefined => entryInputSchema.safeParse(value).data;

/** Entries that could not be sent yet. */
export function waitingEntries(): EntryInput[] {
  return read(WAITING_KEY, asEntry);
}
/** Entries that the server would not take when they came to be sent, with its words. */
export function refusedEntries(): RefusedEntry[] {
  return read(REFUSED_KEY, (value) => {
    const { entry, message } = value as { entry?: unknown; message?: unknown };
    const known = asEntry(entry);
    return known && typeof message === 'string' ? { entry: known, message } : undefined;
  });
}
export function keepWaiting(entries: readonly EntryInput[]): void {
  store(WAITING_KEY, [...waitingEntries(), ...entries]);
}
function letGo(ids: ReadonlySet<string>): void {
  store(
    WAITING_KEY,
    waitingEntries().filter(({ id }) => !ids.has(id)),
  );
}
/** Forgets refused entries, or lets them be sent again. */
export function settleRefused(isTriedAgain: boolean): void {
  const entries = refusedEntries().map(({ entry }) => entry);
  store(REFUSED_KEY, []);
  if (isTriedAgain) keepWaiting(entries);
}

let underWay: Promise<void> | undefined;

/**
 * Sends what waits. Every entry carries its own id, so that two windows which both send it, or an answer that was lost on its way back, store nothing
 * twice. One that is refused (its bike was deleted meanwhile) does not hold the others back, and is kept with the reason.
 */
export function sendWaiting(dispatch: ApiDispatch): Promise<void> {
  underWay ??= send(dispatch).finally(() => (underWay = undefined));
  return underWay;
}

async function send(dispatch: ApiDispatch): Promise<void> {
  const add = async (entries: readonly EntryInput[]): Promise<unknown> =>
    (await dispatch(lifeApi.endpoints.addEntries.initiate(entries))).error;
  for (let entries = waitingEntries(); entries.length > 0; entries = waitingEntries()) {
    const some = entries.slice(0, AT_ONCE);
    const error = await add(some);
    if (mayPass(error)) return;
    if (error !== undefined)
      for (const entry of some) {
        const alone = await add([entry]);
        if (mayPass(alone)) return;
        if (alone !== undefined) store(REFUSED_KEY, [...refusedEntries(), { entry, message: errorMessage(alone) }]);
        letGo(new Set([entry.id]));
      }
    letGo(new Set(some.map(({ id }) => id)));
  }
}
