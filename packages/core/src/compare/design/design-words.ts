import type { ChosenDesign, ConfoundedBy, DesignedRun } from './choose-design.js';

/** The name of what is done, and why, in one sentence for the page. */
export function describeDesign(
  { design, clusters = [] }: ChosenDesign,
  runs: readonly DesignedRun[],
  setups: number,
  unequalSpread: boolean,
): { name: string; reason: string } {
  const outings = new Set(clusters).size;
  const { name, reason } = plainWords(design, runs, setups, outings);
  if (!unequalSpread) return { name, reason };
  const allowed = design === 'nested' ? 'Welch on the means of outings' : 'robust errors';
  return {
    name: `${name}, ${allowed}`,
    reason: `${reason} The setups do not scatter alike, and the interval allows for that.`,
  };
}

function plainWords(
  design: ChosenDesign['design'],
  runs: readonly DesignedRun[],
  setups: number,
  clusters: number,
): { name: string; reason: string } {
  const several = setups > 2 ? ' The intervals are wide enough to hold for all pairs together.' : '';
  switch (design) {
    case 'blocked': {
      const isPaired = setups === 2 && runs.length === 2 * clusters;
      return {
        name: isPaired ? 'Within outings, pairs' : 'Within outings',
        reason:
          clusters === 1
            ? `All runs are from one outing, so they share its weather; what holds on another day they do not say.${several}`
            : `The setups were ridden on the same outings, so they are compared within each of the ${clusters}: what one day is harder than another cancels.${several}`,
      };
    }
    case 'mixed':
      return {
        name: 'Mixed model, outing random',
        reason: `Of the ${clusters} outings few hold every setup, so differences within outings and between them are both used, each as far as it can be trusted.${several}`,
      };
    case 'nested':
      return {
        name: 'By outings',
        reason: `Each outing holds one setup, so the outing counts, not the run: ${clusters} outings in all.${several}`,
      };
    case 'grouped':
      return {
        name: 'Mixed model, group random',
        reason: `The runs come from ${clusters} groups (riders, days or bikes), taken as a sample of many: what one differs from another is kept apart from what the setups differ.${several}`,
      };
    case 'covariate':
      return {
        name: 'Adjusted by a condition',
        reason: `The runs were ridden under conditions that differ, so the setups are compared as if all had been ridden under the mean one.${several}`,
      };
    case 'confounded':
      return { name: 'None', reason: 'No comparison can be made of runs ridden like this.' };
    case 'independent':
      return setups === 2
        ? {
            name: "Welch's t",
            reason:
              'Nothing is recorded of which runs belong together (their outing), so each run counts alone, by Welch’s t interval. With the outing it would be known what was the day and what the setup.',
          }
        : {
            name: 'Games–Howell',
            reason: `Nothing is recorded of which runs belong together (their outing), so each run counts alone; with ${setups} setups every pair is compared, and the intervals are made wide enough to hold for all pairs together (Games–Howell).`,
          };
  }
}

/** Why two setups cannot be told apart, and what would settle it. */
export function refusalWords(by: ConfoundedBy): { because: string; mend: string } {
  switch (by) {
    case 'outing':
      return {
        because:
          'they never shared an outing and one of them was out on a single one, so the day and the setup cannot be told apart',
        mend: 'Ride both on one outing; more runs of the same kind would not settle it.',
      };
    case 'group':
      return {
        because:
          'they were never ridden by the same rider (or on the same day or bike), so that and the setup cannot be told apart',
        mend: 'Let one rider ride both; more runs of the same kind would not settle it.',
      };
    case 'covariate':
      return {
        because:
          'they were ridden under conditions that do not overlap, so the conditions and the setup cannot be told apart',
        mend: 'Ride both under the same conditions; more runs of the same kind would not settle it.',
      };
  }
}
