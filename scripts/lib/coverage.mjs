import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { fileURLToPath } from 'node:url';

/** What a logger does wrong, beside its ordinary noise: by name, how it writes and what of it. */
export const LOGGERS = {
  '10 Hz': { hz: 10 },
  '1 Hz': { hz: 1 },
  '5 Hz': { hz: 5 },
  '50 Hz': { hz: 50 },
  '10 Hz, 5 % drop-outs': { hz: 10, dropOutShare: 0.05 },
  'phone alone, 1 Hz': { hz: 1, isPhone: true },
  '10 Hz, clock set back': { hz: 10, clockJumpS: 20 },
  '10 Hz, 1 K steps': { hz: 10, temperatureStepK: 1 },
  '10 Hz, current 0.3 A off': { hz: 10, currentOffsetA: 0.3, isOffsetStated: true },
};
const RECORD_HZ = 50;

/**
 * How often the stated 95 % intervals hold the truth: `rides` simulated tests of a kind, each on another bike on another day,
 * logged by a logger whose gains lie anywhere within their stated limits.
 */
export async function coverageOf(kind, rides, loggerName = '10 Hz', seed = 1) {
  const { median, seededRandom } = await import('@ebrix/core/numeric');
  const { rideTest, thinTrace, writeRideCsv } = await import('@ebrix/core/ride-model');
  const { cleanLog, readLog } = await import('@ebrix/core/logs');
  const { analyseTest, DEFAULT_INSTRUMENT } = await import('@ebrix/core/analysis');
  const logger = LOGGERS[loggerName];
  const random = seededRandom(seed);
  const between = (low, high) => low + (high - low) * random();
  const gain = (limit) => 1 + limit * between(-1, 1);
  const keys = new Map();
  const refusals = new Map();
  for (let k = 0; k < rides; k++) {
    const model = randomModel(between);
    const day = {
      airTemperatureC: between(6, 28),
      windMps: between(-1.5, 1.5),
      slope: between(-0.004, 0.004),
      recordHz: kind === 'heating' || kind === 'battery' ? 20 : RECORD_HZ,
    };
    const ride = rideTest(kind, model, day);
    const every = Math.max(1, Math.round(day.recordHz / logger.hz));
    const trace = thinTrace(ride.trace, every);
    const lastS = trace.timeS.at(-1);
    const csv = writeRideCsv(
      trace,
      {
        currentGain: gain(DEFAULT_INSTRUMENT.currentGain),
        voltageGain: gain(DEFAULT_INSTRUMENT.voltageGain),
        distanceGain: gain(DEFAULT_INSTRUMENT.distanceGain),
        currentOffsetA: logger.currentOffsetA ?? DEFAULT_INSTRUMENT.currentOffsetA * between(-1, 1),
        hasMore: true,
        altitudeErrorsM: [between(-1, 1) * DEFAULT_INSTRUMENT.altitudeM, between(-1, 1) * DEFAULT_INSTRUMENT.altitudeM],
        temperatureErrorsK: temperatureErrors(between),
        riderGain: gain(0.02),
        spikeCount: Math.floor(between(0, 4)),
        dropOuts: logger.dropOutShare
          ? Array.from({ length: 6 }, () => ({ fromS: between(0, lastS), lengthS: (logger.dropOutShare * lastS) / 6 }))
          : [],
        ...(logger.temperatureStepK && { temperatureStepK: logger.temperatureStepK }),
        ...(logger.clockJumpS && { clockJumpS: logger.clockJumpS }),
        ...(logger.isPhone && { isPhone: true }),
      },
      random,
    );
    const raw = readLog(new TextEncoder().encode(csv));
    const log = raw.ok ? cleanLog(raw.value) : raw;
    if (!log.ok) {
      refusals.set(log.problem.code, (refusals.get(log.problem.code) ?? 0) + 1);
      continue;
    }
    const context = {
      ...ride.context,
      ...doubts(ride.context, kind, gain),
      // A thermometer in the shade, read to a degree.
      ...(kind === 'heating' && { ambientC: ride.context.ambientC + between(-1, 1) }),
      ...(logger.isOffsetStated && { instrument: { currentOffsetA: 0.6 } }),
    };
    const { figures, warnings } = analyseTest(kind, log.value, context);
    for (const [key, truth] of Object.entries(ride.truth)) {
      const seen = keys.get(key) ?? { held: 0, given: 0, error: 0, width: 0, z: [] };
      keys.set(key, seen);
      const figure = figures.find((one) => one.key === key);
      if (!figure) {
        warnings.forEach(({ code }) => refusals.set(code, (refusals.get(code) ?? 0) + 1));
        continue;
      }
      const [lower, upper] = figure.interval95;
      seen.given++;
      if (lower <= truth && truth <= upper) seen.held++;
      seen.error += (figure.value - truth) / figure.standardUncertainty;
      seen.z.push(Math.abs(figure.value - truth) / figure.standardUncertainty);
      seen.width += (upper - lower) / 2 / Math.abs(truth || 1);
      if (process.env.COVERAGE_TRACE && !(lower <= truth && truth <= upper))
        console.log(kind, key, truth, figure.value, figure.standardUncertainty);
    }
  }
  return {
    kind,
    loggerName,
    rides,
    keys: [...keys].map(([key, { held, given, error, width, z }]) => ({
      key,
      given,
      held: given > 0 ? held / given : null,
      // 0.67 where errors are normal and as large as stated.
      medianZ: median(z) ?? null,
      meanError: given > 0 ? error / given : null,
      halfWidth: given > 0 ? width / given : null,
    })),
    refusals: [...refusals],
  };
}

/** Within ± 1 K, of which half may come with the warming. */
function temperatureErrors(between) {
  const start = between(-0.5, 0.5);
  return [start, start + between(-0.5, 0.5)];
}

/** What a tester knows of the bike is as uncertain as the figures say it is. */
function doubts({ totalMassKg, cdaM2, crr, airDensity, rotatingMassFactor }, kind, gain) {
  if (totalMassKg === undefined) return {};
  if (kind === 'coast-down')
    return {
      totalMassKg: totalMassKg * gain(0.01),
      airDensity: airDensity * gain(0.01),
      rotatingMassFactor: rotatingMassFactor * gain(0.01),
    };
  return { totalMassKg: totalMassKg * gain(0.01), cdaM2: cdaM2 * gain(0.1), crr: crr * gain(0.1) };
}

/** Another kit on another bike each time. */
function randomModel(between) {
  const massKg = between(20, 32);
  const winding = { heatCapacityJPerK: between(150, 500), thermalResistanceKPerW: between(0.02, 0.15) };
  // A motor whose winding runs ahead of its body, or one that warms as a whole.
  const hasWinding = between(0, 1) < 0.5;
  return {
    pack: {
      chemistry: 'li-ion-nmc',
      seriesCells: 13,
      capacityAh: between(10, 18),
      resistanceOhm: between(0.06, 0.18),
      cutoffV: 36,
    },
    motor: {
      kind: 'hub',
      torqueConstant: between(1, 1.3),
      windingOhmAt25C: between(0.15, 0.28),
      gearRatio: 1,
      ironLossNm: between(0.3, 0.8),
      heatCapacityJPerK: between(1200, 2400),
      thermalResistanceKPerW: between(0.25, 0.45),
      ...(hasWinding && { winding }),
      hasFreewheel: between(0, 1) < 0.5,
    },
    controller: {
      batteryCurrentLimitA: between(14, 20),
      phaseCurrentLimitA: between(30, 40),
      idleW: between(2, 5),
      cutBackFromC: 140,
      cutBackToC: 160,
      speedLimitMps: between(24, 32) / 3.6,
      taperMps: between(0.4, 1),
      responseDelayS: between(0.15, 0.6),
      rampS: between(0.3, 0.8),
      levelShare: 0.6,
      regenerationCurrentA: between(1, 4),
      runOnS: between(0.2, 0.8),
      brakeCutoffS: between(0.1, 0.4),
    },
    rider: { powerW: between(50, 130), massKg: between(60, 100), targetSpeedMps: 25, brakingMps2: 1.1 },
    bike: {
      massKg,
      dragAreaM2: between(0.5, 0.75),
      rollingResistanceCoefficient: between(0.005, 0.01),
      wheelCircumferenceM: 2.1,
      rotatingMassFactor: between(1.012, 1.03),
      gears: [1.6, 2.2, 3],
      drivetrainEfficiency: 0.95,
    },
  };
}

/** Many tables at once, on all cores. */
export function coverageTables(jobs, threads = 2) {
  const waiting = [...jobs];
  const results = [];
  const next = () => {
    const job = waiting.shift();
    if (!job) return Promise.resolve();
    return new Promise((resolve, reject) => {
      const worker = new Worker(fileURLToPath(import.meta.url), { workerData: job });
      worker.on('message', (table) => results.push(table));
      worker.on('error', reject);
      worker.on('exit', () => resolve(next()));
    });
  };
  return Promise.all(Array.from({ length: threads }, next)).then(() => results);
}

if (!isMainThread && workerData?.kind)
  parentPort.postMessage(
    await coverageOf(workerData.kind, workerData.rides, workerData.loggerName, workerData.seed ?? 1),
  );
