import { requestTo } from './route.js';

/** By address. */
const early = new Map<string, Promise<Response>>();

/** An answer nobody took is an old one then. */
const KEPT_MS = 30_000;

/**
 * Asks at once for what a page will ask for as soon as its code is there and made ready; on a slow processor that is a good part of its
 * opening. For the page that Ebrix is opened at, which asks for each of them for certain.
 */
export function askEarly(...asked: Parameters<typeof requestTo>): void {
  const { url, params } = requestTo(...asked);
  const query = params ? `?${new URLSearchParams(params as Record<string, string>).toString()}` : '';
  const address = new URL(url + query, new URL('/api/', location.origin)).href;
  if (early.has(address)) return;
  const answer = fetch(address);
  early.set(address, answer);
  setTimeout(() => early.delete(address), KEPT_MS);
  // What did not come is told by who takes it.
  answer.catch(() => undefined);
}

/** The answer that was asked for early, once; everything else is asked for now. After a change no earlier answer holds. */
export function fetchOrTake(request: RequestInfo, init?: RequestInit): Promise<Response> {
  // Not a copy of a request: that would use its body up.
  const { method, url } = request instanceof Request ? request : new Request(request, init);
  if (method !== 'GET') early.clear();
  const answer = early.get(url);
  early.delete(url);
  return answer ?? fetch(request, init);
}
