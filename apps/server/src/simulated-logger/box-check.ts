import { parseLoggerLine, SequenceLedger, type LoggerHello } from '@ebrix/core/logger';

/** Kept by the check before it breaks the first line: fewer say nothing of how a box goes on. */
const BEFORE_CUT = 60;
/** Taken and then forgotten, as a server does that dies: they must come again. */
const FORGOTTEN = 20;
/** A clock is set against arrivals over at least so long, by the freshest lines of its first and its last part. */
const CLOCK_SPAN_S = 30;
const CLOCK_PART_S = 10;
const WORST_DRIFT = 0.02;
const HIGHEST_RATE_HZ = 50;
const LINES_FOR_RATE = 100;

export type Trial = 'cut' | 'refuse' | 'silence' | 'none';
export interface CheckAnswer {
  readonly line: object;
}

/**
 * Plays the server to a box and notes what it does wrong: its hello, its numbers, its clock, and above all whether lines that nobody acknowledged
 * come again. Free of sockets and clocks: lines come with the second of their arrival.
 */
export class BoxCheck {
  private ledger = new SequenceLedger();
  private hello: LoggerHello | undefined;
  private readonly wrong = new Map<string, number>();
  private readonly heard = new Set<string>();
  private last: { n: number; t: number } | undefined;
  /** Lines as they were the newest: what is sent later than it was measured says nothing of the clock. */
  private readonly fresh: { readonly t: number; readonly at: number }[] = [];
  private lines = 0;
  private connections = 0;
  private isGoodbye = false;
  private isExpectedFrom: number | undefined;
  private readonly trials: Trial[] = [];

  /** Whether a trial is still to come; HTTP tries two ways in which a request goes wrong, a stream one. */
  next(way: 'stream' | 'request'): Trial {
    if (this.ledger.count < BEFORE_CUT) return 'none';
    const wanted: Trial[] = way === 'stream' ? ['cut'] : ['refuse', 'silence'];
    const trial = wanted.find((one) => !this.trials.includes(one)) ?? 'none';
    if (trial !== 'none') this.trials.push(trial);
    return trial;
  }

  get isOver(): boolean {
    return this.isGoodbye;
  }

  /** Up to which number all is kept. */
  get keptUpTo(): number {
    return this.ledger.resumeFrom - 1;
  }

  /** What was taken lately is forgotten, as by a server that died before it was on disk: the box was not told that it was. */
  forget(): void {
    const from = Math.max(0, this.ledger.resumeFrom - FORGOTTEN);
    this.ledger = new SequenceLedger(from === 0 ? [] : [{ from: 0, to: from - 1 }]);
    this.isExpectedFrom = from;
  }

  /** The box will come again with these: nothing of them was taken. */
  expectAgain(): void {
    this.isExpectedFrom = this.ledger.resumeFrom;
  }

  connect(): (text: string, atS: number) => CheckAnswer[] {
    this.connections++;
    let isFirst = true;
    let hasHello = false;
    return (text, atS) => {
      const parsed = parseLoggerLine(text, hasHello ? this.hello : undefined);
      if (parsed.kind === 'empty') return [];
      if (isFirst && parsed.kind !== 'hello')
        this.note('The first line of every connection and every request must be hello.');
      isFirst = false;
      switch (parsed.kind) {
        case 'hello':
          hasHello = true;
          this.greet(parsed.hello);
          return [{ line: { welcome: { session: parsed.hello.session, next: this.ledger.resumeFrom } } }];
        case 'bad':
          this.note(parsed.reason);
          return [{ line: { bad: { code: parsed.code, reason: parsed.reason } } }];
        case 'bye':
          this.isGoodbye = true;
          return [{ line: { goodbye: true } }];
        case 'sample':
          this.take(parsed.sample.n, parsed.sample.t, parsed.sample.values, atS);
          return [];
      }
    };
  }

  private greet(hello: LoggerHello): void {
    const before = this.hello;
    this.hello = hello;
    if (!before) return;
    if (before.session !== hello.session)
      this.note(
        `After a line that broke it came back as session "${hello.session}", not "${before.session}": what was not acknowledged is lost with the old one.`,
      );
    else if (before.channels.join() !== hello.channels.join() || before.units.join() !== hello.units.join())
      this.note('Channels or units changed within a session. Begin a new session for them.');
  }

  private take(n: number, t: number, values: readonly number[], atS: number): void {
    this.lines++;
    const expected = this.isExpectedFrom;
    if (expected !== undefined) {
      this.isExpectedFrom = undefined;
      if (n > expected)
        this.note(
          `Lines that were never acknowledged did not come again: ${expected} was to be next, and ${n} came. Keep a line until its acknowledgement.`,
        );
    }
    const before = this.last;
    if (before && n > before.n && t < before.t)
      this.note(`Its seconds went back, from ${before.t} at line ${before.n} to ${t} at line ${n}.`);
    if (this.ledger.add(n) === 'new' || !before || n > before.n) this.last = { n, t };
    this.hello?.channels.forEach((name, k) => {
      if (!Number.isNaN(values[k]!)) this.heard.add(name);
    });
    if (t > (this.fresh.at(-1)?.t ?? -Infinity)) this.fresh.push({ t, at: atS });
  }

  private note(sentence: string): void {
    // Numbers apart, the same fault is told once.
    const known = [...this.wrong.keys()].find((one) => one.replaceAll(/\d+/g, '') === sentence.replaceAll(/\d+/g, ''));
    this.wrong.set(known ?? sentence, (this.wrong.get(known ?? sentence) ?? 0) + 1);
  }

  private clock(): { readonly spanS: number; readonly drift: number; readonly loggedS: number } {
    const [begin, end] = [this.fresh[0], this.fresh.at(-1)];
    if (!begin || !end) return { spanS: 0, drift: 0, loggedS: 0 };
    const pace = this.hello?.pace ?? 1;
    const freshest = (part: typeof this.fresh): { t: number; at: number } =>
      part.reduce((best, one) => (one.at - one.t / pace < best.at - best.t / pace ? one : best));
    const from = freshest(this.fresh.filter(({ at }) => at <= begin.at + CLOCK_PART_S));
    const to = freshest(this.fresh.filter(({ at }) => at >= end.at - CLOCK_PART_S));
    const apart = to.at - from.at;
    return {
      spanS: end.at - begin.at,
      drift: apart > 0 ? (to.t - from.t) / pace / apart - 1 : 0,
      loggedS: end.t - begin.t,
    };
  }

  /** What is right, what is wrong with its mend, and what could not be tried. */
  report(): { readonly right: string[]; readonly wrong: string[]; readonly untried: string[] } {
    const wrong = [...this.wrong].map(([sentence, times]) => (times > 1 ? `${sentence} (${times} times)` : sentence));
    const untried: string[] = [];
    if (this.lines === 0) return { right: [], wrong: wrong.length > 0 ? wrong : ['No line came.'], untried };
    if (this.isExpectedFrom !== undefined && this.trials.length > 0)
      wrong.push('After a line that broke it did not come back.');
    const missing = this.ledger.missing();
    if (missing > 0) wrong.push(`${missing} numbers never came. Count every line from 0, without a gap.`);
    const silent = (this.hello?.channels ?? []).filter((name) => !this.heard.has(name));
    if (silent.length > 0) wrong.push(`Named in hello, but without a value: ${silent.join(', ')}.`);
    const { spanS, drift, loggedS } = this.clock();
    if (spanS < CLOCK_SPAN_S) untried.push(`its clock: that takes ${CLOCK_SPAN_S} s of riding`);
    else if (Math.abs(drift) > WORST_DRIFT)
      wrong.push(`Its clock is ${Math.abs(100 * drift).toFixed(1)} % ${drift > 0 ? 'fast' : 'slow'}; 2 % is the most.`);
    const rate = this.fresh.length / loggedS;
    if (this.fresh.length > LINES_FOR_RATE && rate > HIGHEST_RATE_HZ * 1.05)
      wrong.push(`It sends ${Math.round(rate)} lines a second; ${HIGHEST_RATE_HZ} is the most.`);
    if (this.trials.length === 0) untried.push(`a line that breaks: that takes ${BEFORE_CUT} lines`);
    if (!this.isGoodbye) untried.push('its goodbye: none came');
    const right = [
      `${this.lines} lines of session "${this.hello?.session ?? ''}" on ${this.connections} connections, ${this.ledger.count} kept.`,
      ...(this.trials.length > 0 && wrong.length === 0 ? ['What was lost on the way came again.'] : []),
    ];
    return { right, wrong, untried };
  }
}
