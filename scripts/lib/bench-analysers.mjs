import { root } from './say.mjs';

const SAMPLES = 360_000;

/** The analysers, each on a log of 360 000 samples of its own kind: tests ridden again and again until the log is full. */
export async function analyserTimes(best) {
  const { rideTest, joinTraces, thinTrace, writeRideCsv } = await import(
    `${root}/packages/core/dist/ride-model/index.js`
  );
  const { cleanLog, readLog } = await import(`${root}/packages/core/dist/logs/index.js`);
  const { analyseTest, TEST_KIND_NAMES } = await import(`${root}/packages/core/dist/analysis/index.js`);
  const { seededRandom } = await import(`${root}/packages/core/dist/numeric/index.js`);
  const { rideModelOf } = await import(`${root}/apps/server/dist/demo/demo-ride.js`);
  const model = rideModelOf({ setup: 'corvane', course: 'level', outing: 'o1' }, (mean) => mean);
  const times = [];
  for (const kind of TEST_KIND_NAMES) {
    const day = { airTemperatureC: 18, windMps: 1, slope: 0.001, recordHz: 20 };
    const { trace, context } = rideTest(kind, { ...model, rider: { ...model.rider, targetSpeedMps: 20 } }, day);
    const copies = Math.ceil(SAMPLES / trace.timeS.length);
    const long = joinTraces(Array.from({ length: copies }, () => trace));
    const csv = writeRideCsv(
      thinTrace(long, 1),
      { currentGain: 1, voltageGain: 1, distanceGain: 1, dropOuts: [], spikeCount: 5, hasMore: true },
      seededRandom(3),
    );
    const raw = readLog(new TextEncoder().encode(csv));
    const log = raw.ok ? cleanLog(raw.value) : raw;
    if (!log.ok) throw new Error(`${kind}: ${log.problem.message}`);
    times.push({
      kind,
      samples: log.value.timeS.length,
      ms: await best(2, () => analyseTest(kind, log.value, context)),
    });
  }
  return times;
}
