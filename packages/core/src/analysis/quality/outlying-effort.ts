import { median } from '../../numeric/index.js';
import { derivationNumber as num, type FigureWarning } from '../figure.js';

const MIN_OTHERS = 3;
const MIN_SHARE = 0.15;
const SPREADS = 3;
/** Median absolute deviation to standard deviation of a normal distribution. */
const MAD_TO_SD = 1.4826;

/**
 * Whether a rider's mean power in one run lies apart from that in the other runs: by more than 15 % of their median and by
 * more than three of their spreads (1.4826 · MAD). Units: W. Undefined where it does not, or with fewer than three others.
 */
export function outlyingEffort(ownW: number, othersW: readonly number[]): FigureWarning | undefined {
  if (othersW.length < MIN_OTHERS) return undefined;
  const middle = median(othersW)!;
  const spread = MAD_TO_SD * median(othersW.map((value) => Math.abs(value - middle)))!;
  const difference = Math.abs(ownW - middle);
  if (difference <= MIN_SHARE * Math.abs(middle) || difference <= SPREADS * spread) return undefined;
  return {
    code: 'effort-unlike',
    message: `The rider gave ${num(Math.round(ownW))} W on average; in the other ${othersW.length} runs of this course it was about ${num(Math.round(middle))} W.`,
  };
}
