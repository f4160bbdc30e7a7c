/** What nearly every place needs of the component library, and the notices: what says that a connection is gone is there before. */
const PIECES: readonly (() => Promise<unknown>)[] = [
  () => import('./LibraryTheme.js'),
  () => import('antd/es/button'),
  () => import('antd/es/input'),
  () => import('antd/es/select'),
  () => import('antd/es/form'),
  () => import('./NoticeHost.js'),
];
const WAIT_MS = 2000;

/** Fetches them while the first page is read, one after the other and only when nothing else is to be done: no hand waits for them. */
export async function makeReady(pieces = PIECES, idle = whenIdle): Promise<void> {
  for (const bring of pieces) {
    await idle();
    // Where it does not come now, it is asked for again when it is needed.
    await bring().catch(() => undefined);
  }
}

function whenIdle(): Promise<void> {
  return new Promise((resolve) => {
    // Not every browser tells when it is idle.
    if ('requestIdleCallback' in window) requestIdleCallback(() => resolve(), { timeout: WAIT_MS });
    else setTimeout(resolve, WAIT_MS);
  });
}
