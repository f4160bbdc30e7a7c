import { CoreError, requirePositive } from '../errors/index.js';
import {
  describeSample,
  gamesHowell,
  runsForPower,
  studentTQuantile,
  summarizeSample,
  welchTInterval,
  type PairwiseInterval,
} from '../statistics/index.js';
import type { Comparison, ComparisonInput, PairComparison, SetupValues } from './comparison.js';
import { pairSentence, pairSentences, type VerdictVoice } from './pair-sentence.js';
import { noSpread, testSeveral, testTwo } from './setup-tests.js';
import { classifyDifference } from './verdict.js';

const CONFIDENCE = 0.95;
const POWER = 0.8;

/**
 * Compares setups by one figure, the run being the unit: Welch for two, Games–Howell for more.
 *
 * Shapes: at least two setups with at least two runs each; values finite, all in one unit.
 * Fails:  throws `too-few-setups`, `too-few-runs` or `no-spread` (all runs of a pair give the same value), naming the setups.
 * Verdict: on the ratio when the smallest difference is relative and all values are positive, else on the difference.
 */
export function compareSetups(input: ComparisonInput): Comparison {
  const { setups, smallestDifference, seed } = input;
  requirePositive({ smallestDifference: smallestDifference.value });
  if (setups.length < 2) throw new CoreError('too-few-setups', 'A comparison needs at least two setups.');
  const short = setups.filter(({ values }) => values.length < 2);
  if (short.length > 0)
    throw new CoreError(
      'too-few-runs',
      `${short.map(({ name, values }) => `${name} has ${values.length === 1 ? 'one run' : 'no run'}`).join(', ')}: each setup needs at least two runs before anything can be said about chance.`,
    );
  const isPositive = setups.every(({ values }) => values.every((value) => value > 0));
  const differences = simultaneousIntervals(
    setups.map(({ values }) => values),
    setups,
  );
  const logs = isPositive
    ? simultaneousIntervals(
        setups.map(({ values }) => values.map(Math.log)),
        setups,
      )
    : undefined;
  const pairs = differences.map((difference, k) => assessPair(input, difference, logs?.[k]));
  const two = setups.length === 2;
  return {
    setups: setups.map(({ name, values }) => ({ name, ...describeSample(values) })),
    method: two
      ? {
          name: "Welch's t",
          reason:
            "The two setups' runs may scatter differently, so Welch's t interval is used: it does not assume equal spread.",
        }
      : {
          name: 'Games–Howell',
          reason: `With ${setups.length} setups every pair is compared, so the intervals are made wider to hold for all pairs together (Games–Howell), without assuming equal spread.`,
        },
    pairs,
    sentences: pairSentences(pairs, voiceOf(input)),
    smallestDifference,
    seed,
    notes: notesOn(input, pairs),
    ...(two ? { twoSetups: testTwo(input) } : { severalSetups: testSeveral(setups) }),
  };
}

function simultaneousIntervals(
  groups: readonly (readonly number[])[],
  setups: readonly SetupValues[],
): readonly PairwiseInterval[] {
  if (groups.length === 2) {
    const welch = welchTInterval(summarizeSample(groups[0]!), summarizeSample(groups[1]!), CONFIDENCE);
    if (!welch.ok) throw noSpread(setups);
    const { estimate, ...rest } = welch.value;
    return [{ a: 0, b: 1, difference: estimate, ...rest }];
  }
  const all = gamesHowell(groups, CONFIDENCE);
  if (!all.ok) throw noSpread(setups);
  return all.value;
}

function assessPair(
  input: ComparisonInput,
  difference: PairwiseInterval,
  log: PairwiseInterval | undefined,
): PairComparison {
  const { setups, smallestDifference: smallest } = input;
  const [a, b] = [setups[difference.a]!, setups[difference.b]!];
  const instrument = uncancelledGain(a, b);
  const meanB = summarizeSample(b.values).mean;
  const wide = widen(difference, instrument * Math.abs(meanB));
  const wideLog = log && widen(log, instrument);
  const ratio = wideLog && {
    estimate: Math.exp(wideLog.difference),
    lower: Math.exp(wideLog.lower),
    upper: Math.exp(wideLog.upper),
  };
  const isRelative = smallest.kind === 'relative' && wideLog !== undefined;
  // A band of ±5 % of the other setup: 0.95…1.05 on the ratio, taken on the logarithm where the interval is.
  const margin = smallest.kind === 'absolute' ? smallest.value : smallest.value * Math.abs(meanB);
  const scale = isRelative ? wideLog : wide;
  const [bandLower, bandUpper] = isRelative
    ? [Math.log1p(-Math.min(smallest.value, 0.999)), Math.log1p(smallest.value)]
    : [-margin, margin];
  const shrink =
    setups.length === 2
      ? studentTQuantile(0.95, scale.degreesOfFreedom) / studentTQuantile(0.975, scale.degreesOfFreedom)
      : 1;
  const verdict = classifyDifference({
    estimate: scale.difference,
    lower: scale.lower,
    upper: scale.upper,
    equivalenceLower: scale.difference - shrink * (scale.difference - scale.lower),
    equivalenceUpper: scale.difference + shrink * (scale.upper - scale.difference),
    bandLower,
    bandUpper,
  });
  const groups = [a.values, b.values].map((values) => (isRelative ? values.map(Math.log) : values));
  const more =
    verdict === 'cannot-tell' ? moreRunsEach(groups, isRelative ? bandUpper : margin, setups.length) : undefined;
  const pair = {
    a: a.name,
    b: b.name,
    difference: {
      estimate: wide.difference,
      lower: wide.lower,
      upper: wide.upper,
      standardError: difference.standardError,
      degreesOfFreedom: difference.degreesOfFreedom,
    },
    ...(ratio && { ratio }),
    pValue: difference.pValue,
    verdict,
    ...(more !== undefined && { moreRunsEach: more }),
    ...(instrument > 0 && { instrumentUncertainty: instrument }),
  };
  return { ...pair, sentence: pairSentence(pair, voiceOf(input)) };
}

function voiceOf({ words, smallestDifference, unit }: ComparisonInput): VerdictVoice {
  return { words, smallestDifference, unit, system: 'metric' };
}

/** The gain error of one logger shared by both sides cancels in a ratio; different loggers each keep theirs. */
function uncancelledGain(a: SetupValues, b: SetupValues): number {
  const listA = a.instruments ?? [];
  const listB = b.instruments ?? [];
  const ids = new Set([...listA, ...listB].map(({ id }) => id));
  if (ids.size <= 1) return 0;
  const worst = (list: typeof listA): number => list.reduce((most, { relativeUncertainty: u }) => Math.max(most, u), 0);
  return Math.hypot(worst(listA), worst(listB));
}

function widen(pair: PairwiseInterval, extra: number): PairwiseInterval {
  if (extra === 0) return pair;
  // The gain is known by a stated limit: 1.96 standard uncertainties beside the interval of the scatter.
  const margin = Math.hypot((pair.upper - pair.lower) / 2, 1.96 * extra);
  return { ...pair, lower: pair.difference - margin, upper: pair.difference + margin };
}

function moreRunsEach(
  groups: readonly (readonly number[])[],
  difference: number,
  setupCount: number,
): number | undefined {
  const summaries = groups.map(summarizeSample);
  const pooled = Math.sqrt(
    summaries.reduce((sum, s) => sum + (s.count - 1) * s.variance, 0) /
      summaries.reduce((sum, s) => sum + s.count - 1, 0),
  );
  if (!(pooled > 0)) return undefined;
  // All pairs are judged together, so each is planned at its share of the 5 % (Bonferroni): never too few runs.
  const significanceLevel = (1 - CONFIDENCE) / ((setupCount * (setupCount - 1)) / 2);
  const wanted = Math.ceil(
    runsForPower({ difference, standardDeviation: pooled, design: 'two-sample', significanceLevel }, POWER) - 1e-9,
  );
  const fewest = Math.min(...summaries.map(({ count }) => count));
  return Math.max(1, wanted - fewest);
}

function notesOn({ setups }: ComparisonInput, pairs: readonly PairComparison[]): string[] {
  const notes: string[] = [];
  const few = setups.filter(({ values }) => values.length < 4);
  if (few.length > 0)
    notes.push(
      `Only ${few.map(({ name, values }) => `${values.length} runs of ${name}`).join(', ')}: the intervals are wide for that reason.`,
    );
  if (pairs.some(({ instrumentUncertainty }) => instrumentUncertainty !== undefined))
    notes.push(
      'The runs were not all made with one logger: the gain errors of the loggers do not cancel and are in the intervals.',
    );
  return notes;
}
