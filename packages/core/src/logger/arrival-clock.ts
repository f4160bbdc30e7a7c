/** A line with the number the logger gave it, and what it carries. */
export interface TimedLine<T> {
  readonly n: number;
  /** The logger's seconds. */
  readonly t: number;
  readonly line: T;
}
export interface Placement<T> {
  /** Lines whose time is settled by now, on one clock without steps. */
  readonly placed: readonly TimedLine<T>[];
  /** Lines that turned out to stand alone with a wrong time: not used. */
  readonly setAside: readonly TimedLine<T>[];
  /** The logger's clock was set: its times are moved by this much from here on, s. */
  readonly stepS?: number;
}

/** Ahead of the arrival clock by more than this, no cause but a wrong time is left, s of the world. */
const AHEAD_S = 10;
/** The same for lines that come in bursts, where a pause of the ride looks alike. */
const AHEAD_IN_BURST_S = 600;
/** Nobody pauses longer within one session: a longer jump is a clock that was set, in a burst too. */
const LONGEST_PAUSE_S = 43_200;
/** Times of lines in order never go back further than rounding. */
const BACK_S = 2;
/** So many lines that agree with one another are a clock that was set, not a stray time. */
const AGREEING_LINES = 5;
/** Lines over at least this long show whether they come as they are measured. */
const LIVE_WINDOW_S = 3;
const WINDOW_KEPT_S = 8;
const WINDOW_SPACING_S = 0.5;

/**
 * Places the lines of a logger, in the order they arrive, on one clock.
 *
 * A stray time (a bit error, a satellite fix that comes and goes) is set aside; a clock that was set, in the middle of a
 * session, is moved back so that the session goes on. Both are told from a pause by the clock of arrival: a logger that
 * sends as it measures cannot be ahead of it. Lines sent in a burst are judged by their order alone.
 *
 * Shapes: lines with increasing `n`; late ones go through `placeLate`.
 */
export class ArrivalClock<T> {
  private last: { t: number; arrivedS: number } | undefined;
  private window: { t: number; arrivedS: number }[] = [];
  private suspects: (TimedLine<T> & { arrivedS: number })[] = [];
  private readonly steps: { fromN: number; shiftS: number }[] = [];

  /** `pace`: logger seconds in one of the world. */
  constructor(private readonly pace: number) {}

  /** What a session that goes on knew last, from what is stored of it. */
  resume(t: number, arrivedS: number): void {
    this.last = { t, arrivedS };
  }

  place(line: TimedLine<T>, arrivedS: number): Placement<T> {
    const t = this.timeOf(line);
    if (!this.last) return this.accept([{ ...line, t }], arrivedS);
    const advance = t - this.last.t;
    const limit = this.allowance(arrivedS);
    if (advance >= -BACK_S && this.excess(t, arrivedS) <= limit) {
      const setAside = this.suspects;
      this.suspects = [];
      return { ...this.accept([{ ...line, t }], arrivedS), setAside };
    }
    const previous = this.suspects.at(-1);
    const agrees =
      previous !== undefined &&
      t >= previous.t - BACK_S &&
      t - previous.t <= limit + (arrivedS - previous.arrivedS) * this.pace;
    const setAside = agrees ? [] : this.suspects;
    this.suspects = agrees ? [...this.suspects, { ...line, t, arrivedS }] : [{ ...line, t, arrivedS }];
    return this.suspects.length < AGREEING_LINES ? { placed: [], setAside } : { ...this.settle(arrivedS), setAside };
  }

  /** The time of a line whose number comes after higher ones; undefined when it is ahead of the clock of arrival. */
  placeLate(line: TimedLine<T>, arrivedS: number): number | undefined {
    const t = this.timeOf(line);
    if (!this.last || t <= this.last.t + BACK_S) return t;
    if (this.excess(t, arrivedS) > this.allowance(arrivedS)) return undefined;
    this.accept([{ ...line, t }], arrivedS);
    return t;
  }

  /** The time of a line on the session's clock, by the steps known so far. */
  timeOf({ n, t }: { readonly n: number; readonly t: number }): number {
    const step = this.steps.findLast(({ fromN }) => n >= fromN);
    return t + (step?.shiftS ?? 0);
  }

  /** How far a time has run ahead of the clock of arrival since the line before, and how far it may, logger seconds. */
  private excess(t: number, arrivedS: number): number {
    return t - this.last!.t - (arrivedS - this.last!.arrivedS) * this.pace;
  }
  private allowance(arrivedS: number): number {
    return (this.isLive(arrivedS) ? AHEAD_S : AHEAD_IN_BURST_S) * this.pace;
  }

  /** The suspects agree with one another: the clock was set, or the ride paused in the middle of a burst. */
  private settle(arrivedS: number): Omit<Placement<T>, 'setAside'> {
    const lines = this.suspects;
    const [first] = lines as [(typeof lines)[number]];
    this.suspects = [];
    const { t, arrivedS: lastArrivedS } = this.last!;
    const isPause = first.t > t && first.t - t <= LONGEST_PAUSE_S * this.pace && !this.isLive(first.arrivedS);
    const stepS = isPause ? 0 : t + Math.max(0, (first.arrivedS - lastArrivedS) * this.pace) - first.t;
    if (stepS !== 0) this.steps.push({ fromN: first.n, shiftS: (this.steps.at(-1)?.shiftS ?? 0) + stepS });
    const placed = this.accept(
      lines.map(({ n, t: time, line }) => ({ n, t: time + stepS, line })),
      arrivedS,
    );
    return { ...placed, ...(stepS !== 0 && { stepS }) };
  }

  private accept(lines: readonly TimedLine<T>[], arrivedS: number): Placement<T> {
    const { t } = lines.at(-1)!;
    this.last = { t, arrivedS };
    const newest = this.window.at(-1);
    if (!newest || arrivedS - newest.arrivedS >= WINDOW_SPACING_S) this.window.push({ t, arrivedS });
    while (this.window.length > 1 && arrivedS - this.window[0]!.arrivedS > WINDOW_KEPT_S) this.window.shift();
    return { placed: lines, setAside: [] };
  }

  /** Whether the lines of the last seconds advanced no faster than the clock of arrival. */
  private isLive(arrivedS: number): boolean {
    const [oldest] = this.window;
    if (!oldest || !this.last) return false;
    const seconds = this.last.arrivedS - oldest.arrivedS;
    const isRecent = arrivedS - this.last.arrivedS <= WINDOW_KEPT_S;
    return isRecent && seconds >= LIVE_WINDOW_S && this.last.t - oldest.t <= (1.05 * seconds + 1) * this.pace;
  }
}
