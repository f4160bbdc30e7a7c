import { useEffect, useState, type ComponentType } from 'react';
import { onWaitingNotice } from './notice-queue.js';

/** Where notices are shown: its piece of the program comes with the first of them, or before. */
export function Notices() {
  const [Host, setHost] = useState<ComponentType>();
  useEffect(() => {
    const bring = (): void =>
      void import('./NoticeHost.js').then(
        ({ default: found }) => setHost(() => found),
        // Without a connection they wait; the next one asks again.
        () => undefined,
      );
    return onWaitingNotice(bring);
  }, []);
  return Host ? <Host /> : null;
}
