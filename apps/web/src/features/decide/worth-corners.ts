import { worthOf } from '@ebrix/core/decision';

export type Corners = readonly { readonly at: number; readonly worth: number }[];

/** Corners may come this near to each other, of the whole span. */
const NEAREST = 0.01;
const MARGIN = 0.12;

/** From where to where a curve is drawn: all corners and all setups, with a margin. */
export function spanOf(points: Corners, values: readonly number[]): readonly [number, number] {
  const all = [...points.map(({ at }) => at), ...values];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const margin = MARGIN * (high - low || Math.abs(high) || 1);
  return [low >= 0 ? Math.max(0, low - margin) : low - margin, high + margin];
}

export function worthAt(points: Corners, value: number): number {
  return worthOf({ points }, value);
}

/** How near two corners may come: never so near that rounding makes them one. */
function nearest(points: Corners): number {
  const [first, last] = [points[0]!.at, points.at(-1)!.at];
  return Math.max(NEAREST * (last - first), 2e-3 * Math.max(Math.abs(first), Math.abs(last)), 1e-6);
}

/** A corner moved, kept between its neighbours and between no good and perfect. */
export function moveCorner(points: Corners, k: number, to: { at: number; worth: number }): Corners {
  const gap = nearest(points);
  const low = k === 0 ? -Infinity : points[k - 1]!.at + gap;
  const high = k === points.length - 1 ? Infinity : points[k + 1]!.at - gap;
  const wanted = Number.isFinite(to.at) && low < high ? to.at : points[k]!.at;
  const at = low < high ? Math.min(high, Math.max(low, wanted)) : wanted;
  const worth = Math.min(1, Math.max(0, Number.isFinite(to.worth) ? to.worth : points[k]!.worth));
  return points.map((point, j) => (j === k ? { at: round(at), worth: Math.round(100 * worth) / 100 } : point));
}

export function removeCorner(points: Corners, k: number): Corners {
  return points.filter((_, j) => j !== k);
}

/** A new corner in the middle of the widest stretch, on the line that is there. */
export function addCorner(points: Corners): Corners {
  let widest = 0;
  for (let k = 1; k + 1 < points.length; k++)
    if (points[k + 1]!.at - points[k]!.at > points[widest + 1]!.at - points[widest]!.at) widest = k;
  const [a, b] = [points[widest]!, points[widest + 1]!];
  if (b.at - a.at < 2 * nearest(points)) return points;
  const middle = { at: round((a.at + b.at) / 2), worth: Math.round(50 * (a.worth + b.worth)) / 100 };
  return [...points.slice(0, widest + 1), middle, ...points.slice(widest + 1)];
}

/** Four digits are more than a hand can drag. */
function round(value: number): number {
  return Number(value.toPrecision(4));
}
