import '@testing-library/jest-dom';
import { MessageChannel } from 'node:worker_threads';

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
Object.defineProperty(globalThis, 'MessageChannel', { writable: true, value: MessageChannel });
const computed = window.getComputedStyle.bind(window);
window.getComputedStyle = (element) => computed(element);
globalThis.ResizeObserver = class {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
};
