import { studentTQuantile, type PairwiseInterval } from '../statistics/index.js';
import type { ComparisonInput, PairComparison } from './comparison.js';
import type { ChosenDesign } from './design/choose-design.js';
import { moreNeeded } from './design/more-runs.js';
import { uncancelledGain } from './instrument-gain.js';
import { uncancelledCorrection } from './uncancelled-correction.js';
import { pairSentence, type VerdictVoice } from './pair-sentence.js';
import { classifyDifference } from './verdict.js';

/** 95 % for the difference, 90 % for "no difference that matters", on the last look or where looks are not counted. */
export const LAST_LOOK = { level: 0.05, equivalenceLevel: 0.1, isLast: true } as const;

/** The verdict on one pair of a design: by its ratio where what matters is a share and all values are positive, else by its difference. */
export function judgePair(
  input: ComparisonInput,
  chosen: ChosenDesign,
  difference: PairwiseInterval,
  log: PairwiseInterval | undefined,
): PairComparison {
  const { setups, smallestDifference: smallest, look = LAST_LOOK } = input;
  const [a, b] = [setups[difference.a]!, setups[difference.b]!];
  const clusterOf = chosen.design === 'nested' || !chosen.clusters ? undefined : clusterName;
  const instrument = uncancelledGain(a.runs, b.runs, clusterOf);
  const meanB = b.runs.reduce((sum, { value }) => sum + value, 0) / b.runs.length;
  const correction = uncancelledCorrection(a.runs, b.runs);
  const shared = Math.hypot(instrument, correction);
  const wide = widen(difference, shared * Math.abs(meanB));
  const wideLog = log && widen(log, shared);
  const isRelative = smallest.kind === 'relative' && wideLog !== undefined;
  // A band of ±5 % of the other setup: 0.95…1.05 on the ratio, taken on the logarithm where the interval is.
  const margin = smallest.kind === 'absolute' ? smallest.value : smallest.value * Math.abs(meanB);
  const scale = isRelative ? wideLog : wide;
  const [bandLower, bandUpper] = isRelative
    ? [Math.log1p(-Math.min(smallest.value, 0.999)), Math.log1p(smallest.value)]
    : [-margin, margin];
  const df = scale.degreesOfFreedom;
  const shrink =
    setups.length === 2
      ? studentTQuantile(1 - look.equivalenceLevel / 2, df) / studentTQuantile(1 - look.level / 2, df)
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
  const more = verdict === 'cannot-tell' ? moreOf(input, chosen, scale, isRelative ? bandUpper : margin) : undefined;
  const pair: Omit<PairComparison, 'sentence'> = {
    a: a.name,
    b: b.name,
    difference: {
      estimate: wide.difference,
      lower: wide.lower,
      upper: wide.upper,
      standardError: difference.standardError,
      degreesOfFreedom: difference.degreesOfFreedom,
      t: difference.difference / difference.standardError,
    },
    ...(wideLog && {
      ratio: {
        estimate: Math.exp(wideLog.difference),
        lower: Math.exp(wideLog.lower),
        upper: Math.exp(wideLog.upper),
        logStandardError: log.standardError,
        degreesOfFreedom: log.degreesOfFreedom,
        pValue: log.pValue,
      },
    }),
    pValue: difference.pValue,
    verdict,
    ...(more && { more }),
    ...(more && more.unit !== 'outing' && { moreRunsEach: more.about }),
    ...(instrument > 0 && { instrumentUncertainty: instrument }),
    ...(correction > 0 && { correctionUncertainty: correction }),
  };
  return { ...pair, sentence: pairSentence(pair, voiceOf(input)) };
}

export function voiceOf({ words, smallestDifference, unit, look }: ComparisonInput): VerdictVoice {
  return { words, smallestDifference, unit, system: 'metric', isSoFar: look?.isLast === false };
}

const clusterName = ({ block, group }: { readonly block?: string; readonly group?: string }): string | undefined =>
  block ?? group;

function widen(pair: PairwiseInterval, extra: number): PairwiseInterval {
  if (extra === 0) return pair;
  // The gain is known by a stated limit: 1.96 standard uncertainties beside the interval of the scatter.
  const margin = Math.hypot((pair.upper - pair.lower) / 2, 1.96 * extra);
  return { ...pair, lower: pair.difference - margin, upper: pair.difference + margin };
}

function moreOf(
  { setups }: ComparisonInput,
  { design, unit, clusters = [] }: ChosenDesign,
  pair: PairwiseInterval,
  difference: number,
): PairComparison['more'] {
  const pairCount = (setups.length * (setups.length - 1)) / 2;
  const runs = [setups[pair.a]!.runs, setups[pair.b]!.runs];
  const total = setups.reduce((sum, own) => sum + own.runs.length, 0);
  const outings = new Set(clusters).size;
  const counts = runs.map((own) => (unit === 'run' ? own.length : new Set(own.map(clusterName)).size));
  // In outings that hold several setups, one more run of each brings a run of each less its share of a new outing.
  const isWithin = design === 'blocked' || design === 'mixed' || (design === 'grouped' && unit === 'run');
  const perRun = isWithin ? setups.length * (1 - outings / total) : setups.length;
  return moreNeeded({
    unit,
    difference,
    standardError: pair.standardError,
    degreesOfFreedom: pair.degreesOfFreedom,
    counts: [counts[0]!, counts[1]!],
    freedomPerMore: design === 'independent' || unit === 'group' ? 2 : Math.max(perRun, 0.5),
    // All pairs are judged together, so each is planned at its share of the 5 % (Bonferroni): never too few.
    significanceLevel: LAST_LOOK.level / pairCount,
  });
}
