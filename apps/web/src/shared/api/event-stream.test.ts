import { hearEvents } from './event-stream.js';

/** A stream whose fate the test decides. */
class Source {
  static readonly opened: Source[] = [];
  readyState = 1;
  isEnded = false;
  private readonly hears = new Map<string, (event: { data: string }) => void>();
  constructor(readonly path: string) {
    Source.opened.push(this);
  }
  addEventListener(event: string, hear: (event: { data: string }) => void): void {
    this.hears.set(event, hear);
  }
  tell(event: string, data = ''): void {
    this.hears.get(event)?.({ data });
  }
  close(): void {
    this.isEnded = true;
  }
}

beforeEach(() => {
  jest.useFakeTimers();
  Source.opened.length = 0;
  (globalThis as { EventSource: unknown }).EventSource = Source;
});
afterEach(() => jest.useRealTimers());

describe('a stream of events', () => {
  it('that was refused for good is opened anew, and what it then tells is heard', () => {
    const heard: string[] = [];
    const states: boolean[] = [];
    const end = hearEvents('/api/x', { live: (data) => heard.push(data) }, (is) => states.push(is));
    Source.opened[0]!.readyState = 2;
    Source.opened[0]!.tell('error');
    jest.advanceTimersByTime(5000);
    expect(Source.opened).toHaveLength(2);
    Source.opened[1]!.tell('open');
    Source.opened[1]!.tell('live', '7');
    expect([heard, states]).toEqual([['7'], [false, true]]);
    end();
    expect(Source.opened[1]!.isEnded).toBe(true);
  });
  it('whose line broke is left to the browser, and one that was ended is not opened again', () => {
    const end = hearEvents('/api/x', {}, () => undefined);
    Source.opened[0]!.readyState = 0;
    Source.opened[0]!.tell('error');
    jest.advanceTimersByTime(5000);
    expect(Source.opened).toHaveLength(1);
    Source.opened[0]!.readyState = 2;
    Source.opened[0]!.tell('error');
    end();
    jest.advanceTimersByTime(5000);
    expect(Source.opened).toHaveLength(1);
  });
});
