import { requireSameLength } from '../errors/index.js';

/**
 * Smoothed values and slopes of y over x by local linear regression with a window of fixed width in x (tricube-free:
 * all points in the window weigh the same, so that the slope's standard error is the textbook one).
 *
 * Shapes of `givenX` and `givenY`: x increasing (equal values allowed), equal lengths, all finite; `width` in the unit of x.
 * Output: `level` in the unit of y, `slope` and `slopeStandardError` in units of y per x (NaN-free; a window without
 *         width gets slope 0 and an infinite standard error).
 */
export function fitLocalLines(
  givenX: ArrayLike<number>,
  givenY: ArrayLike<number>,
  width: number,
): { level: Float64Array; slope: Float64Array; slopeStandardError: Float64Array } {
  requireSameLength({ x: givenX, y: givenY });
  // One kind of list, for which the loops below are made fast.
  const [x, y] = [givenX, givenY].map((list) => (list instanceof Float64Array ? list : new Float64Array(list))) as [
    Float64Array,
    Float64Array,
  ];
  const n = x.length;
  const level = new Float64Array(n);
  const slope = new Float64Array(n);
  const slopeStandardError = new Float64Array(n).fill(Infinity);
  let from = 0;
  let to = 0;
  const sums = new WindowSums(x, y);
  for (let k = 0; k < n; k++) {
    const centre = x[k]!;
    while (x[from]! < centre - width / 2) from++;
    while (to < n && x[to]! <= centre + width / 2) to++;
    if (to - from <= MAX_SUMMED) sums.moveTo(from, to);
    else sums.strideOver(from, to);
    const { count, meanX, meanY, sxx, sxy, syy } = sums.moments();
    if (sxx > 1e-12 * width * width) {
      slope[k] = sxy / sxx;
      level[k] = meanY + slope[k]! * (centre - meanX);
      if (count > 2) slopeStandardError[k] = Math.sqrt(Math.max(0, syy - (sxy * sxy) / sxx) / (count - 2) / sxx);
    } else level[k] = meanY;
  }
  return { level, slope, slopeStandardError };
}

/** At a standstill a window over a distance can hold thousands of samples: a stride keeps the work bounded. */
const MAX_SUMMED = 200;
/** Sums that are only moved along lose digits; after so many windows they are made afresh about a new origin. */
const AFRESH_AFTER = 64;

/** Sums over the samples [from, to) of a window that moves on, about an origin near it. */
class WindowSums {
  private from = 0;
  private to = 0;
  private moved = Infinity;
  private originX = 0;
  private originY = 0;
  private count = 0;
  private x1 = 0;
  private y1 = 0;
  private xx = 0;
  private xy = 0;
  private yy = 0;

  constructor(
    private readonly x: Float64Array,
    private readonly y: Float64Array,
  ) {}

  moveTo(from: number, to: number): void {
    if (this.moved >= AFRESH_AFTER || from >= this.to) this.clear(from);
    while (this.to < to) this.add(this.to++, 1);
    while (this.from < from) this.add(this.from++, -1);
    this.moved++;
  }
  strideOver(from: number, to: number): void {
    this.clear(from);
    const stride = Math.max(1, Math.floor((to - from) / MAX_SUMMED));
    for (let j = from; j < to; j += stride) this.add(j, 1);
    // What a stride left out is not known: the next window is summed afresh.
    this.moved = Infinity;
  }
  /** Means, and sums of squares about them. */
  moments(): { count: number; meanX: number; meanY: number; sxx: number; sxy: number; syy: number } {
    const { count, x1, y1 } = this;
    return {
      count,
      meanX: this.originX + x1 / count,
      meanY: this.originY + y1 / count,
      sxx: this.xx - (x1 * x1) / count,
      sxy: this.xy - (x1 * y1) / count,
      syy: this.yy - (y1 * y1) / count,
    };
  }
  private clear(from: number): void {
    this.from = this.to = from;
    this.originX = this.x[from]!;
    this.originY = this.y[from]!;
    this.moved = this.count = this.x1 = this.y1 = this.xx = this.xy = this.yy = 0;
  }
  private add(j: number, sign: 1 | -1): void {
    const dx = this.x[j]! - this.originX;
    const dy = this.y[j]! - this.originY;
    this.count += sign;
    this.x1 += sign * dx;
    this.y1 += sign * dy;
    this.xx += sign * dx * dx;
    this.xy += sign * dx * dy;
    this.yy += sign * dy * dy;
  }
}
