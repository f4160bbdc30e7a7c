/** Pieces made one at a time, and how many were asked for. */
export function piecesOf(list: readonly string[]): { pieces: AsyncIterable<string>; made: () => number } {
  let count = 0;
  async function* make(): AsyncGenerator<string> {
    for (const piece of list) {
      count++;
      await Promise.resolve();
      yield piece;
    }
  }
  return { pieces: make(), made: () => count };
}
