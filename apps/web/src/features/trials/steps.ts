import { piece } from '../../shared/ui/piece.js';

/** The steps of a trial, by their names in its address. */
export const steps = {
  question: piece(async () => (await import('./QuestionForm.js')).QuestionForm),
  setups: piece(async () => (await import('./SetupsStep.js')).SetupsStep),
  plan: piece(async () => (await import('../plans/index.js')).PlanStep),
  runs: piece(async () => (await import('./RunsStep.js')).RunsStep),
  verdict: piece(async () => (await import('./VerdictStep.js')).VerdictStep),
};
