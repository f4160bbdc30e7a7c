import type { CleanLog } from '../../logs/index.js';
import { rollingForceN } from '../../physics/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import { rideDistance } from '../range/ride-distance.js';
import { airDensityOf, type TestContext } from '../test-context.js';
import { correlationInflation } from '../uneven-scatter.js';

/** What a road that is not level did to a level's figures, at the most. */
export interface GradeEffect {
  /** Rise over distance in the window, with its standard error. */
  readonly grade: number;
  readonly error: number;
  /** W and m/s: limits, one way. */
  readonly powerW: number;
  readonly speedMps: number;
}

const SURE = 2;
/** Grades below this are a level road. */
const LEVEL = 0.0005;
const DRIVE_EFFICIENCY = 0.75;

/**
 * Grade of the road in a steady window, by a line through the altitude over the way, and what it may have done to the level's power and
 * speed: a drive holds either the one or the other, so each is limited as if it took all of it. Undefined without altitude, on a road
 * that is level within its error, or where the mass is not known (then only the grade is given, effects NaN).
 */
export function gradeEffect(
  log: CleanLog,
  { from, to }: { readonly from: number; readonly to: number },
  speedMps: number,
  context: TestContext,
): GradeEffect | undefined {
  const { altitude } = log.channels;
  const distance = altitude && rideDistance(log);
  if (!altitude || !distance) return undefined;
  const x: number[] = [];
  const y: number[] = [];
  for (let k = from; k <= to; k++)
    if (!Number.isNaN(altitude[k]!)) {
      x.push(distance.cumulativeM[k]!);
      y.push(altitude[k]!);
    }
  if (x.length < 8) return undefined;
  const meanX = x.reduce((sum, v) => sum + v, 0) / x.length;
  const meanY = y.reduce((sum, v) => sum + v, 0) / y.length;
  let [sxx, sxy] = [0, 0];
  x.forEach((v, k) => {
    sxx += (v - meanX) ** 2;
    sxy += (v - meanX) * (y[k]! - meanY);
  });
  if (!(sxx > 0)) return undefined;
  const grade = sxy / sxx;
  const residuals = y.map((v, k) => v - meanY - grade * (x[k]! - meanX));
  const variance = residuals.reduce((sum, r) => sum + r * r, 0) / Math.max(1, x.length - 2);
  const error = Math.sqrt(variance / sxx) * correlationInflation(residuals);
  if (Math.abs(grade) < Math.max(LEVEL, SURE * error)) return undefined;
  const { totalMassKg, cdaM2, crr } = context;
  if (totalMassKg === undefined) return { grade, error, powerW: NaN, speedMps: NaN };
  const force = totalMassKg * STANDARD_GRAVITY_MPS2 * Math.abs(grade);
  // How the resistance grows with speed; where it is not known, that of an ordinary rider.
  const density = airDensityOf(context) ?? 1.2;
  const drag = 0.5 * density * (cdaM2 ?? 0.6) * speedMps ** 2;
  const rolling = rollingForceN(
    { totalMassKg, rollingResistanceCoefficient: crr ?? 0.008, dragAreaM2: cdaM2 ?? 0.6 },
    0,
  );
  // A drive of constant power gives way by (3·drag + rolling)/v per m/s.
  const stiffness = (3 * drag + rolling) / speedMps;
  return { grade, error, powerW: (force * speedMps) / DRIVE_EFFICIENCY, speedMps: force / stiffness };
}
