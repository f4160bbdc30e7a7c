/** `1 safety check`, `3 safety checks`. */
export function countSafetyChecks(count: number): string {
  return `${count} safety ${count === 1 ? 'check' : 'checks'}`;
}
