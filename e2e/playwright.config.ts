import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './chromium.js';

/** A shared machine can be many times slower for a while; shorter while a test is written. */
const PATIENCE_MS = Number(process.env['E2E_PATIENCE_MS'] ?? 60_000);

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  outputDir: '../test-results',
  // Generous, since a shared machine can be many times slower for a while; a test that passes does not wait for them.
  timeout: 600_000,
  expect: { timeout: PATIENCE_MS },
  // Files of tests share a server and its demo; each makes what it changes, or puts it back.
  workers: 2,
  // One second try, which the report names flaky.
  retries: process.env['CI'] ? 1 : 0,
  forbidOnly: true,
  reporter: [['list'], ['json']],
  use: {
    // A step that cannot be taken is told with its place, long before the test's own end.
    actionTimeout: PATIENCE_MS,
    baseURL: process.env['EBRIX_URL'] ?? 'http://127.0.0.1:4180',
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    // Recording makes a test a third slower: where there is a second try, that one is recorded.
    trace: process.env['CI'] ? 'on-first-retry' : 'retain-on-failure',
    launchOptions: {
      executablePath: CHROMIUM,
      chromiumSandbox: false,
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
