/** Where 95 in 100 of some values lie; a few more, since some hundred draws do not show the ends well. Holds the centre in any case. */
export function middle95(values: readonly number[], centre: number): readonly [number, number] {
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number): number => {
    const position = share * (sorted.length - 1);
    const low = Math.floor(position);
    const high = Math.min(sorted.length - 1, low + 1);
    return sorted[low]! + (position - low) * (sorted[high]! - sorted[low]!);
  };
  return [Math.min(centre, at(0.022)), Math.max(centre, at(0.978))];
}
