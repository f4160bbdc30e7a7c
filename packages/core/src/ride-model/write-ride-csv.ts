import { standardNormal, type Random } from '../numeric/index.js';
import type { RideTrace } from './ride-trace.js';

export interface LoggerModel {
  /** 1 + relative error of each gain: the same for all rides of one logger. */
  readonly currentGain: number;
  readonly voltageGain: number;
  readonly distanceGain: number;
  readonly dropOuts: readonly { readonly fromS: number; readonly lengthS: number }[];
  readonly spikeCount: number;
  readonly decimalComma?: boolean;
  readonly currentOffsetA?: number;
  /** Error of the altitude at the start and at the end, m; it drifts evenly between them. */
  readonly altitudeErrorsM?: readonly [number, number];
  /** Error of the temperature at the start and at the end, K. */
  readonly temperatureErrorsK?: readonly [number, number];
  /** 1 + relative error of the rider's power meter. */
  readonly riderGain?: number;
  /** Step of the temperature reading; 0.1 K where not given. */
  readonly temperatureStepK?: number;
  /** Columns of a logger that also has rider power, level and brake. */
  readonly hasMore?: boolean;
  /** A phone alone: positions (noise 2 m) and altitude, nothing of the bike. */
  readonly isPhone?: boolean;
  /** The clock is set back by so much at half time. */
  readonly clockJumpS?: number;
}

/** On an invented island in the open Atlantic. */
const ISLAND = { latitude: -21.4, longitude: -24.6 };
const METRES_PER_DEGREE = 111_195;

/** What a simple logger would have written of a ride: noise, resolution, drop-outs and speed spikes, all from the seed. */
export function writeRideCsv(trace: RideTrace, logger: LoggerModel, random: Random): string {
  const noise = (standardDeviation: number): number => standardDeviation * standardNormal(random);
  const n = trace.timeS.length;
  const spikes = new Map<number, number>();
  while (spikes.size < Math.min(logger.spikeCount, Math.floor(n / 100)))
    spikes.set(20 + Math.floor(random() * (n - 40)), 70 + 60 * random());
  if (logger.isPhone) return writePhoneCsv(trace, logger, random);
  const header = [
    'time (s)',
    'speed (km/h)',
    'distance (m)',
    'altitude (m)',
    'voltage (V)',
    'current (A)',
    'motor temperature (°C)',
    'cadence (rpm)',
    ...(logger.hasMore ? ['rider power (W)', 'assist level', 'brake'] : []),
  ];
  const stepK = logger.temperatureStepK ?? 0.1;
  const drift = ([start, end]: readonly [number, number] = [0, 0], k: number): number =>
    start + ((end - start) * k) / Math.max(1, n - 1);
  const lines: string[] = [];
  for (let k = 0; k < n; k++) {
    const t = trace.timeS[k]!;
    const celsius = trace.motorC[k]! + drift(logger.temperatureErrorsK, k) + noise(0.2);
    const cells = [
      (logger.clockJumpS && k > n / 2 ? t - logger.clockJumpS : t).toFixed(2),
      (spikes.get(k) ?? Math.max(0, trace.speedMps[k]! * 3.6 * logger.distanceGain + noise(0.08))).toFixed(2),
      (trace.distanceM[k]! * logger.distanceGain).toFixed(1),
      (trace.altitudeM[k]! + drift(logger.altitudeErrorsM, k) + noise(0.25)).toFixed(1),
      (trace.voltageV[k]! * logger.voltageGain + noise(0.03)).toFixed(2),
      (trace.currentA[k]! * logger.currentGain + (logger.currentOffsetA ?? 0) + noise(0.05)).toFixed(2),
      (Math.round(celsius / stepK) * stepK).toFixed(1),
      Math.max(0, trace.cadenceRpm[k]! + (trace.cadenceRpm[k]! > 0 ? noise(1) : 0)).toFixed(0),
      ...(logger.hasMore
        ? [
            Math.max(0, trace.riderW[k]! * (logger.riderGain ?? 1) + (trace.riderW[k]! > 0 ? noise(4) : 0)).toFixed(0),
            trace.assistLevel[k]!.toFixed(0),
            trace.brake[k]!.toFixed(0),
          ]
        : []),
    ];
    if (logger.dropOuts.some(({ fromS, lengthS }) => t > fromS && t < fromS + lengthS)) continue;
    lines.push(logger.decimalComma ? cells.map((cell) => cell.replace('.', ',')).join(';') : cells.join(','));
  }
  return [header.join(logger.decimalComma ? ';' : ','), ...lines, ''].join('\n');
}

/** Position errors of a phone wander: neighbouring fixes err alike. */
const WANDER_M = 2;
const REMEMBERED = 0.97;

function writePhoneCsv(trace: RideTrace, { dropOuts }: LoggerModel, random: Random): string {
  let [east, north] = [0, 0];
  const lines: string[] = [];
  for (let k = 0; k < trace.timeS.length; k++) {
    const fresh = WANDER_M * Math.sqrt(1 - REMEMBERED ** 2);
    east = REMEMBERED * east + fresh * standardNormal(random);
    north = REMEMBERED * north + fresh * standardNormal(random);
    const t = trace.timeS[k]!;
    if (dropOuts.some(({ fromS, lengthS }) => t > fromS && t < fromS + lengthS)) continue;
    const latitude = ISLAND.latitude + north / METRES_PER_DEGREE;
    const longitude =
      ISLAND.longitude +
      (trace.distanceM[k]! + east) / (METRES_PER_DEGREE * Math.cos((ISLAND.latitude * Math.PI) / 180));
    lines.push(
      [
        t.toFixed(2),
        latitude.toFixed(7),
        longitude.toFixed(7),
        (trace.altitudeM[k]! + 2 * standardNormal(random)).toFixed(1),
      ].join(','),
    );
  }
  return ['time (s),latitude,longitude,altitude (m)', ...lines, ''].join('\n');
}
