/** "0 1,5 2" → [0, 1.5, 2]; undefined where a word is no number of zero or more. */
export function readNumbers(text: string): number[] | undefined {
  const words = text.split(/[\s;]+/).filter((word) => word !== '');
  const numbers = words.map((word) => Number(word.replace(',', '.')));
  return numbers.length > 0 && numbers.every((one) => Number.isFinite(one) && one >= 0) ? numbers : undefined;
}
