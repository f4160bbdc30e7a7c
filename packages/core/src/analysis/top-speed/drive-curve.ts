import type { CleanLog } from '../../logs/index.js';
import { atShare, firstAtOrAfter } from '../../numeric/index.js';
import type { SpeedPass } from './measure-passes.js';

/** What a log tells of the drive at full demand: its current limit, and the speed up to which it is held. */
export interface DriveCurve {
  readonly limitA: number;
  readonly kinkMps: number;
  /** Mean current in the steady window of a pass, A. */
  readonly currentOf: (pass: SpeedPass) => number;
}

const AT_LIMIT = 0.95;
/** Of the samples at the limit, the speed that so many do not pass: single ones are noise. */
const SPEED_QUANTILE = 0.97;
const LIMIT_QUANTILE = 0.95;
const MIN_SAMPLES = 20;

/** The drive's curve from the passes of a log, accelerations at full demand included; undefined without current. */
export function driveCurve({ timeS, channels }: CleanLog, passes: readonly SpeedPass[]): DriveCurve | undefined {
  const { current, speed } = channels;
  if (!current || !speed || passes.length === 0) return undefined;
  const [amps, speeds]: [number[], number[]] = [[], []];
  for (const { startS, toS } of passes)
    for (let k = firstAtOrAfter(timeS, startS); k < timeS.length && timeS[k]! <= toS; k++)
      if (current[k]! > 0 && speed[k]! > 1) {
        amps.push(current[k]!);
        speeds.push(speed[k]!);
      }
  if (amps.length < MIN_SAMPLES) return undefined;
  const limitA = atShare(amps, LIMIT_QUANTILE)!;
  const atLimit = speeds.filter((_, k) => amps[k]! >= AT_LIMIT * limitA);
  return {
    limitA,
    kinkMps: atShare(atLimit, SPEED_QUANTILE)!,
    currentOf: ({ fromS, toS }) => {
      let [sum, count] = [0, 0];
      for (let k = firstAtOrAfter(timeS, fromS); k < timeS.length && timeS[k]! <= toS; k++)
        if (!Number.isNaN(current[k]!)) {
          sum += current[k]!;
          count++;
        }
      return count > 0 ? sum / count : NaN;
    },
  };
}
