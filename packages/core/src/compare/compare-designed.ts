import { CoreError } from '../errors/index.js';
import {
  adjustHolm,
  compareWithBlocks,
  compareWithCovariate,
  pairedTInterval,
  studentTTwoSided,
  wilcoxonSignedRank,
  type AdjustedComparison,
  type PairwiseInterval,
} from '../statistics/index.js';
import { nameFTest, type NamedFTest } from './comparison.js';
import { mixedModel } from './design/fit-random.js';

/** One run of a table with a design: which setup, and the outing (block) or the covariate it was ridden under. */
export interface DesignedRow {
  readonly setup: string;
  readonly value: number;
  readonly block?: string;
  readonly group?: string;
  readonly covariate?: number;
}

export interface DesignedComparison {
  readonly blocked?: NamedAdjusted & { readonly blockTest?: NamedFTest };
  /** Outings (where no group is given) or groups as a random sample. */
  readonly mixed?: {
    readonly groupSd: number;
    readonly residualSd: number;
    readonly remlLogLikelihood: number;
    readonly adjustedMeans: NamedAdjusted['adjustedMeans'];
    readonly contrasts: NamedAdjusted['contrasts'];
  };
  readonly paired?: {
    readonly meanDifference: number;
    readonly lower: number;
    readonly upper: number;
    readonly t: number;
    readonly df: number;
    readonly p: number;
    readonly pairs: number;
    readonly wilcoxon?: {
      readonly v: number;
      readonly p: number;
      readonly pseudoMedian: number;
      readonly lower?: number;
      readonly upper?: number;
    };
  };
  readonly ancova?: NamedAdjusted & {
    readonly slope: number;
    readonly slopeStandardError: number;
    readonly slopePValue: number;
    readonly slopesDiffer?: NamedFTest;
    readonly rSquared: number;
    readonly residualSd: number;
    readonly covariateMean: number;
  };
  readonly notes: readonly string[];
}
export type NamedAdjusted = Pick<AdjustedComparison, 'treatmentTest' | 'residualVariance' | 'degreesOfFreedom'> & {
  readonly adjustedMeans: readonly {
    readonly setup: string;
    readonly mean: number;
    readonly standardError: number;
    readonly lower: number;
    readonly upper: number;
  }[];
  readonly contrasts: readonly {
    readonly a: string;
    readonly b: string;
    readonly difference: number;
    readonly standardError: number;
    readonly df: number;
    readonly t: number;
    readonly p: number;
    /** Of the plain t tests of all pairs, by Holm. */
    readonly holmP: number;
    readonly lower: number;
    readonly upper: number;
  }[];
};

const CONFIDENCE = 0.95;
const REASONS = {
  'not-separable': 'setups and outings (or the covariate) cannot be separated in this table',
  'too-few': 'too few runs for that many setups and outings',
  'no-spread': 'nothing is left over to judge chance by',
} as const;

/**
 * What the design of a table adds to the plain comparison: outings as blocks, pairs, a covariate.
 * Names are indexed in the order of `setups`. Throws `unknown-setup` for a row that names none of them.
 */
export function compareDesigned(rows: readonly DesignedRow[], setups: readonly string[]): DesignedComparison {
  const notes: string[] = [];
  const y = rows.map(({ value }) => value);
  const index = rows.map(({ setup }) => {
    const k = setups.indexOf(setup);
    if (k < 0) throw new CoreError('unknown-setup', `no setup is called "${setup}"`);
    return k;
  });
  const result: { -readonly [K in keyof DesignedComparison]: DesignedComparison[K] } = { notes };
  if (rows.every(({ block }) => block !== undefined)) {
    const names = [...new Set(rows.map(({ block }) => block!))];
    const fit = compareWithBlocks(
      y,
      index,
      rows.map(({ block }) => names.indexOf(block!)),
      CONFIDENCE,
    );
    if (fit.ok)
      result.blocked = {
        ...nameAdjusted(fit.value, setups),
        ...(fit.value.blockTest && { blockTest: nameFTest(fit.value.blockTest) }),
      };
    else notes.push(`No comparison within outings: ${REASONS[fit.reason]}.`);
    const paired = setups.length === 2 ? comparePairs(rows, setups, names) : undefined;
    if (paired) result.paired = paired;
  }
  if (rows.every(({ covariate }) => covariate !== undefined)) {
    const fit = compareWithCovariate(
      y,
      index,
      rows.map(({ covariate }) => covariate!),
      CONFIDENCE,
    );
    if (fit.ok) {
      const { slope, slopeStandardError, slopePValue, covariateMean, slopesDiffer, rSquared } = fit.value;
      result.ancova = {
        ...nameAdjusted(fit.value, setups),
        slope,
        slopeStandardError,
        slopePValue,
        covariateMean,
        rSquared,
        residualSd: Math.sqrt(fit.value.residualVariance),
        ...(slopesDiffer && { slopesDiffer: nameFTest(slopesDiffer) }),
      };
      if (!covariatesOverlap(rows, setups))
        notes.push(
          'One setup was only ridden under other conditions than the rest: the adjustment reaches beyond what was measured.',
        );
    } else notes.push(`No adjustment by the covariate: ${REASONS[fit.reason]}.`);
  }
  const clusters = clustersOf(rows);
  const mixed = clusters && compareMixed(y, index, clusters, setups);
  if (mixed) result.mixed = mixed;
  return result;
}

function clustersOf(rows: readonly DesignedRow[]): number[] | undefined {
  for (const column of ['group', 'block'] as const)
    if (rows.every((row) => row[column] !== undefined)) {
      const names = [...new Set(rows.map((row) => row[column]!))];
      return rows.map((row) => names.indexOf(row[column]!));
    }
  return undefined;
}

function compareMixed(
  y: readonly number[],
  index: readonly number[],
  clusters: readonly number[],
  setups: readonly string[],
): DesignedComparison['mixed'] {
  const model = mixedModel(
    y.map((value, i) => ({ value, setup: index[i]! })),
    clusters,
    setups.length,
    CONFIDENCE,
  );
  if (!model.ok) return undefined;
  const { pairs, adjustedMeans, groupVariance, residualVariance, remlLogLikelihood } = model.value;
  return {
    groupSd: Math.sqrt(groupVariance),
    residualSd: Math.sqrt(residualVariance),
    remlLogLikelihood,
    adjustedMeans: adjustedMeans.map(({ df: _df, ...mean }, k) => ({ setup: setups[k]!, ...mean })),
    contrasts: nameContrasts(pairs, setups),
  };
}

function nameContrasts(contrasts: readonly PairwiseInterval[], setups: readonly string[]): NamedAdjusted['contrasts'] {
  const holm = adjustHolm(
    contrasts.map(({ difference, standardError, degreesOfFreedom }) =>
      studentTTwoSided(difference / standardError, degreesOfFreedom),
    ),
  );
  return contrasts.map(({ a, b, difference, standardError, degreesOfFreedom: df, pValue: p, lower, upper }, k) => ({
    a: setups[a]!,
    b: setups[b]!,
    difference,
    standardError,
    df,
    t: difference / standardError,
    p,
    holmP: holm[k]!,
    lower,
    upper,
  }));
}

function nameAdjusted(fit: AdjustedComparison, setups: readonly string[]): NamedAdjusted {
  const { treatmentTest, residualVariance, degreesOfFreedom } = fit;
  return {
    treatmentTest,
    residualVariance,
    degreesOfFreedom,
    adjustedMeans: fit.adjustedMeans.map((mean, k) => ({ setup: setups[k]!, ...mean })),
    contrasts: nameContrasts(fit.contrasts, setups),
  };
}

function comparePairs(
  rows: readonly DesignedRow[],
  setups: readonly string[],
  blocks: readonly string[],
): DesignedComparison['paired'] {
  const differences: number[] = [];
  for (const block of blocks) {
    const [a, b] = setups.map((setup) => rows.filter((row) => row.block === block && row.setup === setup));
    if (a!.length !== 1 || b!.length !== 1) return undefined;
    differences.push(a![0]!.value - b![0]!.value);
  }
  const t = pairedTInterval(differences, CONFIDENCE);
  if (!t.ok) return undefined;
  // Differences of decimal readings tie in the tester's digits, not in the last bit.
  const wilcoxon = wilcoxonSignedRank(
    differences.map((d) => Number(d.toPrecision(12))),
    CONFIDENCE,
  );
  return {
    meanDifference: t.value.estimate,
    lower: t.value.lower,
    upper: t.value.upper,
    t: t.value.t,
    df: t.value.degreesOfFreedom,
    p: t.value.pValue,
    pairs: differences.length,
    ...(wilcoxon.ok && {
      wilcoxon: {
        v: wilcoxon.value.statistic,
        p: wilcoxon.value.pValue,
        pseudoMedian: wilcoxon.value.estimate,
        ...(wilcoxon.value.lower !== undefined &&
          wilcoxon.value.upper !== undefined && { lower: wilcoxon.value.lower, upper: wilcoxon.value.upper }),
      },
    }),
  };
}

function covariatesOverlap(rows: readonly DesignedRow[], setups: readonly string[]): boolean {
  const ranges = setups.map((setup) => {
    const values = rows.filter((row) => row.setup === setup).map(({ covariate }) => covariate!);
    return [Math.min(...values), Math.max(...values)] as const;
  });
  return Math.max(...ranges.map(([low]) => low)) <= Math.min(...ranges.map(([, high]) => high));
}
