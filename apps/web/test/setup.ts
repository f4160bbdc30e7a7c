import { configure } from '@testing-library/react';
import '@testing-library/jest-dom';
import type { Room } from '@ebrix/contract';
import { loadSchemas } from '../src/shared/api/route.js';
import { ROUTES_OF } from '../src/shared/api/schemas.js';

// A shared machine can be many times slower for a while.
configure({ asyncUtilTimeout: 20_000 });

Object.defineProperty(window, 'matchMedia', {
  writable: true,
  value: (query: string) => ({
    matches: false,
    media: query,
    onchange: null,
    addListener: () => undefined,
    removeListener: () => undefined,
    addEventListener: () => undefined,
    removeEventListener: () => undefined,
    dispatchEvent: () => false,
  }),
});
/** React's scheduler wakes itself through one; Node's own would keep the test process alive for ever. */
class TimerChannel {
  readonly port1: { onmessage: ((event: object) => void) | null } = { onmessage: null };
  readonly port2 = { postMessage: (): void => void setTimeout(() => this.port1.onmessage?.({}), 0) };
}
Object.defineProperty(globalThis, 'MessageChannel', { writable: true, value: TimerChannel });
const computed = window.getComputedStyle.bind(window);
window.getComputedStyle = (element) => computed(element);
globalThis.ResizeObserver = class {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
};
// Answers of a test are held against the contract from the first one on.
beforeAll(async () => void (await Promise.all((Object.keys(ROUTES_OF) as Room[]).map(loadSchemas))));
