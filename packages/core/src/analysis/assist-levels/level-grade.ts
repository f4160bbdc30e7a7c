import type { CleanLog } from '../../logs/index.js';
import { rollingForceN } from '../../physics/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import { rideDistance } from '../range/ride-distance.js';
import { airDensityOf, type TestContext } from '../test-context.js';
import { fitLine } from '../uneven-scatter.js';

/** What a road that is not level did to a level's figures, at the most. */
export interface GradeEffect {
  /** Rise over distance in the window; 0 where none is seen. */
  readonly grade: number;
  /** W and m/s: limits, one way. */
  readonly powerW: number;
  readonly speedMps: number;
}

const SURE = 2;
/** Grades below this are a level road. */
const LEVEL = 0.0005;
const UNSEEN = 0.001;
const DRIVE_EFFICIENCY = 0.75;

/**
 * Grade of the road in a steady window, by a line through the altitude over the way, and what it may have done to the level's power and
 * speed: a drive holds either the one or the other, so each is limited as if it took all of it. Without altitude a grade of 0.1 % is allowed
 * for, which nobody sees; without a mass nothing can be.
 */
export function gradeEffect(
  log: CleanLog,
  { from, to }: { readonly from: number; readonly to: number },
  speedMps: number,
  context: TestContext,
): GradeEffect {
  const seen = gradeSeen(log, from, to);
  // What no altitude shows may still be there; what one shows as level is level within its error.
  const limit = seen?.isSloping ? Math.abs(seen.grade) : Math.min(UNSEEN, seen ? SURE * seen.error : UNSEEN);
  const grade = seen?.isSloping ? seen.grade : 0;
  const { totalMassKg, cdaM2, crr } = context;
  if (totalMassKg === undefined) return { grade, powerW: 0, speedMps: 0 };
  const force = totalMassKg * STANDARD_GRAVITY_MPS2 * limit;
  // How the resistance grows with speed; where it is not known, that of an ordinary rider.
  const density = airDensityOf(context) ?? 1.2;
  const drag = 0.5 * density * (cdaM2 ?? 0.6) * speedMps ** 2;
  const rolling = rollingForceN(
    { totalMassKg, rollingResistanceCoefficient: crr ?? 0.008, dragAreaM2: cdaM2 ?? 0.6 },
    0,
  );
  // A drive of constant power gives way by (3·drag + rolling)/v per m/s.
  const stiffness = (3 * drag + rolling) / speedMps;
  return { grade, powerW: (force * speedMps) / DRIVE_EFFICIENCY, speedMps: force / stiffness };
}

function gradeSeen(
  log: CleanLog,
  from: number,
  to: number,
): { readonly grade: number; readonly error: number; readonly isSloping: boolean } | undefined {
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
  const line = x.length < 8 ? undefined : fitLine(x, y);
  if (!line) return undefined;
  return {
    grade: line.slope,
    error: line.error,
    isSloping: Math.abs(line.slope) >= Math.max(LEVEL, SURE * line.error),
  };
}
