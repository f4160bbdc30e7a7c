import type { RideMarkInput } from '@ebrix/contract';

/** Marks that were tapped and are not on the server yet: kept in the browser through reloads and lost connections. */
const keyOf = (rideId: string): string => `ebrix.marks.${rideId}`;

export function waitingMarks(storage: Storage, rideId: string): RideMarkInput[] {
  try {
    const stored: unknown = JSON.parse(storage.getItem(keyOf(rideId)) ?? '[]');
    return Array.isArray(stored) ? (stored as RideMarkInput[]) : [];
  } catch {
    return [];
  }
}

export function keepMark(storage: Storage, rideId: string, mark: RideMarkInput): void {
  storage.setItem(keyOf(rideId), JSON.stringify([...waitingMarks(storage, rideId), mark]));
}

/** Takes those off that the server has. */
export function dropMarks(storage: Storage, rideId: string, ids: readonly string[]): void {
  const rest = waitingMarks(storage, rideId).filter(({ id }) => !ids.includes(id));
  if (rest.length > 0) storage.setItem(keyOf(rideId), JSON.stringify(rest));
  else storage.removeItem(keyOf(rideId));
}
