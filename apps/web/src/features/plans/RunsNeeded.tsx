import { lazy, Suspense } from 'react';
import type { PlanBasis, PlanInput, Trial } from '@ebrix/contract';
import { detectableDifference, runsForPlan, type PlanDesign } from '@ebrix/core/planning';

const PowerChart = lazy(() => import('./PowerChart.js'));

/** How many runs the question needs, from the tester's own scatter or the usual one, in words and as a curve. */
export function RunsNeeded({
  trial,
  input,
  basis,
}: {
  readonly trial: Trial;
  readonly input: PlanInput;
  readonly basis: PlanBasis;
}) {
  const { repeatability, typicalValue } = basis;
  const { kind, value } = trial.smallestDifference;
  const difference = kind === 'relative' ? value : typicalValue === null ? null : value / typicalValue;
  const setups = trial.setups.length;
  if (setups < 2)
    return <p className="quiet">Choose at least two setups: then it can be said how many runs are needed.</p>;
  if (difference === null)
    return (
      <p className="quiet">
        The difference that matters is given as an amount, and no run has the figure yet: give it in per cent, or ride a
        first run.
      </p>
    );
  const design: PlanDesign = {
    setups,
    isBlocked: input.isBlocked,
    outings: input.outings,
    standardDeviation: repeatability.relativeSd,
  };
  const needed = runsForPlan(design, difference, input.power);
  const percent = (share: number): string => `${(100 * share).toFixed(share < 0.1 ? 1 : 0)} %`;
  const seen = input.runsPerSetup >= 2 ? detectableDifference(design, input.runsPerSetup, input.power) : null;
  const range = [repeatability.usual.low, repeatability.usual.high].map((sd) =>
    runsForPlan({ ...design, standardDeviation: sd }, difference, input.power),
  );
  return (
    <div>
      <p className="text-16 weight-600">
        {seen === null
          ? 'One run of each setup tells nothing yet: the scatter is unknown.'
          : seen <= difference
            ? `With ${input.runsPerSetup} runs each you would see the ${percent(difference)} that matter: anything above ${percent(seen)}.`
            : `With ${input.runsPerSetup} runs each you could only see a difference above ${percent(seen)}.`}
      </p>
      <p className="mt-4">
        {needed === undefined
          ? `No sensible number of runs would show ${percent(difference)} at this scatter.`
          : `${Math.ceil(needed - 1e-9)} runs of each are needed to see ${percent(difference)} in ${Math.round(100 * input.power)} of 100 trials.`}
      </p>
      <Suspense fallback={<ChartPlace />}>
        <PowerChart design={design} difference={difference} runs={input.runsPerSetup} wanted={input.power} />
      </Suspense>
      <p className="quiet mt-6">
        {repeatability.source === 'own-runs'
          ? `From ${repeatability.runs} of your own runs: they scatter by ${percent(repeatability.relativeSd)} between runs of one setup on one course (${repeatability.degreesOfFreedom} degrees of freedom).`
          : `You have too few runs of this figure yet, so the usual scatter of ${percent(repeatability.relativeSd)} is taken; careful testers reach ${percent(repeatability.usual.low)}, others ${percent(repeatability.usual.high)}: ${range.map((n) => (n === undefined ? 'very many' : Math.ceil(n - 1e-9))).join(' to ')} runs of each.`}{' '}
        {input.isBlocked
          ? 'Ridden in rounds, so that what a round has in common cancels.'
          : 'Not ridden in rounds: days differ, and that goes into the scatter.'}
        {setups > 2 && ` All ${(setups * (setups - 1)) / 2} pairs together, at 5 % in all.`}
      </p>
    </div>
  );
}

/** As much room as the curve and its table will take: what stands below stays where it is. */
function ChartPlace() {
  return (
    <>
      <div role="status" aria-label="Loading" className="loading power-place" />
      <details>
        <summary className="quiet">Chances as a table</summary>
      </details>
    </>
  );
}
