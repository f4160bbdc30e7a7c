import fc from 'fast-check';
import { ArrivalClock, type Placement } from './arrival-clock.js';

interface Sent {
  readonly n: number;
  readonly t: number;
  readonly arrivedS: number;
}
/** Ten lines a second, as they are measured, with a delay of reception; `change` makes a clock wrong. */
const live = (count: number, change: (k: number, t: number) => number = (_, t) => t): Sent[] =>
  Array.from({ length: count }, (_, k) => ({ n: k, t: change(k, k / 10), arrivedS: 1000 + k / 10 + 0.05 * (k % 3) }));

function run(lines: readonly Sent[], pace = 1): { placed: [number, number][]; aside: number[]; steps: number[] } {
  const clock = new ArrivalClock<null>(pace);
  const placed: [number, number][] = [];
  const aside: number[] = [];
  const steps: number[] = [];
  for (const { n, t, arrivedS } of lines) {
    const end: Placement<null> = clock.place({ n, t, line: null }, arrivedS);
    placed.push(...end.placed.map((line): [number, number] => [line.n, line.t]));
    aside.push(...end.setAside.map((line) => line.n));
    if (end.stepS !== undefined) steps.push(end.stepS);
  }
  return { placed, aside, steps };
}

describe('the clock of arrival', () => {
  it('leaves an ordinary session as it is, whatever the delays', () => {
    const lines = live(300);
    expect(run(lines)).toEqual({ placed: lines.map(({ n, t }) => [n, t]), aside: [], steps: [] });
  });

  it.each([9e6, -500, 1.8e9])('sets a single line with a time %d s off aside, and goes on as before', (off) => {
    const { placed, aside, steps } = run(live(300, (k, t) => (k === 150 ? t + off : t)));
    expect(aside).toEqual([150]);
    expect(steps).toEqual([]);
    expect(placed).toHaveLength(299);
    expect(placed.every(([n, t]) => Math.abs(t - n / 10) < 1e-6)).toBe(true);
  });

  it.each([9e6, -120, 1.8e9])('moves a clock that is set by %d s in mid-session back, and loses nothing', (off) => {
    const { placed, aside, steps } = run(live(300, (k, t) => (k >= 150 ? t + off : t)));
    expect(aside).toEqual([]);
    expect(steps).toEqual([expect.closeTo(-off, -1)]);
    expect(placed.map(([n]) => n)).toEqual(Array.from({ length: 300 }, (_, n) => n));
    expect(placed.every(([n, t]) => Math.abs(t - n / 10) < 0.5)).toBe(true);
  });

  it('takes a pause for a pause: nothing arrived meanwhile either', () => {
    const lines = live(300).map((line) =>
      line.n < 150 ? line : { ...line, t: line.t + 400, arrivedS: line.arrivedS + 400 },
    );
    expect(run(lines)).toMatchObject({ aside: [], steps: [] });
  });

  it('takes lines that were kept while nobody listened as they are, with the pauses in them', () => {
    const lines = live(300).map((line) => ({ ...line, t: line.n < 150 ? line.t : line.t + 4000, arrivedS: 1000 }));
    const { placed, aside, steps } = run(lines);
    expect([aside, steps]).toEqual([[], []]);
    expect(placed).toEqual(lines.map(({ n, t }) => [n, t]));
  });

  it('sets a stray time aside in such a burst too', () => {
    const lines = live(300, (k, t) => (k === 100 ? 9e6 : t)).map((line) => ({ ...line, arrivedS: 1000 }));
    expect(run(lines)).toMatchObject({ aside: [100], steps: [] });
  });

  it('goes on with a clock that had been set, after the program was started anew', () => {
    const clock = new ArrivalClock<null>(1);
    clock.resume(15, 1015);
    const ends = live(10, (_, t) => 1.8e9 + 30 + t).map(({ n, t }, k) =>
      clock.place({ n: n + 200, t, line: null }, 1030 + k / 10),
    );
    const placed = ends.flatMap((end) => end.placed);
    expect(placed.map(({ n }) => n)).toEqual(Array.from({ length: 10 }, (_, k) => 200 + k));
    expect(placed.every(({ t }, k) => Math.abs(t - (30 + k / 10)) < 0.5)).toBe(true);
  });

  it('never places a line more than the allowance ahead of the arrival clock, whatever comes', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 9 }), fc.double({ min: -1e7, max: 1e7, noNaN: true }))),
        (wrong) => {
          const off = new Map(wrong.map(([k, value]) => [60 + 20 * k, value]));
          const { placed } = run(live(300, (k, t) => t + (off.get(k) ?? 0)));
          return placed.every(([n, t]) => t - n / 10 < 11);
        },
      ),
    );
  });
});
