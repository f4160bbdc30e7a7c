import { EFFORTS } from '../../ride-model/index.js';
import {
  isAlike,
  isSaid,
  RIDING_FIELDS,
  RIDING_WORDS,
  type FixedRiding,
  type Riding,
  type RidingField,
} from './riding.js';

export interface TrialArm {
  readonly revisionId: string;
  readonly riding: FixedRiding;
}
/** A run that a trial may count, and what might keep it from counting. */
export interface CandidateRun {
  readonly id: string;
  readonly revisionId: string;
  readonly riding: Riding;
  readonly isSimulated: boolean;
  /** Left out by a person: it has its arm, but neither raises a question nor answers one. */
  readonly isExcluded: boolean;
  /** More of its figure was filled in for gaps than was measured. */
  readonly isMostlyEstimated: boolean;
}
export interface SortedRuns {
  /** Arm by index for each run that counts. */
  readonly armOf: ReadonlyMap<string, number>;
  /** Why a run does not count, by its id. */
  readonly apart: ReadonlyMap<string, ApartReason>;
  /** What the trial has to say before its runs can be compared; undefined where nothing is open. */
  readonly open?: OpenQuestion;
}
export interface ApartReason {
  readonly kind: 'estimated' | 'not-said' | 'ridden-otherwise' | 'simulated';
  readonly text: string;
  /** Where the run would belong if it counted. */
  readonly arm?: number;
  readonly field?: RidingField;
}
/** Runs of one arm that were ridden differently, and the trial holds nothing of it. */
export interface OpenQuestion {
  readonly field: RidingField;
  /** What was found, with how many runs each. */
  readonly found: readonly { readonly value: string; readonly runs: number }[];
  readonly text: string;
}

/**
 * Which runs of a trial count for which arm. Runs of another way of riding than the arm or the trial says, simulated ones and
 * those mostly estimated stand apart with the reason; what is not written down is asked for, never guessed.
 */
export function sortIntoArms(
  runs: readonly CandidateRun[],
  arms: readonly TrialArm[],
  held: FixedRiding,
  options: { readonly countsSimulated: boolean },
): SortedRuns {
  const armOf = new Map<string, number>();
  const apart = new Map<string, ApartReason>();
  for (const run of runs) {
    const arm = armFor(run, arms);
    if (arm === undefined) continue;
    const reason = run.isSimulated && !options.countsSimulated ? SIMULATED : misfit(run, fixedOf(arms[arm]!, held));
    if (reason) apart.set(run.id, { ...reason, arm });
    else if (run.isMostlyEstimated) apart.set(run.id, { ...ESTIMATED, arm });
    else armOf.set(run.id, arm);
  }
  const open = openQuestion(runs, arms, held, armOf);
  if (open) return { armOf, apart, open };
  askForUnsaidWay(runs, arms, held, armOf, apart);
  return { armOf, apart };
}

const SIMULATED: ApartReason = { kind: 'simulated', text: 'simulated, not ridden' };
const ESTIMATED: ApartReason = { kind: 'estimated', text: 'more of it was filled in for gaps than measured' };

/** The arm of a run: the one whose fixed points it meets most of; of several, the first. */
function armFor(run: CandidateRun, arms: readonly TrialArm[]): number | undefined {
  let best: { arm: number; score: number } | undefined;
  arms.forEach(({ revisionId, riding }, arm) => {
    if (revisionId !== run.revisionId) return;
    const fixed = RIDING_FIELDS.filter((field) => isSaid(riding[field]));
    const met = fixed.filter((field) => isSaid(run.riding[field]) && isAlike(field, run.riding[field], riding[field]));
    const missed = fixed.filter(
      (field) => isSaid(run.riding[field]) && !isAlike(field, run.riding[field], riding[field]),
    );
    const score = met.length - 10 * missed.length;
    if (!best || score > best.score) best = { arm, score };
  });
  return best?.arm;
}

function fixedOf(arm: TrialArm, held: FixedRiding): FixedRiding {
  const merged = { ...held } as Record<RidingField, Riding[RidingField]>;
  for (const field of RIDING_FIELDS) if (isSaid(arm.riding[field])) merged[field] = arm.riding[field];
  return merged as unknown as FixedRiding;
}

function misfit(run: CandidateRun, fixed: FixedRiding): ApartReason | undefined {
  for (const field of RIDING_FIELDS) {
    if (!isSaid(fixed[field])) continue;
    if (!isSaid(run.riding[field])) return notSaid(field);
    if (!isAlike(field, run.riding[field], fixed[field]))
      return {
        kind: 'ridden-otherwise',
        field,
        text: `ridden with another ${RIDING_WORDS[field]}: ${valueText(field, run.riding[field])}, not ${valueText(field, fixed[field])}`,
      };
  }
  return undefined;
}

function notSaid(field: RidingField): ApartReason {
  return { kind: 'not-said', field, text: `its ${RIDING_WORDS[field]} is not written down` };
}

/** Fields in which runs must be alike: the way over all arms that leave it open, the rest within each arm. */
const ALIKE_WITHIN_ARM = ['level', 'limitMode'] as const;

function openQuestion(
  runs: readonly CandidateRun[],
  arms: readonly TrialArm[],
  held: FixedRiding,
  armOf: ReadonlyMap<string, number>,
): OpenQuestion | undefined {
  const counted = runs.filter(({ id, isExcluded }) => armOf.has(id) && !isExcluded);
  const open = (field: RidingField) =>
    counted.filter(({ id }) => !isSaid(held[field]) && !isSaid(arms[armOf.get(id)!]!.riding[field]));
  const ways = valuesOf(open('way'), 'way');
  if (ways.length > 1) return ask('way', ways);
  for (const field of ALIKE_WITHIN_ARM)
    for (let arm = 0; arm < arms.length; arm++) {
      const found = valuesOf(
        open(field).filter(({ id }) => armOf.get(id) === arm),
        field,
      );
      if (found.length > 1) return ask(field, found);
    }
  return undefined;
}

function valuesOf(runs: readonly CandidateRun[], field: RidingField): { value: string; runs: number }[] {
  const counts = new Map<string, number>();
  for (const { riding } of runs)
    if (isSaid(riding[field])) counts.set(String(riding[field]), (counts.get(String(riding[field])) ?? 0) + 1);
  return [...counts].map(([value, count]) => ({ value, runs: count })).sort((a, b) => b.runs - a.runs);
}

function ask(field: RidingField, found: OpenQuestion['found']): OpenQuestion {
  const list = found
    .map(({ value, runs }) => `${valueText(field, value)} (${runs} ${runs === 1 ? 'run' : 'runs'})`)
    .join(', ');
  return {
    field,
    found,
    text: `The runs were not all ridden alike: ${list}. Say which ${RIDING_WORDS[field]} this trial holds, or compare them as setups of their own.`,
  };
}

/** Some runs say how they were ridden, and all alike: those that do not say are asked, not taken for the same. */
function askForUnsaidWay(
  runs: readonly CandidateRun[],
  arms: readonly TrialArm[],
  held: FixedRiding,
  armOf: Map<string, number>,
  apart: Map<string, ApartReason>,
): void {
  if (isSaid(held.way)) return;
  const open = runs.filter(({ id }) => armOf.has(id) && !isSaid(arms[armOf.get(id)!]!.riding.way));
  if (!open.some(({ riding, isExcluded }) => isSaid(riding.way) && !isExcluded)) return;
  for (const { id, riding, isExcluded } of open) {
    if (isSaid(riding.way) || isExcluded) continue;
    apart.set(id, { ...notSaid('way'), arm: armOf.get(id)! });
    armOf.delete(id);
  }
}

/** How a value of a field is said: "throttle only, no pedalling", "level 3", "20 kg". */
export function valueText(field: RidingField, value: Riding[RidingField]): string {
  switch (field) {
    case 'way':
      return value !== null && value in EFFORTS
        ? EFFORTS[value as keyof typeof EFFORTS].label.toLowerCase()
        : 'not said';
    case 'level':
      return `level ${String(value)}`;
    case 'gear':
      return `gear ${String(value)}`;
    case 'payloadKg':
      return `${String(value)} kg`;
    case 'limitMode':
      return value === 'opened' ? 'opened on private ground' : 'as legal';
    case 'laps':
      return `${String(value)} ${value === 1 ? 'lap' : 'laps'}`;
  }
}

/** What tells an arm from another of the same setup: "level 3, throttle only"; empty where it fixes nothing. */
export function ridingText(riding: FixedRiding): string {
  return RIDING_FIELDS.filter((field) => isSaid(riding[field]))
    .map((field) => valueText(field, riding[field]))
    .join(', ');
}
