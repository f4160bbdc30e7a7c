import { comparer } from './compare-runs.mjs';
import { root } from './say.mjs';

const DAYS = [0, 0.03, 0.06, 0.1];
const RUN_SD = 0.03;
const repeat = (outings, setups) => Array.from({ length: outings }, () => setups);
/** Trials as testers ride them, outing by outing, the setups by number. */
const LAYOUTS = {
  'blocked: two setups ABBA, 4 outings': repeat(4, [0, 1, 1, 0]),
  'blocked: two setups once each, 6 outings': repeat(6, [0, 1]),
  'blocked: three setups, 5 outings': repeat(5, [0, 1, 2]),
  'blocked: three setups, cells missing': [...repeat(3, [0, 1, 2]), [0, 1], [1, 2], [0, 2]],
  'mixed: two of three setups, 12 outings': Array.from(
    { length: 12 },
    (_, k) =>
      [
        [0, 1],
        [1, 2],
        [0, 2],
      ][k % 3],
  ),
  'nested: one setup an outing, 4 each × 3 runs': Array.from({ length: 8 }, (_, k) => [k % 2, k % 2, k % 2]),
  'nested: one setup an outing, uneven': Array.from({ length: 9 }, (_, k) => new Array(1 + (k % 4)).fill(k % 2)),
};

/** By simulation: how often the intervals of each design hold the truth, and a difference is said that is not there. */
export async function designCoverage(trials) {
  const { judge, simulateTrial, random } = await tools(12);
  return Object.entries(LAYOUTS).map(([what, layout]) => {
    const setups = Math.max(...layout.flat()) + 1;
    const cells = DAYS.map((daySd) => {
      let held = 0;
      let wrong = 0;
      for (let k = 0; k < trials; k++) {
        const logMeans = new Array(setups).fill(Math.log(10));
        const { pairs } = judge(simulateTrial({ layout, logMeans, daySd, runSd: RUN_SD }, random));
        if (pairs.every(({ ratio }) => ratio.lower <= 1 && ratio.upper >= 1)) held++;
        if (pairs.some(({ verdict }) => verdict.startsWith('better'))) wrong++;
      }
      return `${percent(held / trials)} / ${percent(wrong / trials)}`;
    });
    return { what, ...Object.fromEntries(DAYS.map((day, k) => [`day ${100 * day} %`, cells[k]])) };
  });
}

/** Power as planned against power as judged, at the last look of a plan, without and with looks after every outing. */
export async function designPower(trials) {
  const { judge, simulateTrial, random, powerOfPlan, judgeLook } = await tools(8);
  return [
    [2, 4, 2],
    [2, 6, 3],
    [3, 6, 3],
  ].map(([setups, runs, outings]) => {
    const effect = Math.log(1.05);
    const perOuting = runs / outings;
    const layout = repeat(
      outings,
      Array.from({ length: setups * perOuting }, (_, k) => k % setups),
    );
    const planned = powerOfPlan({ setups, isBlocked: true, outings, standardDeviation: RUN_SD }, effect, runs);
    const cells = DAYS.map((daySd) => {
      let once = 0;
      let looked = 0;
      for (let k = 0; k < trials; k++) {
        const logMeans = [effect, ...new Array(setups - 1).fill(0)];
        const all = simulateTrial({ layout, logMeans, daySd, runSd: RUN_SD }, random);
        if (judge(all).pairs[0].ratio.lower > 1) once++;
        const earlier = [];
        let isSeen = false;
        for (let look = 1; look <= outings && !isSeen; look++) {
          const upTo = all.map(({ name, runs: own }) => ({ name, runs: own.slice(0, look * perOuting) }));
          const count = setups * look * perOuting;
          isSeen = judge(upTo, judgeLook(count, earlier, setups * runs)).pairs[0].ratio?.lower > 1;
          earlier.push(count);
        }
        if (isSeen) looked++;
      }
      return `${percent(once / trials)} / ${percent(looked / trials)}`;
    });
    return {
      what: `${setups} setups × ${runs} runs, ${outings} outings`,
      planned: percent(planned),
      ...Object.fromEntries(DAYS.map((day, k) => [`day ${100 * day} %`, cells[k]])),
    };
  });
}

/** Five looks at a trial without and with a plan: how often any of them says what is not so. */
export async function lookAlarms(trials) {
  const { judge, simulateTrial, random, judgeLook } = await tools(21);
  const looks = 5;
  return [0, Math.log(1.05)].flatMap((truth) =>
    [true, false].map((isPlanned) => {
      let matters = 0;
      let better = 0;
      for (let k = 0; k < trials; k++) {
        const layout = repeat(looks, [0, 1, 1, 0]);
        const all = simulateTrial({ layout, logMeans: [truth, 0], daySd: 0.05, runSd: RUN_SD }, random);
        const earlier = [];
        const said = new Set();
        for (let look = 1; look <= looks; look++) {
          const upTo = all.map(({ name, runs }) => ({ name, runs: runs.slice(0, 2 * look) }));
          said.add(judge(upTo, judgeLook(4 * look, earlier, isPlanned ? 4 * looks : undefined)).pairs[0].verdict);
          earlier.push(4 * look);
        }
        if (said.has('better-and-matters')) matters++;
        if (said.has('better-and-matters') || said.has('better-may-not-matter')) better++;
      }
      return {
        what: `5 looks ${isPlanned ? 'of a plan' : 'without a plan'}, truth ${truth === 0 ? 'equal' : 'at the edge of the band'}`,
        '"it matters"': percent(matters / trials),
        ...(truth === 0 && { 'any "better"': percent(better / trials) }),
      };
    }),
  );
}

async function tools(seed) {
  const { judgeLook, simulateTrial } = await import(`${root}/packages/core/dist/compare/index.js`);
  const { powerOfPlan } = await import(`${root}/packages/core/dist/planning/index.js`);
  const { seededRandom } = await import(`${root}/packages/core/dist/numeric/index.js`);
  const compare = await comparer();
  const judge = (setups, look) => compare(setups, 0, { isBrief: true, ...(look && { look }) });
  return { judge, simulateTrial, judgeLook, powerOfPlan, random: seededRandom(seed) };
}

const percent = (share) => `${(100 * share).toFixed(1)} %`;
