import { cleanLog, readLog } from '../logs/index.js';
import { seededRandom } from '../numeric/index.js';
import { exampleRideModel } from '../testing/example-ride-model.js';
import { simulateRide, writeRideCsv, type LoggerModel, type RideCourse } from './index.js';

const course: RideCourse = {
  lengthM: 2500,
  profile: [
    { distanceM: 0, altitudeM: 5 },
    { distanceM: 2500, altitudeM: 5 },
  ],
  stops: [{ distanceM: 1200, dwellS: 12 }],
};
const conditions = { airDensity: 1.2, airTemperatureC: 15, windMps: 0, startStateOfCharge: 0.9, startMotorC: 15 };
const logger: LoggerModel = { currentGain: 1, voltageGain: 1, distanceGain: 1, dropOuts: [], spikeCount: 0 };
const { trace } = simulateRide(exampleRideModel, course, conditions, { stepS: 0.02 });
const log = (change: Partial<LoggerModel>, seed = 1) => {
  const raw = readLog(new TextEncoder().encode(writeRideCsv(trace, { ...logger, ...change }, seededRandom(seed))));
  const clean = raw.ok ? cleanLog(raw.value) : raw;
  if (!clean.ok) throw new Error(clean.problem.message);
  return clean.value;
};

describe('the log of a simulated ride', () => {
  it('is read without a question and carries what was ridden', () => {
    const { channels, timeS } = log({});
    expect(timeS.length).toBe(trace.timeS.length);
    expect(channels.distance!.at(-1)).toBeCloseTo(trace.distanceM.at(-1)!, 0);
  });
  it('reads the same with decimal commas', () =>
    expect(log({ decimalComma: true }).channels.voltage).toEqual(log({}).channels.voltage));
  it('shows drop-outs as gaps and spikes as spikes', () => {
    const { report } = log({ dropOuts: [{ fromS: 100, lengthS: 20 }], spikeCount: 3 });
    expect(report.gaps).toHaveLength(1);
    expect(report.spikes.find(({ channel }) => channel === 'speed')!.count).toBe(3);
  });
  it('carries the gain of its sensors', () => {
    const ratio = log({ distanceGain: 1.02 }).channels.distance!.at(-1)! / log({}).channels.distance!.at(-1)!;
    expect(ratio).toBeCloseTo(1.02, 4);
  });
});

describe('the simulated ride', () => {
  it('stops at the door for as long as it must and goes on', () => {
    const standing = trace.speedMps.reduce((n, v, k) => (v < 0.1 && trace.distanceM[k]! > 1000 ? n + 1 : n), 0);
    expect(standing).toBeGreaterThanOrEqual(11);
    expect(trace.distanceM.at(-1)!).toBeGreaterThan(2480);
  });
  it('never rides faster than the rider wants by more than a little', () => {
    expect(Math.max(...trace.speedMps)).toBeLessThan(exampleRideModel.rider.targetSpeedMps + 1.6);
  });
  it('draws the pack down and warms the motor', () => {
    expect(trace.stateOfCharge.at(-1)!).toBeLessThan(trace.stateOfCharge[0]!);
    expect(trace.motorC.at(-1)!).toBeGreaterThan(trace.motorC[0]!);
  });
});
