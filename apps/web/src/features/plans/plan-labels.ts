import type { OrderReason, OutingProblem, OutingStep } from '@ebrix/core/planning';
import type { Letter } from '@ebrix/contract';

/** Sentences of the plan. `lettersOf` names setups by index, `runName` a planned run by its id. */
export function reasonSentence(reason: OrderReason, lettersOf: (setups: readonly number[]) => string): string {
  const who = lettersOf(reason.setups);
  switch (reason.code) {
    case 'counts-differ':
      return `${who} has fewer runs than the others.`;
    case 'outing-lacks':
      return `Outing ${reason.outing! + 1} lacks ${who}: anything special about that day ends up in the difference.`;
    case 'place-drift':
      return `${lettersOf(reason.setups.slice(0, 1))} is ridden earlier than ${lettersOf(reason.setups.slice(1))} on average: what drifts over an outing (wind, pack, rider) ends up in the difference.`;
    case 'always-first':
      return `${who} always goes first in the outing.`;
  }
}

/** One sentence for each kind of problem of an outing, however many runs it concerns. */
export function problemSentences(problems: readonly OutingProblem[], runName: (slotId: string) => string): string[] {
  const codes = [...new Set(problems.map(({ code }) => code))];
  return codes.map((code) => {
    const same = problems.filter((problem) => problem.code === code);
    const names = joined(same.flatMap((problem) => ('slotId' in problem ? [runName(problem.slotId)] : [])));
    const many = same.length > 1;
    const [first] = same as [OutingProblem];
    switch (first.code) {
      case 'below-reserve': {
        const left = Math.min(...same.map((problem) => ('leftShare' in problem ? problem.leftShare : 1)));
        return `${names} may take the pack below its reserve: ${Math.max(0, Math.round(100 * left))} % may be left.`;
      }
      case 'empties-pack': {
        const missing = Math.max(...same.map((problem) => ('missingWh' in problem ? problem.missingWh : 0)));
        return `${names} may not make it home: up to ${Math.round(missing)} Wh are missing.`;
      }
      case 'not-full':
        return `${names} ${many ? 'need' : 'needs'} a full pack, and you have no charger with you.`;
      case 'too-long':
        return `The outing takes ${(first.minutes / 60).toFixed(1)} hours: more than you have.`;
      case 'after-dark':
        return `${names} ${many ? 'end' : 'ends'} after dark.`;
    }
  });
}

function joined(names: readonly string[]): string {
  return names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)!}`;
}

export function joinLetters(letters: readonly Letter[]): string {
  return joined(letters);
}

/** What has to be done between the ride before and this one. */
export function stepsBefore(steps: readonly OutingStep[], slotId: string): readonly OutingStep[] {
  const at = steps.findIndex((step) => step.kind === 'ride' && step.slotId === slotId);
  let from = at - 1;
  while (from >= 0 && steps[from]!.kind !== 'ride') from--;
  return steps.slice(from + 1, at).filter(({ kind }) => kind !== 'between');
}

export const STEP_LABELS = {
  charge: 'charge',
  rest: 'rest',
  change: 'change the setup',
  cool: 'cool',
  between: '',
  ride: '',
} as const;
