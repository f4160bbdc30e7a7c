import fc from 'fast-check';
import { frameShape, roomAlong, type FrameShape, type Point } from './index.js';

const measures = { seatTubeMm: 480, topTubeMm: 560, headTubeMm: 110, downTubeMm: 620, diagonalMm: 680 };
const shapeOf = (m: typeof measures): FrameShape => {
  const shape = frameShape(m);
  if (!shape.ok) throw new Error('no shape');
  return shape.value;
};
const distance = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y);
/** Independent of the program's way: on which side of each edge a point lies. */
function isInside({ bottomBracket, headBottom, headTop, seatTop }: FrameShape, p: Point, slack: number): boolean {
  const corners = [bottomBracket, headBottom, headTop, seatTop];
  return corners.every((a, k) => {
    const b = corners[(k + 1) % 4]!;
    return ((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)) / distance(a, b) >= -slack;
  });
}
const frames = fc
  .record({
    seatTubeMm: fc.integer({ min: 350, max: 600 }),
    topTubeMm: fc.integer({ min: 480, max: 620 }),
    headTubeMm: fc.integer({ min: 80, max: 200 }),
    downTubeMm: fc.integer({ min: 560, max: 700 }),
    diagonalMm: fc.integer({ min: 600, max: 760 }),
  })
  .filter((m) => frameShape(m).ok);

describe('the inside of a frame', () => {
  it('has the sides that were measured', () =>
    fc.assert(
      fc.property(frames, (m) => {
        const { bottomBracket, seatTop, headTop, headBottom } = shapeOf(m);
        expect(distance(bottomBracket, seatTop)).toBeCloseTo(m.seatTubeMm, 6);
        expect(distance(seatTop, headTop)).toBeCloseTo(m.topTubeMm, 6);
        expect(distance(headTop, headBottom)).toBeCloseTo(m.headTubeMm, 6);
        expect(distance(bottomBracket, headBottom)).toBeCloseTo(m.downTubeMm, 6);
        expect(distance(bottomBracket, headTop)).toBeCloseTo(m.diagonalMm, 6);
      }),
    ));

  it('is refused when the lengths do not close', () =>
    expect(frameShape({ ...measures, diagonalMm: 1200 })).toEqual({ ok: false, reason: 'no-frame' }));
  it('is refused when a corner would point inward', () =>
    expect(frameShape({ seatTubeMm: 350, topTubeMm: 480, headTubeMm: 80, downTubeMm: 667, diagonalMm: 600 })).toEqual({
      ok: false,
      reason: 'no-frame',
    }));

  it('holds a strip that lies wholly inside and cannot be longer', () =>
    fc.assert(
      fc.property(
        frames,
        fc.constantFrom('down-tube' as const, 'seat-tube' as const),
        fc.integer({ min: 5, max: 30 }),
        fc.integer({ min: 40, max: 160 }),
        (m, tube, rail, height) => {
          const shape = shapeOf(m);
          const room = roomAlong(shape, tube, rail, height);
          if (!room.ok) return;
          const [a, b, c, d] = room.value.strip as [Point, Point, Point, Point];
          for (const corner of [a, b, c, d]) expect(isInside(shape, corner, 1e-6)).toBe(true);
          const unit = { x: (b.x - a.x) / distance(a, b), y: (b.y - a.y) / distance(a, b) };
          const moved = (p: Point, by: number): Point => ({ x: p.x + by * unit.x, y: p.y + by * unit.y });
          // One millimetre more at either end leaves the frame with at least one corner.
          expect(isInside(shape, moved(a, -1), 1e-6) && isInside(shape, moved(d, -1), 1e-6)).toBe(false);
          expect(isInside(shape, moved(b, 1), 1e-6) && isInside(shape, moved(c, 1), 1e-6)).toBe(false);
          expect(distance(a, b)).toBeCloseTo(room.value.freeMm, 6);
        },
      ),
    ));

  it('has less room for a higher pack', () =>
    fc.assert(
      fc.property(frames, fc.integer({ min: 40, max: 120 }), fc.integer({ min: 1, max: 60 }), (m, height, more) => {
        const [low, high] = [height, height + more].map((h) => roomAlong(shapeOf(m), 'down-tube', 10, h));
        const free = (room: typeof low): number => (room!.ok ? room!.value.freeMm : 0);
        expect(free(high)).toBeLessThanOrEqual(free(low) + 1e-9);
      }),
    ));

  it('has none for a pack higher than the frame', () =>
    expect(roomAlong(shapeOf(measures), 'down-tube', 10, 900)).toEqual({ ok: false, reason: 'no-room' }));

  it('gives the hand-worked room of a rectangle', () => {
    // 300 high, 400 long: the diagonal is 500. Above the long side a strip of any height up to 300 is 400 long.
    const shape = shapeOf({ seatTubeMm: 300, topTubeMm: 400, headTubeMm: 300, downTubeMm: 400, diagonalMm: 500 });
    expect(roomAlong(shape, 'down-tube', 20, 100)).toMatchObject({ value: { freeMm: expect.closeTo(400, 6) } });
    expect(roomAlong(shape, 'seat-tube', 20, 100)).toMatchObject({ value: { freeMm: expect.closeTo(300, 6) } });
  });
});
