import type { Setup } from '@ebrix/contract';

export interface SetupStep {
  readonly words: string;
  readonly to: string;
}

/** What moves a setup on: its gravest checks, what is due before riding, a first run, a trial; nothing where it is in use or archived. */
export function nextStepOfSetup({ id, archivedAt, clearance, revisions, trials }: Setup): SetupStep | undefined {
  if (archivedAt !== null) return undefined;
  const runs = revisions.reduce((sum, { runCount }) => sum + runCount, 0);
  if (clearance.stops > 0)
    return {
      words: `Settle ${clearance.stops} grave ${clearance.stops === 1 ? 'check' : 'checks'}`,
      to: `/bench/setups/${id}/checks`,
    };
  if (clearance.openClearance > 0)
    return { words: `Do what is left before riding: ${clearance.openClearance}`, to: `/bench/setups/${id}/clearance` };
  if (runs === 0)
    return trials.length > 0
      ? { words: 'Ride it: plan an outing', to: `/trials/${trials[0]!.id}/plan` }
      : { words: 'Ask a question of it', to: '/trials/new/question' };
  return trials.length === 0 ? { words: 'Compare it with another', to: '/trials/new/question' } : undefined;
}
