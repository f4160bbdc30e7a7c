import { brownForsythe } from '../../statistics/index.js';
import type { DesignedRun } from './choose-design.js';

/** Spread is taken to differ where the values as ridden say so, or clearly what the model leaves of them; or both by half. */
const AS_RIDDEN = 0.05;
const CLEAR = 0.01;
const LIKELY = 0.05;
const AGREES = 0.12;

/**
 * Do the setups scatter differently? Brown–Forsythe on the values as ridden, and on what the model leaves of each run, which sees
 * through the scatter between days but is itself a fit: it has to be clear.
 */
export function spreadDiffers(runs: readonly DesignedRun[], residuals: readonly number[], setups: number): boolean {
  const left = pOfSpread(runs, residuals, setups);
  const asRidden = pOfSpread(
    runs,
    runs.map(({ value }) => value),
    setups,
  );
  return left < CLEAR || asRidden < AS_RIDDEN || (left < LIKELY && asRidden < AGREES);
}

function pOfSpread(runs: readonly DesignedRun[], values: readonly number[], setups: number): number {
  const groups = Array.from({ length: setups }, (_, s) => values.filter((_v, i) => runs[i]!.setup === s));
  // Two values have no spread of their own beside their median.
  if (groups.some((own) => own.length < 3)) return 1;
  const test = brownForsythe(groups);
  return test.ok ? test.value.pValue : 1;
}
