import { standardNormal, type Random } from '../numeric/index.js';
import type { RideTrace } from './simulate-ride.js';

export interface LoggerModel {
  /** 1 + relative error of each gain: the same for all rides of one logger. */
  readonly currentGain: number;
  readonly voltageGain: number;
  readonly distanceGain: number;
  readonly dropOuts: readonly { readonly fromS: number; readonly lengthS: number }[];
  readonly spikeCount: number;
  readonly decimalComma?: boolean;
}

/** What a simple logger would have written of a ride: noise, resolution, drop-outs and speed spikes, all from the seed. */
export function writeRideCsv(trace: RideTrace, logger: LoggerModel, random: Random): string {
  const noise = (standardDeviation: number): number => standardDeviation * standardNormal(random);
  const n = trace.timeS.length;
  const spikes = new Map<number, number>();
  while (spikes.size < Math.min(logger.spikeCount, Math.floor(n / 100)))
    spikes.set(20 + Math.floor(random() * (n - 40)), 70 + 60 * random());
  const header = [
    'time (s)',
    'speed (km/h)',
    'distance (m)',
    'altitude (m)',
    'voltage (V)',
    'current (A)',
    'motor temperature (°C)',
    'cadence (rpm)',
  ];
  const lines: string[] = [];
  for (let k = 0; k < n; k++) {
    const t = trace.timeS[k]!;
    const cells = [
      t.toFixed(2),
      (spikes.get(k) ?? Math.max(0, trace.speedMps[k]! * 3.6 * logger.distanceGain + noise(0.08))).toFixed(2),
      (trace.distanceM[k]! * logger.distanceGain).toFixed(1),
      (trace.altitudeM[k]! + noise(0.25)).toFixed(1),
      (trace.voltageV[k]! * logger.voltageGain + noise(0.03)).toFixed(2),
      (trace.currentA[k]! * logger.currentGain + noise(0.05)).toFixed(2),
      (trace.motorC[k]! + noise(0.2)).toFixed(1),
      Math.max(0, trace.cadenceRpm[k]! + (trace.cadenceRpm[k]! > 0 ? noise(1) : 0)).toFixed(0),
    ];
    if (logger.dropOuts.some(({ fromS, lengthS }) => t > fromS && t < fromS + lengthS)) continue;
    lines.push(logger.decimalComma ? cells.map((cell) => cell.replace('.', ',')).join(';') : cells.join(','));
  }
  return [header.join(logger.decimalComma ? ';' : ','), ...lines, ''].join('\n');
}
