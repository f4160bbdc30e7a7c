import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { buildChanged } from './lib/build.mjs';
import { bin, runTogether } from './lib/command.mjs';
import { ensureChromium, ensureCompiler } from './lib/debian.mjs';
import { runPythonExample } from './lib/examples.mjs';
import { installPackages } from './lib/install.mjs';
import { startThrowawayPostgres } from './lib/postgres.mjs';
import { refuse, root, runScript, say } from './lib/say.mjs';
import { startServer, waitForDemo } from './lib/server.mjs';

const JEST_REPORT = `${root}/.cache/jest.json`;
const E2E_REPORT = `${root}/.cache/e2e.json`;
const SOURCES = ['packages/core/src', 'packages/contract/src', 'apps/server/src', 'apps/web/src'];
/** Of a page that a browser test failed on. */
const SNAPSHOT_LINES = 80;
const NOT_RUN = { ok: true, passed: 0, failed: 0 };

/** What can be run alone, by name; without a name all of it is. */
const PARTS = ['lint', 'types', 'unit', 'e2e'];
const wanted = process.argv.slice(2).filter((name) => !name.startsWith('-'));
const unknown = wanted.filter((name) => !PARTS.includes(name));
const runs = (part) => wanted.length === 0 || wanted.includes(part);

await runScript(async () => {
  if (unknown.length > 0) refuse(`There is no part "${unknown[0]}" of the tests; there are: ${PARTS.join(', ')}.`);
  const started = Date.now();
  installPackages();
  if (runs('e2e')) ensureChromium();
  if (runs('unit')) ensureCompiler();
  // The types of the server and the tests of built programs look at what is built.
  if (runs('types') || runs('unit') || runs('e2e')) buildChanged();
  else buildChanged(['core', 'contract']);
  mkdirSync(`${root}/.cache`, { recursive: true });
  for (const report of [JEST_REPORT, E2E_REPORT]) rmSync(report, { force: true });
  const cluster = runs('unit') || runs('e2e') ? await startThrowawayPostgres() : undefined;
  let server;
  let empty;
  try {
    // The demo loads while the sources are checked.
    server = runs('e2e') ? await startServer(cluster.url, { hasDemo: true }) : undefined;
    empty = runs('e2e') ? await startServer(cluster.createDatabase('empty'), { hasDemo: false }) : undefined;
    await checkSources();
    const unit = runs('unit') ? await runJest(cluster) : NOT_RUN;
    if (server) {
      await waitForDemo(server.url);
      await runPythonExample(server.url);
    }
    const browser = server ? runBrowser(server.url, empty.url) : NOT_RUN;
    const passed = unit.passed + browser.passed;
    const failed = unit.failed + browser.failed;
    const ran = [
      ...(runs('lint') ? ['format, lint, import rules'] : []),
      ...(runs('types') ? ['types'] : []),
      ...(unit === NOT_RUN ? [] : [`unit tests (${unit.passed} passed, ${unit.failed} failed)`]),
      ...(browser === NOT_RUN ? [] : [`browser tests (${browser.passed} passed, ${browser.failed} failed)`]),
    ];
    say(`\nRan: ${ran.join(', ')}, in ${Math.round((Date.now() - started) / 1000)} s.`);
    if (unit !== NOT_RUN || browser !== NOT_RUN) say(`${passed} passed, ${failed} failed`);
    if (failed > 0 || !unit.ok || !browser.ok) refuse('The tests failed; the lines above say which.');
  } finally {
    await server?.stop();
    await empty?.stop();
    cluster?.stop();
  }
});

async function checkSources() {
  const types = ['packages/core', 'packages/contract', 'apps/server', 'apps/web', 'e2e'].map((folder) => ({
    what: `Types: ${folder}`,
    command: bin('tsc'),
    args: ['-p', `${folder}/tsconfig.json`],
  }));
  const form = [
    { what: 'Lint (oxlint)', command: bin('oxlint'), args: ['--deny-warnings', '.'] },
    { what: 'Format (oxfmt)', command: bin('oxfmt'), args: ['--check'] },
    {
      what: 'Import rules (dependency-cruiser)',
      command: bin('depcruise'),
      args: ['--config', '.dependency-cruiser.cjs', ...SOURCES],
    },
  ];
  await runTogether([...(runs('lint') ? form : []), ...(runs('types') ? types : [])]);
}

async function runJest(cluster) {
  say('> Unit tests (jest)');
  // Three on two cores, since tests of the server wait for the database meanwhile. Its workers are started as it is. Room for what lives shortly: with the ordinary 16 MB simulations are cleaned up after a twentieth longer.
  const args = [
    '--max-semi-space-size=64',
    bin('jest'),
    '--json',
    `--outputFile=${JEST_REPORT}`,
    '--silent=false',
    '--maxWorkers=3',
  ];
  const status = await new Promise((resolve) =>
    spawn(process.execPath, args, {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, EBRIX_TEST_DATABASE: cluster.urlOf('postgres') },
    })
      .on('error', () => resolve(undefined))
      .on('close', resolve),
  );
  if (!existsSync(JEST_REPORT)) refuse('The unit tests did not run to their end.');
  const { numPassedTests, numFailedTests, numTotalTests } = JSON.parse(readFileSync(JEST_REPORT, 'utf8'));
  if (numTotalTests === 0) refuse('No unit test ran.');
  return { ok: status === 0, passed: numPassedTests, failed: numFailedTests };
}

function runBrowser(url, emptyUrl) {
  say('> Browser tests (playwright)');
  const { status } = spawnSync(bin('playwright'), ['test', '--config', 'e2e/playwright.config.ts'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, EBRIX_URL: url, EBRIX_EMPTY_URL: emptyUrl, PLAYWRIGHT_JSON_OUTPUT_NAME: E2E_REPORT },
  });
  if (!existsSync(E2E_REPORT)) refuse('The browser tests did not run to their end.');
  const report = JSON.parse(readFileSync(E2E_REPORT, 'utf8'));
  tellFailedPages(report);
  const { expected, unexpected, flaky, skipped } = report.stats;
  if (expected + flaky === 0) refuse('No browser test ran.');
  if (skipped > 0) refuse(`${skipped} browser tests were skipped.`);
  return { ok: status === 0, passed: expected + flaky, failed: unexpected };
}

/** What stood on the page at each try that failed: where the second try passed, nothing else is left of it. */
function tellFailedPages({ suites }) {
  const specs = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specs)];
  for (const { title, tests } of suites.flatMap(specs))
    for (const { attachments } of tests.flatMap(({ results }) => results))
      for (const { name, path } of attachments)
        if (name === 'error-context' && path && existsSync(path))
          say(`\n"${title}" stood at:\n${snapshotIn(readFileSync(path, 'utf8'))}`);
}

function snapshotIn(context) {
  const [, snapshot = context] = context.match(/```yaml\n([\s\S]*?)```/) ?? [];
  return snapshot
    .slice(Math.max(0, snapshot.indexOf('- main')))
    .split('\n')
    .slice(0, SNAPSHOT_LINES)
    .join('\n');
}
