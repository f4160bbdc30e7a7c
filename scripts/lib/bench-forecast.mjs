import { makeWideCsv } from './bench-data.mjs';
import { root } from './say.mjs';

const RIDES = 20;
const PATHS = 400;
const WAY_M = 25_000;

/** How long a calibration and a forecast take: 20 rides of an hour at 10 Hz, then 400 paths of a course of 25 km, and the first few. */
export async function forecastTimes(best) {
  const { calibrate, forecast, rideRecord, trustOf } = await import(`${root}/packages/core/dist/forecast/index.js`);
  const { cleanLog, readLog } = await import(`${root}/packages/core/dist/logs/index.js`);
  const raw = readLog(new TextEncoder().encode(makeWideCsv(36_000)));
  const log = raw.ok ? cleanLog(raw.value) : raw;
  if (!log.ok) throw new Error(log.problem.message);
  const records = Array.from({ length: RIDES }, (_, k) =>
    rideRecord(log.value, { name: `ride ${k}`, outing: `outing ${k >> 1}`, totalMassKg: 105, riderPowerW: 80 }),
  );
  const known = { seriesCells: 13, capacityAh: 14, speedLimitMps: 25 / 3.6 };
  const scenario = {
    profile: Array.from({ length: 501 }, (_, k) => ({
      distanceM: (k * WAY_M) / 500,
      altitudeM: 20 * Math.sin(k / 20),
    })),
    totalMassKg: 110,
    airTemperatureC: 12,
    windMps: 1,
    startShare: 1,
    riding: { targetSpeedKmh: 24, riderPowerW: 80 },
  };
  const calibration = calibrate(records, known);
  const { figures } = forecast(calibration, scenario, { samples: 2 });
  const rideS = figures.find(({ key }) => key === 'time').value;
  const all = await best(3, () => forecast(calibration, scenario, { samples: PATHS }));
  return {
    learned: await best(2, () => calibrate(records, known)),
    checked: await best(1, () => trustOf(records, known)),
    all,
    first: await best(3, () => forecast(calibration, scenario, { samples: 24 })),
    /** Seconds of riding in a second of work, one path. */
    realTime: (rideS * PATHS) / (all / 1000),
  };
}
