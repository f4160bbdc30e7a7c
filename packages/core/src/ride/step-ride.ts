import { canBecome, NEEDS_REASON, type RideState } from './ride-state.js';

/** A run's log begins this much before its start, by the logger's clock, so that the standing start is in it. */
export const BEFORE_START_S = 2;

/** What a step from one state to another is judged by, on the server and on a phone alike. */
export interface StepFacts {
  readonly state: RideState;
  readonly startedAt: string | null;
  /** Safety checks of the setup that are still to do. */
  readonly openClearance: number;
  readonly setupName: string;
}
export interface StepRefusal {
  readonly code: 'clearance-open' | 'reason-needed' | 'wrong-state';
  readonly message: string;
}

/** Why a ride cannot go on to a state; undefined where it can. */
export function refusalOfStep(
  { state, startedAt, openClearance, setupName }: StepFacts,
  to: RideState,
  reason: string | null,
): StepRefusal | undefined {
  if (!canBecome(state, to)) return { code: 'wrong-state', message: `A ride that is ${state} cannot become ${to}.` };
  if (NEEDS_REASON.includes(to) && (reason === null || reason.trim() === ''))
    return {
      code: 'reason-needed',
      message: 'Say in a few words why this run does not count. It is kept with the ride.',
    };
  if (to === 'armed' && openClearance > 0)
    return {
      code: 'clearance-open',
      message: `Safety checks of ${setupName} still to do: ${openClearance}. Pass them on its page, or waive them there in writing, before anyone rides.`,
    };
  if (to === 'kept' && startedAt === null) return { code: 'wrong-state', message: 'This ride never ran.' };
  return undefined;
}

export interface StepTimes {
  readonly startedAt?: string;
  readonly finishedAt?: string | null;
  /** Where the run begins and ends on the logger's clock, s; null where no logger sends. */
  readonly fromT?: number | null;
  readonly toT?: number | null;
}

/** What a step writes down of the moment: `at` by the clock on the wall, `t` by the logger's, where one sends. */
export function timesOfStep(from: RideState, to: RideState, at: string, t: number | undefined): StepTimes {
  if (to === 'running')
    return from === 'finished'
      ? // Finished by mistake: the log went on, and so does the ride.
        { finishedAt: null, toT: null }
      : { startedAt: at, fromT: t === undefined ? null : t - BEFORE_START_S };
  if (to === 'finished') return { finishedAt: at, toT: t ?? null };
  if (from === 'running') return { finishedAt: at };
  return {};
}
