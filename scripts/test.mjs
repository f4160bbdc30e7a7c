import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { buildChanged } from './lib/build.mjs';
import { bin, runTogether } from './lib/command.mjs';
import { ensureChromium } from './lib/debian.mjs';
import { installPackages } from './lib/install.mjs';
import { startThrowawayPostgres } from './lib/postgres.mjs';
import { refuse, root, runScript, say } from './lib/say.mjs';
import { startServer } from './lib/server.mjs';

const JEST_REPORT = `${root}/.cache/jest.json`;
const E2E_REPORT = `${root}/.cache/e2e.json`;
const DEMO_PATIENCE_MS = 1_200_000;

await runScript(async () => {
  const started = Date.now();
  installPackages();
  ensureChromium();
  buildChanged();
  mkdirSync(`${root}/.cache`, { recursive: true });
  for (const report of [JEST_REPORT, E2E_REPORT]) rmSync(report, { force: true });
  const cluster = await startThrowawayPostgres();
  let server;
  try {
    // The demo loads while the sources are checked.
    server = await startServer(cluster.url, { hasDemo: true });
    await checkSources();
    const unit = runJest(cluster);
    await waitForDemo(server.url);
    const browser = runBrowser(server.url);
    const passed = unit.passed + browser.passed;
    const failed = unit.failed + browser.failed;
    say(
      `\nRan: format, lint, types, import rules, unit tests (${unit.passed} passed, ${unit.failed} failed), browser tests (${browser.passed} passed, ${browser.failed} failed), in ${Math.round((Date.now() - started) / 1000)} s.`,
    );
    say(`${passed} passed, ${failed} failed`);
    if (failed > 0 || !unit.ok || !browser.ok) refuse('The tests failed; the lines above say which.');
  } finally {
    await server?.stop();
    cluster.stop();
  }
});

async function checkSources() {
  await runTogether([
    { what: 'Format (prettier)', command: bin('prettier'), args: ['--check', '--log-level', 'warn', '.'] },
    { what: 'Types: core', command: bin('tsc'), args: ['-p', 'packages/core/tsconfig.json'] },
    { what: 'Types: contract', command: bin('tsc'), args: ['-p', 'packages/contract/tsconfig.json'] },
    { what: 'Types: server', command: bin('tsc'), args: ['-p', 'apps/server/tsconfig.json'] },
    { what: 'Types: web', command: bin('tsc'), args: ['-p', 'apps/web/tsconfig.json'] },
    { what: 'Types: e2e', command: bin('tsc'), args: ['-p', 'e2e/tsconfig.json'] },
    {
      what: 'Import rules (dependency-cruiser)',
      command: bin('depcruise'),
      args: [
        '--config',
        '.dependency-cruiser.cjs',
        'packages/core/src',
        'packages/contract/src',
        'apps/server/src',
        'apps/web/src',
      ],
    },
    { what: 'Lint (eslint)', command: bin('eslint'), args: ['--cache', '--cache-location', '.cache/eslint', '.'] },
  ]);
}

function runJest(cluster) {
  say('> Unit tests (jest)');
  const { status } = spawnSync(
    bin('jest'),
    ['--json', `--outputFile=${JEST_REPORT}`, '--silent=false', '--maxWorkers=2'],
    {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, EBRIX_TEST_DATABASE: cluster.urlOf('postgres') },
    },
  );
  if (!existsSync(JEST_REPORT)) refuse('The unit tests did not run to their end.');
  const { numPassedTests, numFailedTests, numTotalTests } = JSON.parse(readFileSync(JEST_REPORT, 'utf8'));
  if (numTotalTests === 0) refuse('No unit test ran.');
  return { ok: status === 0, passed: numPassedTests, failed: numFailedTests };
}

function runBrowser(url) {
  say('> Browser tests (playwright)');
  const { status } = spawnSync(bin('playwright'), ['test', '--config', 'e2e/playwright.config.ts'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, EBRIX_URL: url, PLAYWRIGHT_JSON_OUTPUT_NAME: E2E_REPORT },
  });
  if (!existsSync(E2E_REPORT)) refuse('The browser tests did not run to their end.');
  const { expected, unexpected, flaky, skipped } = JSON.parse(readFileSync(E2E_REPORT, 'utf8')).stats;
  if (expected + flaky === 0) refuse('No browser test ran.');
  if (skipped > 0) refuse(`${skipped} browser tests were skipped.`);
  return { ok: status === 0, passed: expected + flaky, failed: unexpected };
}

async function waitForDemo(url) {
  const until = Date.now() + DEMO_PATIENCE_MS;
  while (Date.now() < until) {
    const { loading, problem } = await (await fetch(`${url}/api/demo`)).json();
    if (problem) refuse(problem);
    if (loading === null) return;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
  refuse('The demo data was not loaded in time.');
}
