import type { FigureVocabulary } from './figure-vocabulary.js';

/** "B uses 12 % less energy per km than A": the better one first. */
export function voicedDifference(
  a: { readonly name: string; readonly value: number },
  b: { readonly name: string; readonly value: number },
  { verb, noun, better }: FigureVocabulary,
): string {
  const [first, second] = (better === 'less') === b.value <= a.value ? [b, a] : [a, b];
  const share = 100 * Math.abs(first.value / second.value - 1);
  if (share < 0.05) return `${first.name} and ${second.name} show the same`;
  return `${first.name} ${verb} ${share < 10 ? share.toFixed(1) : Math.round(share)} % ${better} ${noun} than ${second.name}`;
}
