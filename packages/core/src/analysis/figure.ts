import { amount, hasFiniteAmounts, plainText, type Amount, type Sentence, type UnitName } from '../units/index.js';
import { coverageFactor } from './coverage-factor.js';

/** One source of uncertainty, already multiplied by its sensitivity: in the unit of the figure. */
export interface Contribution {
  readonly source: string;
  readonly standardUncertainty: number;
  /** n − 1 for scatter; absent (infinite) for an instrument's stated limit. */
  readonly degreesOfFreedom?: number;
  /**
   * Shared by all runs made with the same instrument: more runs do not shrink it, and it cancels in a ratio. Known by its
   * limits, between which all is equally likely, unless `isRectangular` says otherwise.
   */
  readonly isSystematic?: boolean;
  /** Known by its limits, between which all is equally likely: so is what is systematic and has no degrees of freedom. */
  readonly isRectangular?: boolean;
  /**
   * Of a correction by something that is known of the bike: how the value moves, with its sign, when that is one standard
   * uncertainty larger. Runs of one bike move together, and more runs do not shrink it.
   */
  readonly effect?: number;
}

export interface Derivation {
  readonly formula: string;
  /** The formula with this run's numbers, in the figure's unit. */
  readonly substituted: string;
  /** The same with its quantities, for a page that shows other units. */
  readonly said?: Sentence;
  readonly inputs: readonly string[];
  readonly contributions: readonly (Contribution & { readonly share: number })[];
  /** The part of the log the figure rests on. */
  readonly fromS?: number;
  readonly toS?: number;
}

export interface Figure {
  readonly key: string;
  readonly label: string;
  readonly value: number;
  readonly unit: UnitName;
  readonly standardUncertainty: number;
  readonly interval95: readonly [number, number];
  readonly n: number;
  readonly derivation: Derivation;
  readonly warnings: readonly FigureWarning[];
}

export interface FigureWarning {
  readonly code: string;
  readonly message: string;
  /** The same with its quantities, for a page that shows other units. */
  readonly said?: Sentence;
}

/** Takes note of what a tester should hear of. */
export type Warn = (code: string, message: string | Sentence) => void;

export function toWarning(code: string, message: string | Sentence): FigureWarning {
  const { text, said } = spoken(message);
  return { code, message: text, ...(said && { said }) };
}

/** The plain text, and the sentence itself where all its quantities can be stored. */
function spoken(words: string | Sentence): { text: string; said?: Sentence } {
  if (typeof words === 'string') return { text: words };
  return { text: plainText(words), ...(hasFiniteAmounts(words) && { said: words }) };
}

/** A `Warn` that adds to a list. */
export function warnInto(warnings: FigureWarning[]): Warn {
  return (code, message) => void warnings.push(toWarning(code, message));
}

export interface FigureParts {
  readonly key: string;
  readonly label: string;
  readonly value: number;
  readonly unit: UnitName;
  readonly contributions: readonly Contribution[];
  readonly n: number;
  readonly formula: string;
  readonly substituted: string | Sentence;
  readonly inputs: readonly string[];
  readonly fromS?: number;
  readonly toS?: number;
  readonly warnings?: readonly FigureWarning[];
}

/**
 * A measured value from its contributions: root sum of squares; the 95 % interval by `coverageFactor`, with Welch–Satterthwaite
 * degrees of freedom and the largest stated limit taken as what it is, a rectangle.
 * Source: JCGM 100:2008 (GUM), 5.1.2, G.4.1, G.2.2.
 */
export function makeFigure(parts: FigureParts): Figure {
  const { key, label, value, unit, n, formula, inputs, fromS, toS } = parts;
  const { text, said } = spoken(parts.substituted);
  const variance = parts.contributions.reduce((sum, c) => sum + c.standardUncertainty ** 2, 0);
  const standardUncertainty = Math.sqrt(variance);
  const inverseDf = parts.contributions.reduce(
    (sum, c) =>
      c.degreesOfFreedom === undefined || variance === 0
        ? sum
        : sum + (c.standardUncertainty ** 2 / variance) ** 2 / c.degreesOfFreedom,
    0,
  );
  const largestLimit = parts.contributions.reduce(
    (most, c) =>
      (c.isRectangular ?? c.isSystematic) && c.degreesOfFreedom === undefined
        ? Math.max(most, c.standardUncertainty ** 2)
        : most,
    0,
  );
  // Beyond 1e6 degrees of freedom the t quantile is the normal one to six digits.
  const coverage = coverageFactor(variance === 0 ? 0 : largestLimit / variance, inverseDf > 1e-6 ? 1 / inverseDf : 1e6);
  const contributions = parts.contributions
    .map((c) => ({ ...c, share: variance === 0 ? 0 : c.standardUncertainty ** 2 / variance }))
    .sort((a, b) => b.share - a.share);
  return {
    key,
    label,
    value,
    unit,
    standardUncertainty,
    interval95: [value - coverage * standardUncertainty, value + coverage * standardUncertainty],
    n,
    derivation: {
      formula,
      substituted: text,
      ...(said && { said }),
      inputs,
      contributions,
      ...(fromS !== undefined && { fromS }),
      ...(toS !== undefined && { toS }),
    },
    warnings: parts.warnings ?? [],
  };
}

/** Standard uncertainty of a value known to lie within ± limit, all of it equally likely (GUM 4.3.7). */
export function fromLimit(limit: number): number {
  return limit / Math.sqrt(3);
}

/** Standard uncertainty of reading a value off in steps of `resolution` (GUM F.2.2.1). */
export function fromResolution(resolution: number): number {
  return resolution / Math.sqrt(12);
}

const DERIVATION_DIGITS = 5;

/** A number for a derivation: as many digits as tell, never in exponent form for ordinary sizes. */
export function derivationNumber(value: number): string {
  return Number(value.toPrecision(DERIVATION_DIGITS)).toString();
}

/** A quantity of a derivation, which a page may show in other units. */
export function derivationQuantity(value: number, unit: UnitName): Amount {
  return amount(value, unit, DERIVATION_DIGITS);
}

/** Its number alone, where the unit is said further on. */
export function bareQuantity(value: number, unit: UnitName): Amount {
  return { ...amount(value, unit, DERIVATION_DIGITS), isBare: true };
}

/** `1.06 ± 0.53`: two significant digits of the uncertainty, for sentences. */
export function withUncertainty(value: number, standardUncertainty: number): string {
  if (!(standardUncertainty > 0)) return derivationNumber(value);
  const decimals = Math.min(8, Math.max(0, 1 - Math.floor(Math.log10(standardUncertainty))));
  return `${value.toFixed(decimals)} ± ${standardUncertainty.toFixed(decimals)}`;
}
