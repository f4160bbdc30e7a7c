import { root } from './say.mjs';

/** The comparison that is timed: net consumption of setups with their runs, with so many resamples. */
export async function comparer() {
  const { compareSetups, figureVocabulary } = await import(`${root}/packages/core/dist/compare/index.js`);
  return (setups, resamples, more = {}) =>
    compareSetups({
      setups,
      smallestDifference: { kind: 'relative', value: 0.05 },
      words: figureVocabulary('netConsumption', '', 'less'),
      unit: 'Wh/km',
      seed: 1,
      resamples,
      ...more,
    });
}
