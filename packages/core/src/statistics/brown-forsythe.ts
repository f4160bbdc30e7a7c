import { refusal, success, type Outcome } from '../errors/index.js';
import { median } from '../numeric/index.js';
import { oneWayAnova, type FTest } from './analysis-of-variance.js';

/**
 * Brown–Forsythe test of equal spread: analysis of variance of the distances from each group's median.
 * Needs two groups or more of two values or more each. Fails: `too-few`, `no-spread`.
 * Source: Brown & Forsythe (1974), J. Am. Stat. Assoc. 69(346), 364–367.
 */
export function brownForsythe(groups: readonly (readonly number[])[]): Outcome<FTest, 'no-spread' | 'too-few'> {
  const usable = groups.filter((values) => values.length > 1);
  if (usable.length < 2) return refusal('too-few');
  const distances = usable.map((values) => {
    const middle = median(values)!;
    return values.map((value) => Math.abs(value - middle));
  });
  const test = oneWayAnova(distances);
  return test.ok
    ? success({
        f: test.value.f,
        numeratorDf: test.value.numeratorDf,
        denominatorDf: test.value.denominatorDf,
        pValue: test.value.pValue,
      })
    : test;
}
