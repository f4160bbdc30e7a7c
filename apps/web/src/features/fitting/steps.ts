import type { Fitting, FittingStep, FittingStepInput, FittingTemplate } from '@ebrix/contract';

/** A step as it is stored; which clock runs is the server's to say. */
export function bare({ runningSince: _runningSince, ...step }: FittingStep): FittingStepInput {
  return step;
}

/** A step of which nothing is done yet. */
export function freshStep(plan: FittingTemplate['steps'][number]): FittingStepInput {
  return { ...plan, isDone: false, elapsedS: 0, difficulty: null, trouble: '', cure: '' };
}

/** Seconds spent on a step: what is stored, and what its running clock added since, by the server's clock. */
export function elapsedS(step: FittingStep, serverNowMs: number): number {
  if (step.runningSince === null) return step.elapsedS;
  return step.elapsedS + Math.max(0, (serverNowMs - Date.parse(step.runningSince)) / 1000);
}

export function withStep(
  steps: readonly FittingStep[],
  id: string,
  change: Partial<FittingStepInput>,
): FittingStepInput[] {
  return steps.map((step) => (step.id === id ? { ...bare(step), ...change } : bare(step)));
}

/** Moved within the list; what is not there stays away. */
export function moved<T extends { readonly id: string }>(steps: readonly T[], id: string, to: number): T[] {
  const from = steps.findIndex((step) => step.id === id);
  if (from < 0) return [...steps];
  const rest = steps.filter((step) => step.id !== id);
  const at = Math.min(Math.max(0, to), rest.length);
  return [...rest.slice(0, at), steps[from]!, ...rest.slice(at)];
}

/** An id that no step of this fitting has yet. */
export function ownId(steps: readonly { readonly id: string }[]): string {
  const taken = new Set(steps.map(({ id }) => id));
  for (let k = 1; ; k++) if (!taken.has(`own-${k}`)) return `own-${k}`;
}

/** How much this browser's clock is behind the server's, in ms. */
export function clockOffset({ now }: Pick<Fitting, 'now'>, hereMs: number): number {
  return Date.parse(now) - hereMs;
}
