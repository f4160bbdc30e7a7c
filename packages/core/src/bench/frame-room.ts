import { refusal, success, type Outcome } from '../errors/index.js';
import type { FrameMeasures } from './facts.js';

export interface Point {
  /** Forward, mm. */
  readonly x: number;
  /** Upward, mm. */
  readonly y: number;
}
/** Inside corners of a main frame, bottom bracket at the origin, the seat tube leaning back by the angle below. */
export interface FrameShape {
  readonly bottomBracket: Point;
  readonly seatTop: Point;
  readonly headTop: Point;
  readonly headBottom: Point;
}
type Known = { readonly [K in keyof FrameMeasures]: number };

/** Only how the drawing stands on the page depends on it; the room inside does not. */
const SEAT_TUBE_ANGLE_RAD = (73 * Math.PI) / 180;

/**
 * Corners of the frame from four sides and a diagonal, all taken with a tape.
 * Units: mm. Method: two triangles on the diagonal, law of cosines.
 * Fails: `no-frame` when the lengths do not close (a side longer than the other two of its triangle) or a corner points inward.
 */
export function frameShape(measures: Known): Outcome<FrameShape, 'no-frame'> {
  const { seatTubeMm, topTubeMm, headTubeMm, downTubeMm, diagonalMm } = measures;
  const upper = angleOpposite(topTubeMm, seatTubeMm, diagonalMm);
  const lower = angleOpposite(headTubeMm, downTubeMm, diagonalMm);
  if (upper === undefined || lower === undefined) return refusal('no-frame');
  const seat = Math.PI - SEAT_TUBE_ANGLE_RAD;
  const at = (length: number, angle: number): Point => ({ x: length * Math.cos(angle), y: length * Math.sin(angle) });
  const shape: FrameShape = {
    bottomBracket: { x: 0, y: 0 },
    seatTop: at(seatTubeMm, seat),
    headTop: at(diagonalMm, seat - upper),
    headBottom: at(downTubeMm, seat - upper - lower),
  };
  return isConvex(shape) ? success(shape) : refusal('no-frame');
}

/** No corner points inward: only then is the room of a strip found from its two long edges. */
function isConvex({ bottomBracket, headBottom, headTop, seatTop }: FrameShape): boolean {
  const corners = [bottomBracket, headBottom, headTop, seatTop];
  return corners.every((a, k) => {
    const [b, c] = [corners[(k + 1) % 4]!, corners[(k + 2) % 4]!];
    return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x) > 0;
  });
}

/** Angle between sides `b` and `c` opposite `a`; undefined when the three do not form a triangle. */
function angleOpposite(a: number, b: number, c: number): number | undefined {
  const cosine = (b * b + c * c - a * a) / (2 * b * c);
  return cosine > -1 && cosine < 1 ? Math.acos(cosine) : undefined;
}

export interface PackRoom {
  /** Length that is free along the tube between the two heights at which the pack sits. */
  readonly freeMm: number;
  /** Where it begins, measured along the tube from the bottom bracket. */
  readonly fromMm: number;
  /** Corners of the free strip, for drawing. */
  readonly strip: readonly Point[];
}

/**
 * Longest strip of the given height, `railMm` above the tube and parallel to it, that fits into the frame. Exact for the
 * quadrilateral: a convex shape holds a strip when it holds its two long edges. Units: mm.
 * Fails: `no-room` when the frame is nowhere as high as rail and pack together.
 */
export function roomAlong(
  shape: FrameShape,
  tube: 'down-tube' | 'seat-tube',
  railMm: number,
  heightMm: number,
): Outcome<PackRoom, 'no-room'> {
  const end = tube === 'down-tube' ? shape.headBottom : shape.seatTop;
  const length = Math.hypot(end.x, end.y);
  const along: Point = { x: end.x / length, y: end.y / length };
  // The inside lies to the left of the down tube and to the right of the seat tube.
  const across: Point = tube === 'down-tube' ? { x: -along.y, y: along.x } : { x: along.y, y: -along.x };
  const corners = [shape.bottomBracket, shape.headBottom, shape.headTop, shape.seatTop].map(({ x, y }) => ({
    s: x * along.x + y * along.y,
    h: x * across.x + y * across.y,
  }));
  const low = chordAt(corners, railMm);
  const high = chordAt(corners, railMm + heightMm);
  if (!low || !high) return refusal('no-room');
  const from = Math.max(low.from, high.from);
  const to = Math.min(low.to, high.to);
  if (to <= from) return refusal('no-room');
  const point = (s: number, h: number): Point => ({ x: s * along.x + h * across.x, y: s * along.y + h * across.y });
  return success({
    freeMm: to - from,
    fromMm: from,
    strip: [point(from, railMm), point(to, railMm), point(to, railMm + heightMm), point(from, railMm + heightMm)],
  });
}

interface Corner {
  readonly s: number;
  readonly h: number;
}
/** Where a line at height `h` over the tube crosses the frame. */
function chordAt(corners: readonly Corner[], h: number): { from: number; to: number } | undefined {
  const crossings: number[] = [];
  corners.forEach((a, k) => {
    const b = corners[(k + 1) % corners.length]!;
    const [lower, upper] = a.h <= b.h ? [a, b] : [b, a];
    if (h < lower.h - 1e-9 || h > upper.h + 1e-9) return;
    if (upper.h - lower.h < 1e-9) crossings.push(a.s, b.s);
    else crossings.push(lower.s + ((h - lower.h) / (upper.h - lower.h)) * (upper.s - lower.s));
  });
  return crossings.length < 2 ? undefined : { from: Math.min(...crossings), to: Math.max(...crossings) };
}
