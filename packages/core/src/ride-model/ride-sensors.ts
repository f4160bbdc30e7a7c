import { standardNormal, type Random } from '../numeric/index.js';
import type { ChannelName } from '../logs/index.js';
import type { RideTrace } from './ride-trace.js';

/** What a simulated logger reads off a ride at sample `k`, in the units the protocol takes as its own (km/h, m, V, A, °C, rpm). */
export type SensorReading = Partial<Record<ChannelName, number>>;

/** Noise and resolution of ordinary sensors; all chance from `random`. */
export function readSensors(trace: RideTrace, k: number, random: Random): SensorReading {
  const noise = (standardDeviation: number): number => standardDeviation * standardNormal(random);
  const round = (value: number, digits: number): number => Number(value.toFixed(digits));
  const cadence = trace.cadenceRpm[k]!;
  return {
    speed: round(Math.max(0, trace.speedMps[k]! * 3.6 + noise(0.08)), 2),
    distance: round(trace.distanceM[k]!, 1),
    altitude: round(trace.altitudeM[k]! + noise(0.25), 1),
    voltage: round(trace.voltageV[k]! + noise(0.03), 2),
    current: round(trace.currentA[k]! + noise(0.05), 2),
    motorTemperature: round(trace.motorC[k]! + noise(0.2), 1),
    cadence: round(Math.max(0, cadence + (cadence > 0 ? noise(1) : 0)), 0),
    stateOfCharge: round(100 * trace.stateOfCharge[k]!, 1),
  };
}
