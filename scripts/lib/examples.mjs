import { spawnSync } from 'node:child_process';
import { existsSync, writeFileSync } from 'node:fs';
import { ensureR, installDebianPackages } from './debian.mjs';
import { refuse, root, say } from './say.mjs';

const PACKAGE = `${root}/.cache/examples.zip`;
/** Two programs that add up the same numbers agree to this, relative. */
const NEAR = 1e-9;

/** Runs the Python example on a fresh package of the server's data, and holds its numbers against those of the API. */
export async function runPythonExample(url) {
  say('> Example: a data package read by Python');
  if (!existsSync('/usr/bin/python3') && spawnSync('python3', ['--version']).status !== 0)
    installDebianPackages(['python3'], 'The example in Python');
  const response = await fetch(`${url}/api/package`);
  if (!response.ok) refuse(`The server gave no data package (${response.status}).`);
  writeFileSync(PACKAGE, Buffer.from(await response.arrayBuffer()));
  const read = JSON.parse(run('python3', ['examples/read_package.py', PACKAGE]));
  const wanted = await meansOf(url);
  compare('Python', read.netConsumption, wanted, ({ mean }) => mean);
  say(
    `  ${read.files} files checked, ${read.runs} runs, means of ${Object.keys(wanted).length} setups as the API has them`,
  );
  return read;
}

/** The same by R, and the verdicts by lm, lmer and emmeans. */
export function runRExamples(read) {
  ensureR();
  say('> Example: the same package read by R');
  const byR = JSON.parse(run('Rscript', ['examples/read_package.R', PACKAGE]));
  compare('R', byR.netConsumption, read.netConsumption, (mean) => mean);
  say('> Example: verdicts by R');
  say(run('Rscript', ['examples/verdict.R', PACKAGE]).trimEnd());
}

function run(command, args) {
  const { status, stdout, stderr } = spawnSync(command, args, { cwd: root, encoding: 'utf8' });
  if (status !== 0) refuse(`${args[0]} failed:\n${stdout}${stderr}`);
  return stdout;
}

function compare(who, found, wanted, meanOf) {
  for (const [setup, { mean }] of Object.entries(wanted)) {
    const other = found[setup] === undefined ? NaN : meanOf(found[setup]);
    if (!(Math.abs(other - mean) <= NEAR * Math.abs(mean)))
      refuse(`${who} has ${other} for ${setup}, and not ${mean}.`);
  }
}

/** Mean net consumption by setup over runs that count, from the list of runs. */
async function meansOf(url) {
  const values = new Map();
  let place = '';
  for (;;) {
    const { items, next } = await (await fetch(`${url}/api/runs?kind=range&pageSize=200${place}`)).json();
    for (const { setup, exclusion, figures } of items)
      if (exclusion === null && figures.netConsumption)
        values.set(setup.name, [...(values.get(setup.name) ?? []), figures.netConsumption.value]);
    if (next === null) break;
    place = `&after=${next}`;
  }
  return Object.fromEntries(
    [...values].map(([name, list]) => [name, { mean: list.reduce((sum, value) => sum + value, 0) / list.length }]),
  );
}
