import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { comparer } from './compare-runs.mjs';
import { ensureR } from './debian.mjs';
import { refuse, root } from './say.mjs';

const RESAMPLES = 10_000;
const TABLE = `${root}/.cache/bench-comparison.csv`;

/**
 * The same runs compared here, with all methods, and by R: the mixed model of three setups on outings of their own with its pairs; and two of them
 * with the tests for two and as many resamples. Milliseconds. Stops where both do not come to the same means: then they did not do the same work.
 */
export async function timesBesideR(best) {
  ensureR();
  const compare = await comparer();
  const { seededRandom, standardNormal } = await import(`${root}/packages/core/dist/numeric/index.js`);
  const random = seededRandom(7);
  // Each outing with two of the three setups, so that both the outing and the setup have to be told apart.
  const days = Array.from({ length: 60 }, () => 0.4 * standardNormal(random));
  const setups = Array.from({ length: 3 }, (_, k) => ({
    name: `S${k}`,
    runs: days.flatMap((day, o) =>
      o % 3 === k ? [] : [{ value: 9 + 0.2 * k + day + 0.3 * standardNormal(random), block: `outing ${o}` }],
    ),
  }));
  const rows = setups.flatMap(({ name, runs }) => runs.map(({ value, block }) => `${name},${block},${value}`));
  writeFileSync(TABLE, ['setup,outing,value', ...rows, ''].join('\n'));
  const { status, stdout, stderr } = spawnSync(
    'Rscript',
    [`${root}/scripts/lib/bench-comparison.R`, TABLE, RESAMPLES],
    {
      encoding: 'utf8',
    },
  );
  if (status !== 0) refuse(`R could not compare the runs: ${stderr}`);
  const byR = JSON.parse(stdout);
  const { model } = compare(setups, 0);
  const off = Math.max(...model.adjustedMeans.map(({ mean }, k) => Math.abs(mean - byR.means[k])));
  if (!(off < 1e-3))
    refuse(`R and Ebrix come to different means, ${off} apart: ${JSON.stringify(model.adjustedMeans)}, ${stdout}`);
  return {
    model: { own: await best(10, () => compare(setups, 0)), byR: byR.model },
    two: { own: await best(3, () => compare(setups.slice(0, 2), RESAMPLES)), byR: byR.two },
  };
}
