import { brownForsythe } from '../../statistics/index.js';
import type { DesignedRun } from './choose-design.js';

/** Spread is taken to differ where what the model leaves says so clearly; or likely so, and the values as ridden agree. */
const CLEAR = 0.01;
const LIKELY = 0.05;
const AGREES = 0.12;

/**
 * Do the setups scatter differently? Brown–Forsythe on what the model leaves of each run.
 * A single test at 5 % would find it in one of twenty designs where it is not so, and trade a good interval for a wide one.
 */
export function spreadDiffers(runs: readonly DesignedRun[], residuals: readonly number[], setups: number): boolean {
  const p = pOfSpread(runs, residuals, setups);
  if (p < CLEAR) return true;
  return (
    p < LIKELY &&
    pOfSpread(
      runs,
      runs.map(({ value }) => value),
      setups,
    ) < AGREES
  );
}

function pOfSpread(runs: readonly DesignedRun[], values: readonly number[], setups: number): number {
  const groups = Array.from({ length: setups }, (_, s) => values.filter((_v, i) => runs[i]!.setup === s));
  // Two values have no spread of their own beside their median.
  if (groups.some((own) => own.length < 3)) return 1;
  const test = brownForsythe(groups);
  return test.ok ? test.value.pValue : 1;
}
