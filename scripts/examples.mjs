import { mkdirSync } from 'node:fs';
import { buildChanged } from './lib/build.mjs';
import { runPythonExample, runRExamples } from './lib/examples.mjs';
import { installPackages } from './lib/install.mjs';
import { startThrowawayPostgres } from './lib/postgres.mjs';
import { root, runScript } from './lib/say.mjs';
import { startServer, waitForDemo } from './lib/server.mjs';

/** Runs everything in examples/ on a fresh package of the demo, and compares the numbers. Installs R where it is missing. */
await runScript(async () => {
  installPackages();
  buildChanged();
  mkdirSync(`${root}/.cache`, { recursive: true });
  const cluster = await startThrowawayPostgres();
  const server = await startServer(cluster.url, { hasDemo: true });
  try {
    await waitForDemo(server.url);
    runRExamples(await runPythonExample(server.url));
  } finally {
    await server.stop();
    cluster.stop();
  }
});
