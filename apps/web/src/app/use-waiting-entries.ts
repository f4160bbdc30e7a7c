import { useEffect } from 'react';
import { useDispatch } from 'react-redux';
import type { ApiDispatch } from '../shared/api/base-api.js';
import { WAITING_CHANGED, WAITING_KEY } from '../shared/api/waiting.js';

/** Tried again this often while something waits; the browser also tells when the network is back. */
const RETRY_MS = 15_000;

/** Sends what waits in this browser, on whatever page one is; the code for it is loaded only where something does. */
export function useWaitingEntries(): void {
  const dispatch = useDispatch<ApiDispatch>();
  useEffect(() => {
    const send = (): void => {
      if (localStorage.getItem(WAITING_KEY) === null) return;
      void import('../entities/life/waiting-entries.js').then(({ sendWaiting }) => sendWaiting(dispatch));
    };
    const timer = setInterval(send, RETRY_MS);
    addEventListener('online', send);
    addEventListener(WAITING_CHANGED, send);
    send();
    return () => {
      clearInterval(timer);
      removeEventListener('online', send);
      removeEventListener(WAITING_CHANGED, send);
    };
  }, [dispatch]);
}
