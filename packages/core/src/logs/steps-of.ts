/** From each time to the next; one fewer than there are times. */
export function stepsOf(timeS: Float64Array): Float64Array {
  const steps = new Float64Array(Math.max(0, timeS.length - 1));
  for (let k = 0; k < steps.length; k++) steps[k] = timeS[k + 1]! - timeS[k]!;
  return steps;
}
