import { useCallback, useEffect, useState } from 'react';
import type { EntryInput } from '@ebrix/contract';
import { mayPass } from '../../shared/api/base-api.js';
import { WAITING_CHANGED } from '../../shared/api/waiting.js';
import { useAddEntriesMutation } from './api.js';
import { keepWaiting, refusedEntries, waitingEntries, type RefusedEntry } from './waiting-entries.js';

export type Sent = 'refused' | 'stored' | 'waits';

/** Stores entries, or lets them wait in this browser while the server does not answer; a refusal keeps nothing. The shell sends what waits. */
export function useSendEntries(): (
  entries: readonly EntryInput[],
) => Promise<{ readonly how: Sent; readonly error?: unknown }> {
  const [add] = useAddEntriesMutation();
  return useCallback(
    async (entries) => {
      const { error } = await add(entries);
      if (error === undefined) return { how: 'stored' };
      if (!mayPass(error)) return { how: 'refused', error };
      keepWaiting(entries);
      return { how: 'waits' };
    },
    [add],
  );
}

/** What waits in this browser, and what was refused when it came to be sent. */
export function useWaiting(): { readonly waiting: number; readonly refused: readonly RefusedEntry[] } {
  const look = (): { waiting: number; refused: readonly RefusedEntry[] } => ({
    waiting: waitingEntries().length,
    refused: refusedEntries(),
  });
  const [now, setNow] = useState(look);
  useEffect(() => {
    const changed = (): void => setNow(look());
    addEventListener(WAITING_CHANGED, changed);
    addEventListener('storage', changed);
    return () => {
      removeEventListener(WAITING_CHANGED, changed);
      removeEventListener('storage', changed);
    };
  }, []);
  return now;
}
