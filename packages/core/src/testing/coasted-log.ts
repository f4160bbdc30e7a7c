import type { CleanLog } from '../logs/index.js';
import type { PlainLogger } from './plain-ride.js';
import { logOfColumns } from './test-logs.js';

/** Speed (m/s) and current (A) every `step` seconds, of a bike whose motion was worked out by small steps. */
export interface Motion {
  readonly speed: readonly number[];
  readonly amps: readonly number[];
  readonly step: number;
}

/** What an ordinary logger wrote of it. */
export function coastedLog({ speed, amps, step }: Motion, logger: PlainLogger, hz: number): CleanLog {
  const at = (values: readonly number[], t: number): number => values[Math.round(t / step)] ?? 0;
  return logOfColumns(Math.floor(speed.length * step) - 1, hz, {
    'speed (km/h)': (t) => Math.max(0, 3.6 * logger.speed * at(speed, t) + 0.08 * logger.noise()),
    'voltage (V)': () => 52,
    'current (A)': (t) => at(amps, t) + 0.03 * logger.noise(),
  });
}

/** Six coasts in turns, there and back, by a bike of a mass. */
export function inTurns(totalMassKg: number) {
  const directions = [1, -1, 1, -1, 1, -1] as const;
  return { totalMassKg, airDensity: 1.2, rotatingMassFactor: 1.02, directions };
}
