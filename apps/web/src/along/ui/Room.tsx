import { useEffect, useState } from 'react';

/** Six hours of positions a second take less than this. */
const NEEDED_MB = 60;

/** How much room the phone has left for logs, and whether the browser has promised to keep them. */
export function Room() {
  const [room, setRoom] = useState<{ usedMb: number; leftMb: number; isKept: boolean }>();
  useEffect(() => {
    const look = async (): Promise<void> => {
      const { usage = 0, quota = 0 } = (await navigator.storage?.estimate?.()) ?? {};
      const isKept = (await navigator.storage?.persisted?.()) ?? false;
      if (quota > 0) setRoom({ usedMb: usage / 1e6, leftMb: (quota - usage) / 1e6, isKept });
    };
    void look().catch(() => undefined);
  }, []);
  if (!room) return null;
  return (
    <p className={room.leftMb < NEEDED_MB ? 'caution' : 'quiet'}>
      {room.usedMb.toFixed(1)} MB used on this phone, {room.leftMb > 2000 ? 'plenty' : `${room.leftMb.toFixed(0)} MB`}{' '}
      left.
      {room.leftMb < NEEDED_MB && ' Make room before you ride: a long log may not fit.'}
      {!room.isKept && ' The browser may clear it when the phone gets full: send rides soon after riding.'}
    </p>
  );
}
