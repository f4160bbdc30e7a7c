/** From the first check to what becomes of the ride. */
export const RIDE_STATES = ['preparing', 'armed', 'running', 'finished', 'kept', 'repeated', 'aborted'] as const;
export type RideState = (typeof RIDE_STATES)[number];

const NEXT: Readonly<Record<RideState, readonly RideState[]>> = {
  preparing: ['armed', 'aborted'],
  armed: ['running', 'preparing', 'aborted'],
  running: ['finished', 'aborted'],
  // Finished by mistake: the log goes on, so the ride may.
  finished: ['kept', 'repeated', 'aborted', 'running'],
  kept: [],
  repeated: [],
  aborted: [],
};
/** These need a reason in writing. */
export const NEEDS_REASON: readonly RideState[] = ['repeated', 'aborted'];

export function canBecome(from: RideState, to: RideState): boolean {
  return NEXT[from].includes(to);
}
export function isOver(state: RideState): boolean {
  return NEXT[state].length === 0;
}
