import { CoreError, requirePositive } from '../errors/index.js';
import { describeSample, pairsOf } from '../statistics/index.js';
import {
  nameFTest,
  type Comparison,
  type ComparisonInput,
  type ComparisonModel,
  type PairComparison,
} from './comparison.js';
import { chooseDesign, type ChosenDesign, type DesignedRun, type DesignKind } from './design/choose-design.js';
import { describeDesign, refusalWords } from './design/design-words.js';
import type { DesignFit } from './design/design-fit.js';
import { fitDesign } from './design/fit-design.js';
import { judgePair, LAST_LOOK, voiceOf } from './judge-pair.js';
import { pairSentence, pairSentences } from './pair-sentence.js';
import { repeatabilityOfSetups } from './repeatability-of-setups.js';
import { noSpread, testSeveral, testTwo } from './setup-tests.js';

/**
 * Compares setups by one figure, the run being the unit, by the analysis that the design of the runs calls for.
 *
 * Shapes: at least two setups with at least two runs each; values finite, all in one unit.
 * Method: `chooseDesign` decides from outings, groups and a covariate; `fitDesign` works it out on the values and, where all are
 *         positive, on their logarithms. Pairs that cannot be told apart are refused with the reason.
 * Fails:  throws `design-not-possible` for an override that the runs do not carry, `too-few-setups`, `too-few-runs` or `no-spread` (all runs of a pair give the same value), naming the setups.
 * Verdict: on the ratio when the smallest difference is relative and all values are positive, else on the difference.
 */
export function compareSetups(input: ComparisonInput): Comparison {
  const { setups, smallestDifference, seed } = input;
  requirePositive({ smallestDifference: smallestDifference.value });
  requireRuns(input);
  const runs = setups.flatMap((own, setup) => own.runs.map((run): DesignedRun => ({ ...run, setup })));
  const called = chooseDesign(runs, setups.length);
  const chosen = input.design === undefined ? called : overridden(called, input.design, runs);
  const answer = answerOf(input, chosen, runs);
  const two = setups.length === 2;
  return {
    setups: setups.map(({ name, runs: own }) => ({ name, ...describeSample(own.map(({ value }) => value)) })),
    better: input.words.better,
    design: chosen.design,
    method: answer.method,
    pairs: answer.pairs,
    sentences: pairSentences(answer.pairs, voiceOf(input)),
    ...(answer.fit && { model: modelOf(answer.fit, input) }),
    ...(chosen.design !== called.design && { called: calledAnswer(input, called, runs) }),
    smallestDifference,
    seed,
    notes: notesOn(input, answer.pairs),
    ...(!input.isBrief && repeatabilityOfSetups(setups)),
    ...(!input.isBrief && (two ? { twoSetups: testTwo(input) } : { severalSetups: testSeveral(setups) })),
  };
}

/** Another design than the runs call for, where they carry it. Fails: throws `design-not-possible`, naming what is not recorded. */
function overridden(called: ChosenDesign, design: DesignKind, runs: readonly DesignedRun[]): ChosenDesign {
  const has = (column: 'block' | 'covariate' | 'group'): boolean => runs.every((run) => run[column] !== undefined);
  const missing = {
    blocked: has('block') ? undefined : 'the outing of every run',
    mixed: has('block') ? undefined : 'the outing of every run',
    nested: has('block') ? undefined : 'the outing of every run',
    grouped: has('group') && !has('block') ? undefined : 'a group, and no outing, for every run',
    covariate: has('covariate') ? undefined : 'a condition for every run',
    confounded: 'a design that compares',
    independent: undefined,
  }[design];
  if (missing !== undefined)
    throw new CoreError('design-not-possible', `This analysis needs ${missing}, which is not recorded here.`);
  return { ...called, design };
}

interface Answer {
  readonly method: Comparison['method'];
  readonly pairs: readonly PairComparison[];
  readonly fit?: DesignFit;
}

function calledAnswer(
  input: ComparisonInput,
  called: ChosenDesign,
  runs: readonly DesignedRun[],
): NonNullable<Comparison['called']> {
  const { method, pairs } = answerOf(input, called, runs);
  return { design: called.design, method, pairs };
}

function answerOf(input: ComparisonInput, chosen: ChosenDesign, runs: readonly DesignedRun[]): Answer {
  const { setups, look = LAST_LOOK } = input;
  const confidence = 1 - look.level;
  const refusals = refusalsOf(input, chosen);
  const words = (unequalSpread: boolean): Comparison['method'] =>
    describeDesign(chosen, runs, setups.length, unequalSpread);
  if (refusals.size === pairsOf(setups.length).length)
    return { method: words(false), pairs: [...refusals.values()].map((refusal) => refusal.pair) };
  const fit = fitDesign(chosen, runs, setups.length, confidence);
  if (!fit.ok) {
    if (fit.reason === 'no-spread') throw noSpread(setups);
    return { method: words(false), pairs: pairsOf(setups.length).map(([a, b]) => refusePair(input, a, b, TOO_FEW)) };
  }
  const isPositive = runs.every(({ value }) => value > 0);
  const logs = isPositive
    ? fitDesign(
        chosen,
        runs.map((run) => ({ ...run, value: Math.log(run.value) })),
        setups.length,
        confidence,
      )
    : undefined;
  const pairs = fit.value.pairs.map(
    (pair, k) =>
      refusals.get(pairKey(pair.a, pair.b))?.pair ??
      judgePair(input, chosen, pair, logs?.ok ? logs.value.pairs[k] : undefined),
  );
  return { method: words(fit.value.unequalSpread), pairs, fit: fit.value };
}

const TOO_FEW = {
  because: 'there are too few runs for that many setups and outings',
  mend: 'Ride each setup once more on an outing that holds them all.',
};
const pairKey = (a: number, b: number): string => `${a} ${b}`;

/** Pairs that cannot be told apart, by the design or for a reason known beside it. */
function refusalsOf(input: ComparisonInput, { refused }: ChosenDesign): Map<string, { readonly pair: PairComparison }> {
  const place = (name: string): number => input.setups.findIndex((setup) => setup.name === name);
  const known = (input.confounded ?? []).map(({ a, b, because, mend }) => {
    const [first, second] = [place(a), place(b)].sort((x, y) => x - y);
    return [first!, second!, { because, mend }] as const;
  });
  const byDesign = refused.map(({ a, b, by }) => [a, b, refusalWords(by)] as const);
  const all = [...known, ...byDesign].sort(([a1, b1], [a2, b2]) => a1 - a2 || b1 - b2);
  const refusals = new Map<string, { pair: PairComparison }>();
  // What the design refuses goes last into the map, so that it is what is said.
  for (const [a, b, refusal] of all) refusals.set(pairKey(a, b), { pair: refusePair(input, a, b, refusal) });
  return refusals;
}

function refusePair(
  input: ComparisonInput,
  a: number,
  b: number,
  refusal: NonNullable<PairComparison['refusal']>,
): PairComparison {
  const pair = {
    a: input.setups[a]!.name,
    b: input.setups[b]!.name,
    verdict: 'cannot-tell' as const,
    refusal,
  };
  return { ...pair, sentence: pairSentence(pair, voiceOf(input)) };
}

function modelOf(fit: DesignFit, { setups }: ComparisonInput): ComparisonModel {
  const { residualVariance, groupVariance, covariate, slopesDiffer, treatmentTest, blockTest } = fit;
  return {
    adjustedMeans: fit.adjustedMeans.map((mean, k) => ({ setup: setups[k]!.name, ...mean })),
    ...(residualVariance !== undefined && { residualSd: Math.sqrt(residualVariance) }),
    ...(groupVariance !== undefined && { groupSd: Math.sqrt(groupVariance) }),
    ...(covariate && {
      slope: { estimate: covariate.slope, standardError: covariate.slopeStandardError, p: covariate.slopePValue },
    }),
    ...(slopesDiffer && { slopesDiffer: nameFTest(slopesDiffer) }),
    ...(treatmentTest && { setupTest: nameFTest(treatmentTest) }),
    ...(blockTest && { outingTest: nameFTest(blockTest) }),
    unequalSpread: fit.unequalSpread,
  };
}

function requireRuns({ setups }: ComparisonInput): void {
  if (setups.length < 2) throw new CoreError('too-few-setups', 'A comparison needs at least two setups.');
  const short = setups.filter(({ runs }) => runs.length < 2);
  if (short.length > 0)
    throw new CoreError(
      'too-few-runs',
      `${short.map(({ name, runs }) => `${name} has ${runs.length === 1 ? 'one run' : 'no run'}`).join(', ')}: each setup needs at least two runs before anything can be said about chance.`,
    );
}

function notesOn({ setups }: ComparisonInput, pairs: readonly PairComparison[]): string[] {
  const notes: string[] = [];
  const few = setups.filter(({ runs }) => runs.length < 4);
  if (few.length > 0)
    notes.push(
      `Only ${few.map(({ name, runs }) => `${runs.length} runs of ${name}`).join(', ')}: the intervals are wide for that reason.`,
    );
  if (pairs.some(({ instrumentUncertainty }) => instrumentUncertainty !== undefined))
    notes.push(
      'The runs were not all made with one known logger: the gain errors of the loggers do not cancel and are in the intervals.',
    );
  return notes;
}
