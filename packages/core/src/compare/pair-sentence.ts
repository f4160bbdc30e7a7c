import { convertUnitDifference, displayUnit, type UnitName, type UnitSystem } from '../units/index.js';
import type { Interval } from '../statistics/index.js';
import type { PairComparison, SmallestDifference } from './comparison.js';
import type { MoreUnit } from './design/more-runs.js';
import type { FigureVocabulary } from './figure-vocabulary.js';
import { verdictSentence, type VerdictKind } from './verdict.js';

/** In which words and units a verdict is said. */
export interface VerdictVoice {
  readonly words: FigureVocabulary;
  readonly smallestDifference: SmallestDifference;
  /** Of the values compared; null for a table whose unit is not known. */
  readonly unit: UnitName | null;
  readonly system: UnitSystem;
  /** Before the last look that was planned. */
  readonly isSoFar?: boolean;
}
/** What the sentence is made of: the numbers of a compared pair, in the unit they were compared in. */
export type SpokenPair = Pick<PairComparison, 'a' | 'b' | 'verdict'> & {
  readonly difference?: (Interval & { readonly estimate: number }) | undefined;
  readonly ratio?: (Interval & { readonly estimate: number }) | undefined;
  readonly refusal?: PairComparison['refusal'] | undefined;
  readonly more?:
    | { readonly unit: MoreUnit; readonly about: number; readonly low: number; readonly high?: number | undefined }
    | undefined;
};

const ORDER: readonly VerdictKind[] = [
  'better-and-matters',
  'better-may-not-matter',
  'cannot-tell',
  'no-difference-that-matters',
];

/** One sentence a pair, what is decided first. */
export function pairSentences(pairs: readonly SpokenPair[], voice: VerdictVoice): string[] {
  return decidedFirst(pairs).map((pair) => pairSentence(pair, voice));
}

/** What is decided first; pairs alike in that stay in their order. */
export function decidedFirst<P extends Pick<SpokenPair, 'verdict'>>(pairs: readonly P[]): P[] {
  return [...pairs].sort((a, b) => ORDER.indexOf(a.verdict) - ORDER.indexOf(b.verdict));
}

/** The verdict on a pair with its difference and the smallest that matters, in the units of the system. */
export function pairSentence(pair: SpokenPair, voice: VerdictVoice): string {
  const { words, smallestDifference: smallest } = voice;
  if (!pair.difference) return refusalSentence(pair, voice);
  const ratio = smallest.kind === 'relative' ? pair.ratio : undefined;
  return verdictSentence({
    kind: pair.verdict,
    nameA: pair.a,
    nameB: pair.b,
    sizeOfDifference: ratio ? percentText(ratio, words) : absoluteText(pair.difference, voice),
    aIsLess: ratio ? ratio.estimate < 1 : pair.difference.estimate < 0,
    words,
    smallestThatMatters: smallestDifferenceText(voice),
    isSoFar: voice.isSoFar === true,
    ...(pair.more && { more: pair.more }),
  });
}

function refusalSentence({ a, b, refusal }: SpokenPair, { words }: VerdictVoice): string {
  const question = `Cannot tell whether ${a} or ${b} ${words.verb} ${words.better} ${words.noun}`;
  return refusal ? `${question}: ${refusal.because}. ${refusal.mend}` : `${question}.`;
}

/** The smallest difference that matters: a share, or an amount in the units of the system. */
export function smallestDifferenceText(voice: Omit<VerdictVoice, 'words'>): string {
  const { kind, value } = voice.smallestDifference;
  return kind === 'relative' ? `${trimNumber(value * 100)} %` : withUnit(trimNumber(differenceIn(value, voice)), voice);
}

/** A percentage with no more digits than its interval deserves, seen from the setup the sentence calls better. */
function percentText(ratio: Interval & { readonly estimate: number }, words: FigureVocabulary): string {
  const aIsBetter = ratio.estimate < 1 === (words.better === 'less');
  const percent = 100 * Math.abs((aIsBetter ? ratio.estimate : 1 / ratio.estimate) - 1);
  const halfWidth = (50 * (ratio.upper - ratio.lower)) / ratio.estimate;
  return `${percent.toFixed(halfWidth < 1 ? 1 : 0)} %`;
}

function absoluteText(
  { estimate, lower, upper }: Interval & { readonly estimate: number },
  voice: VerdictVoice,
): string {
  const halfWidth = Math.abs(differenceIn((upper - lower) / 2, voice));
  const decimals = Math.min(6, Math.max(0, 1 - Math.floor(Math.log10(halfWidth))));
  return withUnit(Math.abs(differenceIn(estimate, voice)).toFixed(decimals), voice);
}

function differenceIn(difference: number, { unit, system }: Pick<VerdictVoice, 'system' | 'unit'>): number {
  return unit === null ? difference : convertUnitDifference(difference, unit, displayUnit(unit, system));
}

function withUnit(number: string, { unit, system }: Pick<VerdictVoice, 'system' | 'unit'>): string {
  const shown = unit === null ? '1' : displayUnit(unit, system);
  return shown === '1' ? number : `${number} ${shown}`;
}

function trimNumber(value: number): string {
  return Number(value.toPrecision(4)).toString();
}
