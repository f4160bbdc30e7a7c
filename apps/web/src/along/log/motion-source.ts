import type { Reading } from './phone-log.js';

export type MotionTrouble = 'none-here' | 'not-allowed';
/** Older than this a sample's own time is not believed, s. */
const FRESH_S = 1;

interface WithPermission {
  requestPermission?: () => Promise<'granted' | 'denied' | 'default'>;
}

/** Where a phone wants to be asked, it is: only a tap may do that. */
export async function allowMotion(): Promise<void> {
  const asked = (globalThis as { DeviceMotionEvent?: WithPermission }).DeviceMotionEvent;
  await asked?.requestPermission?.().catch(() => undefined);
}

/**
 * Follows what the phone feels, until it is stopped: force with gravity in it, and turn rate, in the phone's axes. `agoS`: how long before
 * now it was measured.
 */
export function watchMotion(onFelt: (reading: Reading, agoS: number) => void): () => void {
  const listener = (event: DeviceMotionEvent): void => {
    const { accelerationIncludingGravity: force, rotationRate: turn } = event;
    if (force?.x == null || force.y == null || force.z == null) return;
    const agoS = (performance.now() - event.timeStamp) / 1000;
    onFelt(
      {
        accelerationX: force.x,
        accelerationY: force.y,
        accelerationZ: force.z,
        // Alpha turns about z, beta about x, gamma about y.
        ...(turn?.beta != null && { turnRateX: turn.beta }),
        ...(turn?.gamma != null && { turnRateY: turn.gamma }),
        ...(turn?.alpha != null && { turnRateZ: turn.alpha }),
      },
      agoS >= 0 && agoS < FRESH_S ? agoS : 0,
    );
  };
  window.addEventListener('devicemotion', listener);
  return () => window.removeEventListener('devicemotion', listener);
}
