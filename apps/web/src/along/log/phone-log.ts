import type { PhoneLine, PhoneStore } from '../store/phone-store.js';

/** What a phone measures by itself, in the words of the logger protocol. */
export const PHONE_CHANNELS = [
  'speed',
  'distance',
  'latitude',
  'longitude',
  'altitude',
  'heartRate',
  'cadence',
  'riderPower',
  'airTemperature',
] as const;
/** What it feels, many times a second. They come last: a log without them has the same columns before. */
export const FELT_CHANNELS = [
  'accelerationX',
  'accelerationY',
  'accelerationZ',
  'turnRateX',
  'turnRateY',
  'turnRateZ',
] as const;
export type PhoneChannel = (typeof PHONE_CHANNELS)[number] | (typeof FELT_CHANNELS)[number];
/** The columns of a ride's log; rides of a version that felt nothing have fewer, and keep them. */
export function channelsOf({ hasFeltColumns = false }: { readonly hasFeltColumns?: boolean }): readonly PhoneChannel[] {
  return hasFeltColumns ? [...PHONE_CHANNELS, ...FELT_CHANNELS] : PHONE_CHANNELS;
}
/** So much of what is felt is kept for one ride: six hours at sixty a second, and a file that Ebrix reads. */
export const MOST_FELT = 1_300_000;
export type Reading = { readonly [C in PhoneChannel]?: number };

const DECIMALS: Record<PhoneChannel, number> = {
  speed: 2,
  distance: 1,
  latitude: 7,
  longitude: 7,
  altitude: 1,
  heartRate: 0,
  cadence: 1,
  riderPower: 0,
  airTemperature: 1,
  accelerationX: 2,
  accelerationY: 2,
  accelerationZ: 2,
  turnRateX: 1,
  turnRateY: 1,
  turnRateZ: 1,
};
/** Written down at least this often, so that a kill takes no more. */
const WRITE_MS = 1000;

/** The log of one ride: readings as they come, on disk within a second, going on where an earlier start of the app left it. */
export class PhoneLog {
  private waiting: PhoneLine[] = [];
  private writing: Promise<void> = Promise.resolve();
  private timer: ReturnType<typeof setInterval> | undefined;
  private lastT = -Infinity;
  private lastFeltT = -Infinity;
  /** Lines of what was felt, so far. */
  felt = 0;
  /** Why lines could not be written, where they could not: no room is left. */
  problem: string | undefined;

  private constructor(
    private readonly store: PhoneStore,
    private readonly rideId: string,
    private readonly epochMs: number,
    private nextN: number,
    private readonly nowMs: () => number,
    private readonly channels: readonly PhoneChannel[],
  ) {}

  static async open(
    store: PhoneStore,
    { id, epochMs, ...ride }: { readonly id: string; readonly epochMs: number; readonly hasFeltColumns?: boolean },
    nowMs: () => number = phoneClock,
  ): Promise<PhoneLog> {
    const log = new PhoneLog(store, id, epochMs, await store.nextLine(id), nowMs, channelsOf(ride));
    const last = (await store.chunkAt(id))?.lines.at(-1)?.[1];
    if (typeof last === 'number') log.lastT = last;
    log.felt = Math.min(MOST_FELT, log.nextN);
    log.timer = setInterval(() => void log.write(), WRITE_MS);
    return log;
  }

  /** Seconds of this log, now. */
  get t(): number {
    return Math.max(0, (this.nowMs() - this.epochMs) / 1000);
  }

  /** A reading of which nothing is kept here is no line. */
  take(reading: Reading, t = this.t): void {
    // A phone's clock that was set back in mid-ride must not put lines before those that are there.
    const at = Math.max(t, this.lastT + 0.001);
    if (this.add(reading, at)) this.lastT = at;
  }

  /** What was felt: between places, which are told of later than they are measured. */
  feel(reading: Reading, t: number): void {
    if (this.felt >= MOST_FELT) return;
    const at = Math.max(t, this.lastFeltT + 0.001);
    if (!this.add(reading, at)) return;
    this.lastFeltT = at;
    this.felt++;
  }

  private add(reading: Reading, at: number): boolean {
    if (!this.channels.some((channel) => Number.isFinite(reading[channel]))) return false;
    this.waiting.push([
      this.nextN++,
      Number(at.toFixed(3)),
      ...this.channels.map((channel) => {
        const value = reading[channel];
        return value === undefined || !Number.isFinite(value) ? null : Number(value.toFixed(DECIMALS[channel]));
      }),
    ]);
    return true;
  }

  /** All that waits is on disk; what cannot be written stays and is tried again. */
  write(): Promise<void> {
    this.writing = this.writing.then(async () => {
      const lines = this.waiting;
      if (lines.length === 0) return;
      this.waiting = [];
      try {
        await this.store.addLines({ rideId: this.rideId, fromN: lines[0]![0]!, lines });
        this.problem = undefined;
      } catch (error) {
        this.waiting = [...lines, ...this.waiting];
        this.problem = error instanceof Error ? error.message : String(error);
      }
    });
    return this.writing;
  }

  async close(): Promise<void> {
    clearInterval(this.timer);
    await this.write();
  }
}

/**
 * A clock that goes on while the phone sleeps, and is not set back while the page lives: lines and marks must not change their order. The browser's own
 * monotonic clock stands still in sleep, and would press a ride together.
 */
export function steadyClock(wallMs: () => number = Date.now): () => number {
  let [lastMs, behindMs] = [-Infinity, 0];
  return () => {
    const now = wallMs() + behindMs;
    if (now < lastMs) {
      behindMs += lastMs - now;
      return lastMs;
    }
    lastMs = now;
    return now;
  };
}
export const phoneClock = steadyClock();
