import { AXLE_WIDTH } from './rules/axle-fit.js';
import { CHAIN_TO_FRAME, CHAIN_TO_MOTOR } from './rules/drive-side.js';
import type { ConvertedSetup } from './facts.js';
import type { Assessment } from './rule.js';

/** A freewheel or cassette that could be fitted. */
export interface CogCandidate {
  readonly name: string;
  readonly stackMm: number;
}
/** What is at hand: spacers of one thickness, and inner washers by their thickness on the right side. */
export interface DriveSideStock {
  readonly cogs: readonly CogCandidate[];
  readonly spacerMm: number;
  /** From none up to so many. */
  readonly mostSpacers: number;
  readonly washersRightMm: readonly number[];
}
export interface DriveSideRow {
  readonly cogs: string;
  readonly spacers: number;
  readonly washersRightMm: number;
  /** What is left between largest cog and motor, smallest cog and frame; how far the ends are spread (negative: a gap). In mm, null for not known. */
  readonly toMotorMm: number;
  readonly toFrameMm: number | null;
  readonly spreadMm: number | null;
  readonly toMotor: Assessment;
  readonly toFrame: Assessment;
  readonly axle: Assessment;
  /** All three pass: 'fits'; one fails: 'does-not'; else what is not known decides. */
  readonly state: 'does-not' | 'fits' | 'unknown';
}

/**
 * Every combination of cogs, spacers and washers, each judged by the very rules of the checks; those that fit first, and of
 * those the ones with the fewest spacers. Lengths in mm.
 */
export function driveSideTable(setup: ConvertedSetup, stock: DriveSideStock): DriveSideRow[] {
  const spacers = Array.from({ length: stock.mostSpacers + 1 }, (_, k) => k);
  const rows = stock.cogs.flatMap(({ name, stackMm }) =>
    spacers.flatMap((count) =>
      stock.washersRightMm.map((washersRightMm): DriveSideRow => {
        const tried: ConvertedSetup = {
          ...setup,
          bike: { ...setup.bike, cogStackMm: stackMm },
          fit: { ...setup.fit, cogSpacerMm: stock.spacerMm, cogSpacers: count, washersRightMm },
        };
        const [toMotor, toFrame, axle] = [CHAIN_TO_MOTOR, CHAIN_TO_FRAME, AXLE_WIDTH].map((rule) =>
          rule.assess(tried),
        ) as [Assessment, Assessment, Assessment];
        const states = [toMotor.state, toFrame.state, axle.state];
        const state = states.includes('failed')
          ? 'does-not'
          : states.every((one) => one === 'passed')
            ? 'fits'
            : 'unknown';
        const toMotorMm = stock.spacerMm * count;
        const { axleWidthMm, cogSpaceMm } = setup.kit;
        return {
          cogs: name,
          spacers: count,
          washersRightMm,
          toMotorMm,
          toFrameMm: sum(cogSpaceMm, washersRightMm, -stackMm, -toMotorMm),
          spreadMm: sum(axleWidthMm, setup.fit.washersLeftMm, washersRightMm, negative(setup.bike.rearDropoutMm)),
          toMotor,
          toFrame,
          axle,
          state,
        };
      }),
    ),
  );
  const order = { fits: 0, unknown: 1, 'does-not': 2 };
  const failures = ({ toMotor, toFrame, axle }: DriveSideRow): number =>
    [toMotor, toFrame, axle].filter(({ state }) => state === 'failed').length;
  return rows
    .map((row, k) => ({ row, k }))
    .sort(
      (a, b) =>
        order[a.row.state] - order[b.row.state] ||
        failures(a.row) - failures(b.row) ||
        a.row.spacers - b.row.spacers ||
        a.row.washersRightMm - b.row.washersRightMm ||
        a.k - b.k,
    )
    .map(({ row }) => row);
}

function sum(...parts: readonly (number | null)[]): number | null {
  let all = 0;
  for (const part of parts) {
    if (part === null) return null;
    all += part;
  }
  return Number(all.toFixed(6));
}
function negative(value: number | null): number | null {
  return value === null ? null : -value;
}
