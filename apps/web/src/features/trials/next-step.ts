import type { TrialListItem } from '@ebrix/contract';

export interface NextStep {
  readonly words: string;
  readonly to: string;
  readonly label: string;
}

/** What moves a trial on: setups, safety checks, a first ride of each, more runs; nothing where it is decided or archived. */
export function nextStepOf(trial: TrialListItem): NextStep | undefined {
  const { id, setups, verdictKinds } = trial;
  if (trial.archivedAt !== null) return undefined;
  if (setups.length < 2)
    return { words: 'Choose what is compared.', to: `/trials/${id}/setups`, label: 'Choose setups' };
  const shut = setups.find(({ openClearance, countedRuns }) => openClearance > 0 && countedRuns === 0);
  if (shut)
    return {
      words: `${shut.name}: ${shut.openClearance} safety ${shut.openClearance === 1 ? 'check' : 'checks'} to do before anyone rides.`,
      to: `/bench/setups/${shut.setupId}/clearance`,
      label: 'Do the checks',
    };
  const unridden = setups.filter(({ countedRuns }) => countedRuns === 0);
  if (unridden.length > 0)
    return {
      words: `No counted run yet of ${unridden.map(({ name }) => name).join(' and ')}.`,
      to: `/trials/${id}/plan`,
      label: 'Plan the first outing',
    };
  if (
    verdictKinds.length === 0 ||
    verdictKinds.some((kind) => kind === 'cannot-tell' || kind === 'better-may-not-matter')
  )
    return { words: 'Not settled.', to: `/trials/${id}/plan`, label: 'Plan the next outing' };
  return undefined;
}
