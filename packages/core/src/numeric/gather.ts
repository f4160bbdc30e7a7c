/** The values at those places, in a column of their own: a plain loop, since a mapped `Float64Array.from` takes ten times as long. */
export function gather(values: ArrayLike<number>, places: ArrayLike<number>): Float64Array {
  const gathered = new Float64Array(places.length);
  for (let j = 0; j < gathered.length; j++) gathered[j] = values[places[j]!]!;
  return gathered;
}
