import type { FigureVocabulary } from './figure-vocabulary.js';

import type { MoreUnit } from './design/more-runs.js';

export type VerdictKind = 'better-and-matters' | 'better-may-not-matter' | 'no-difference-that-matters' | 'cannot-tell';

export interface VerdictInput {
  /** 95 % interval and estimate of a − b, in the unit of the band; simultaneous when there are more than two setups. */
  readonly estimate: number;
  readonly lower: number;
  readonly upper: number;
  /** Interval that must lie within the band for "no difference that matters": 90 % for two setups. */
  readonly equivalenceLower: number;
  readonly equivalenceUpper: number;
  /** Band of differences that do not matter, below and above 0. */
  readonly bandLower: number;
  readonly bandUpper: number;
}

/** Fixed rules on the interval against 0 and the band of what does not matter. */
export function classifyDifference(d: VerdictInput): VerdictKind {
  if (d.upper < d.bandLower || d.lower > d.bandUpper) return 'better-and-matters';
  if (d.equivalenceLower > d.bandLower && d.equivalenceUpper < d.bandUpper) return 'no-difference-that-matters';
  if (d.lower > 0 || d.upper < 0) return 'better-may-not-matter';
  return 'cannot-tell';
}

export interface SentenceParts {
  readonly kind: VerdictKind;
  readonly nameA: string;
  readonly nameB: string;
  /** Difference a − b as text without sign, for example "13 %". */
  readonly sizeOfDifference: string;
  readonly aIsLess: boolean;
  readonly words: FigureVocabulary;
  /** The smallest difference that matters as text, for example "5 %". */
  readonly smallestThatMatters: string;
  /** Before the last look that was planned: what is said may still change. */
  readonly isSoFar?: boolean;
  readonly more?: {
    readonly unit: MoreUnit;
    readonly about: number;
    readonly low: number;
    readonly high?: number | undefined;
  };
}

/** The verdict as a sentence that holds up: says better, never "proves". */
export function verdictSentence(p: SentenceParts): string {
  const aIsBetter = p.aIsLess === (p.words.better === 'less');
  const [better, other] = aIsBetter ? [p.nameA, p.nameB] : [p.nameB, p.nameA];
  const { verb, noun, better: direction } = p.words;
  const soFar = p.isSoFar ? 'So far ' : '';
  switch (p.kind) {
    case 'better-and-matters':
      return `${soFar}${better} ${verb} ${p.sizeOfDifference} ${direction} ${noun} than ${other}, and it matters.`;
    case 'better-may-not-matter':
      return `${soFar}${better} ${verb} about ${p.sizeOfDifference} ${direction} ${noun} than ${other}: that may be too little to matter.`;
    case 'no-difference-that-matters':
      return `${p.isSoFar ? 'So far between' : 'Between'} ${p.nameA} and ${p.nameB} there is no difference in ${noun} that matters: less than ${p.smallestThatMatters} either way.`;
    case 'cannot-tell':
      return `Cannot tell yet whether ${p.nameA} or ${p.nameB} ${verb} ${direction} ${noun}: ${neededText(p)}.`;
  }
}

const UNIT_WORDS: Readonly<Record<MoreUnit, readonly [string, string]>> = {
  run: ['more run', 'more runs'],
  outing: ['more outing', 'more outings'],
  group: ['more rider', 'more riders'],
};

/** How many more it takes, as a range where the scatter is only roughly known: "about 8 more runs of each (5 to 14, …)". */
export function moreText({ unit, about, low, high }: NonNullable<SentenceParts['more']>): string {
  const words = UNIT_WORDS[unit][about === 1 ? 0 : 1];
  const range =
    high === undefined
      ? ` (${low} or many more, for the scatter is hardly known)`
      : high > low
        ? ` (${low} to ${high}, for the scatter is only roughly known)`
        : '';
  return `about ${about} ${words} of each${range}`;
}

function neededText({ more, smallestThatMatters }: SentenceParts): string {
  if (!more) return 'more runs than anyone would ride would be needed to say';
  return `${moreText(more)} would show a difference of ${smallestThatMatters} if there is one`;
}
