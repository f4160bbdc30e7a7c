/** A display's watts and amps are those of the controller, which nobody has calibrated. */
export const DISPLAY_POWER_LIMIT = 0.08;

/** A display that shows 350 may count in tens. */
export function displayStepOf(value: number): number {
  if (!Number.isInteger(value)) return 0.1;
  return value >= 100 && value % 10 === 0 ? 10 : 1;
}
