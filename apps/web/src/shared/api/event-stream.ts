const CLOSED = 2;
const AGAIN_MS = 2000;

interface Hears {
  readonly [event: string]: (data: string) => void;
}

/**
 * Hears what the server tells until it is ended by what comes back. A broken line the browser mends by itself; one that was refused
 * (signed out, a server that is just starting) it gives up for good, so it is opened anew here.
 */
export function hearEvents(path: string, hears: Hears, connected: (isConnected: boolean) => void): () => void {
  let source: EventSource;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const open = (): void => {
    source = new EventSource(path);
    source.addEventListener('open', () => connected(true));
    source.addEventListener('error', () => {
      connected(false);
      if (source.readyState === CLOSED) timer = setTimeout(open, AGAIN_MS);
    });
    for (const [event, hear] of Object.entries(hears))
      source.addEventListener(event, ({ data }: MessageEvent<string>) => hear(data));
  };
  open();
  return () => {
    clearTimeout(timer);
    source.close();
  };
}
