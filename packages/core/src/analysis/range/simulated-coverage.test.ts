import { seededRandom, type Random } from '../../numeric/index.js';
import { cleanLog, readLog } from '../../logs/index.js';
import { simulateRide, writeRideCsv, type RideCourse, type RideModel } from '../../ride-model/index.js';
import { exampleRideModel } from '../../testing/example-ride-model.js';
import { analyseRange, DEFAULT_INSTRUMENT } from '../index.js';

const model = (random: Random): RideModel => ({
  ...exampleRideModel,
  // Freewheeling, so that no braking between two samples blurs the energy.
  motor: { ...exampleRideModel.motor, hasFreewheel: true },
  controller: { ...exampleRideModel.controller, regenerationCurrentA: 0 },
  rider: { powerW: 60 + 60 * random(), massKg: 60 + 40 * random(), targetSpeedMps: 6 + random(), brakingMps2: 1.1 },
});
const course: RideCourse = {
  lengthM: 4000,
  profile: Array.from({ length: 41 }, (_, k) => ({ distanceM: 100 * k, altitudeM: 20 + 8 * Math.sin(k / 5) })),
  stops: [
    { distanceM: 1300, dwellS: 10 },
    { distanceM: 2900, dwellS: 15 },
  ],
};

describe('stated intervals', () => {
  it('hold the truth about 19 times in 20 over loggers whose gains lie anywhere within their limits', () => {
    const random = seededRandom(99);
    const within = (limit: number): number => 1 + limit * (2 * random() - 1);
    const held = { energyOut: 0, distance: 0, netConsumption: 0 };
    const rides = 120;
    for (let k = 0; k < rides; k++) {
      const ride = simulateRide(
        model(random),
        course,
        { airDensity: 1.2, airTemperatureC: 15, windMps: 2 * random(), startStateOfCharge: 0.95, startMotorC: 15 },
        { stepS: 0.02 },
      );
      const csv = writeRideCsv(
        ride.trace,
        {
          currentGain: within(DEFAULT_INSTRUMENT.currentGain),
          voltageGain: within(DEFAULT_INSTRUMENT.voltageGain),
          distanceGain: within(DEFAULT_INSTRUMENT.distanceGain),
          dropOuts: k % 3 === 0 ? [{ fromS: 200, lengthS: 20 }] : [],
          spikeCount: k % 4,
        },
        random,
      );
      const raw = readLog(new TextEncoder().encode(csv));
      const log = raw.ok ? cleanLog(raw.value) : raw;
      if (!log.ok) throw new Error(log.problem.message);
      const { figures } = analyseRange(log.value);
      const netWh = (ride.terminalEnergyOutJ - ride.terminalEnergyRegeneratedJ) / 3600;
      // A 1 Hz log ends up to a second before the finish: the truth is that of the logged part.
      const km = ride.trace.distanceM.at(-1)! / 1000;
      const truth = { energyOut: ride.terminalEnergyOutJ / 3600, distance: km, netConsumption: netWh / km };
      for (const key of ['energyOut', 'distance', 'netConsumption'] as const) {
        const [lower, upper] = figures.find((figure) => figure.key === key)!.interval95;
        if (lower <= truth[key] && truth[key] <= upper) held[key]++;
      }
    }
    for (const count of Object.values(held)) expect(count / rides).toBeGreaterThan(0.9);
  });
});
