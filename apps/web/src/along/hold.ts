/** Another window of this phone that opens and closes in a moment is waited for, ms. */
const PATIENCE_MS = 1500;
const NAME = 'ebrix-along';

/**
 * One window of a phone leads: two would number the same log twice. Undefined where another one has it; else `lost` ends when it was taken over.
 * A window that is killed lets go by itself.
 */
export async function hold(isTaken = false): Promise<{ readonly lost: Promise<void> } | undefined> {
  const { locks } = navigator as { locks?: LockManager };
  // Nobody to ask: then there is one window.
  if (!locks) return { lost: new Promise(() => undefined) };
  return new Promise((resolve) => {
    let isHeld = false;
    let lose: () => void = () => undefined;
    const lost = new Promise<void>((done) => (lose = done));
    const options: LockOptions = isTaken ? { steal: true } : { signal: AbortSignal.timeout(PATIENCE_MS) };
    locks
      .request(NAME, options, () => {
        isHeld = true;
        resolve({ lost });
        return new Promise<void>(() => undefined);
      })
      .catch(() => (isHeld ? lose() : resolve(undefined)));
  });
}
