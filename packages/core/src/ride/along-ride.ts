import { isOver, type RideState } from './ride-state.js';
import { refusalOfStep, timesOfStep, type StepRefusal } from './step-ride.js';

/** A tap or a reading of a ride on a phone; undone ones stay and do not count. */
export interface AlongMark {
  readonly id: string;
  readonly kind: string;
  readonly at: string;
  readonly isUndone: boolean;
}

/** What a ride that a phone carries needs to go on: the rest travels with it untouched. */
export interface AlongRideCore {
  readonly id: string;
  readonly state: RideState;
  readonly startedAt: string | null;
  readonly finishedAt: string | null;
  readonly fromT: number | null;
  readonly toT: number | null;
  readonly reason: string;
  readonly openClearance: number;
  readonly setupName: string;
  readonly marks: readonly AlongMark[];
}

/** One thing that was done on the phone. All of a ride follows from them, in the order they were done. */
export type AlongEvent =
  | {
      readonly kind: 'step';
      readonly to: RideState;
      readonly at: string;
      readonly t?: number;
      readonly reason?: string;
    }
  | { readonly kind: 'mark'; readonly mark: AlongMark }
  | { readonly kind: 'undo'; readonly markId: string; readonly isUndone: boolean };

/**
 * A ride after one more event, by the same rules as on the server; or why it stays as it is.
 * A mark that came before is no second one; a ride that is over takes nothing more.
 */
export function afterEvent<R extends AlongRideCore>(ride: R, event: AlongEvent): R | StepRefusal {
  if (event.kind === 'step') {
    const refusal = refusalOfStep(ride, event.to, event.reason ?? null);
    if (refusal) return refusal;
    return {
      ...ride,
      ...timesOfStep(ride.state, event.to, event.at, event.t),
      state: event.to,
      ...(event.reason !== undefined && { reason: event.reason }),
    };
  }
  if (isOver(ride.state)) return { code: 'wrong-state', message: 'This ride is over. Correct its run instead.' };
  if (event.kind === 'undo')
    return {
      ...ride,
      marks: ride.marks.map((mark) => (mark.id === event.markId ? { ...mark, isUndone: event.isUndone } : mark)),
    };
  return ride.marks.some(({ id }) => id === event.mark.id) ? ride : { ...ride, marks: [...ride.marks, event.mark] };
}

export function isRefusal(outcome: object): outcome is StepRefusal {
  return 'code' in outcome && 'message' in outcome;
}
