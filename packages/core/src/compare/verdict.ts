import type { FigureVocabulary } from './figure-vocabulary.js';

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
  readonly moreRunsEach?: number;
}

/** The verdict as a sentence that holds up: says better, never "proves". */
export function verdictSentence(p: SentenceParts): string {
  const aIsBetter = p.aIsLess === (p.words.better === 'less');
  const [better, other] = aIsBetter ? [p.nameA, p.nameB] : [p.nameB, p.nameA];
  const { verb, noun, better: direction } = p.words;
  switch (p.kind) {
    case 'better-and-matters':
      return `${better} ${verb} ${p.sizeOfDifference} ${direction} ${noun} than ${other}, and it matters.`;
    case 'better-may-not-matter':
      return `${better} ${verb} about ${p.sizeOfDifference} ${direction} ${noun} than ${other}: that may be too little to matter.`;
    case 'no-difference-that-matters':
      return `Between ${p.nameA} and ${p.nameB} there is no difference in ${noun} that matters: less than ${p.smallestThatMatters} either way.`;
    case 'cannot-tell': {
      const runs = p.moreRunsEach;
      const needed =
        runs === undefined
          ? 'too few runs to say how many more it takes'
          : `about ${runs} more run${runs === 1 ? '' : 's'} of each would show a difference of ${p.smallestThatMatters} if there is one`;
      return `Cannot tell yet whether ${p.nameA} or ${p.nameB} ${verb} ${direction} ${noun}: ${needed}.`;
    }
  }
}
