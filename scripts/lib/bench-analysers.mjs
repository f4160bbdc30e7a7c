import { root } from './say.mjs';

const SAMPLES = 360_000;
/** Sizes between which the growth of a time is told. */
const SIZES = [10_000, 100_000, 1_000_000];

/** The analysers, each on a log of 360 000 samples of its own kind: tests ridden again and again until the log is full. */
export async function analyserTimes(best) {
  const { TEST_KIND_NAMES } = await import(`${root}/packages/core/dist/analysis/index.js`);
  const times = [];
  for (const kind of TEST_KIND_NAMES) times.push({ kind, ...(await timeOf(kind, SAMPLES, best)) });
  return times;
}

/** By which power of the samples the time of each analyser grows: slope of a line on logarithms. */
export async function analyserGrowth(best) {
  const { TEST_KIND_NAMES } = await import(`${root}/packages/core/dist/analysis/index.js`);
  const growths = [];
  for (const kind of TEST_KIND_NAMES) {
    const times = [];
    for (const size of SIZES) times.push(await timeOf(kind, size, best));
    growths.push({ kind, times, power: slopeOf(times.map(({ samples, ms }) => [Math.log(samples), Math.log(ms)])) });
  }
  return growths;
}

function slopeOf(points) {
  const mean = (of) => points.reduce((sum, point) => sum + of(point), 0) / points.length;
  const [meanX, meanY] = [mean(([x]) => x), mean(([, y]) => y)];
  const along = points.reduce((sum, [x, y]) => sum + (x - meanX) * (y - meanY), 0);
  return along / points.reduce((sum, [x]) => sum + (x - meanX) ** 2, 0);
}

async function timeOf(kind, atLeast, best) {
  const { rideTest, joinTraces, thinTrace, writeRideCsv } = await import(
    `${root}/packages/core/dist/ride-model/index.js`
  );
  const { cleanLog, readLog } = await import(`${root}/packages/core/dist/logs/index.js`);
  const { analyseTest } = await import(`${root}/packages/core/dist/analysis/index.js`);
  const { seededRandom } = await import(`${root}/packages/core/dist/numeric/index.js`);
  const { rideModelOf } = await import(`${root}/apps/server/dist/demo/demo-ride.js`);
  const model = rideModelOf({ setup: 'corvane', course: 'level', outing: 'o1' }, (mean) => mean);
  const day = { airTemperatureC: 18, windMps: 1, slope: 0.001, recordHz: 20 };
  const { trace, context } = rideTest(kind, { ...model, rider: { ...model.rider, targetSpeedMps: 20 } }, day);
  const copies = Math.ceil(atLeast / trace.timeS.length);
  const long = joinTraces(Array.from({ length: copies }, () => trace));
  const csv = writeRideCsv(
    thinTrace(long, 1),
    { currentGain: 1, voltageGain: 1, distanceGain: 1, dropOuts: [], spikeCount: 5, hasMore: true },
    seededRandom(3),
  );
  const raw = readLog(new TextEncoder().encode(csv));
  const log = raw.ok ? cleanLog(raw.value) : raw;
  if (!log.ok) throw new Error(`${kind}: ${log.problem.message}`);
  return {
    samples: log.value.timeS.length,
    // A log of its own each time: nothing that was worked out before helps.
    ms: await best(3, () => analyseTest(kind, { ...log.value, channels: { ...log.value.channels } }, context)),
  };
}
