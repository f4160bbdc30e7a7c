import type { AlongPlanned } from '@ebrix/contract';
import type { SensorReading } from '@ebrix/core/logger';
import { PositionGates, type GateAhead } from '@ebrix/core/ride';
import { lapPath } from '@ebrix/core/track';
import type { CarriedRide } from '../store/carried-ride.js';
import type { PhoneStore } from '../store/phone-store.js';
import { PHONE_CHANNELS, PhoneLog, type Reading } from './phone-log.js';
import { WayByFixes, type Fix, type PositionTrouble } from './position-source.js';

/** Faster than this in three fixes on end the bike rides, km/h. */
const MOVING_KMH = 5;
const MOVING_FIXES = 3;
/** A fix older than this says nothing of now, ms. */
const FRESH_MS = 5000;
/** What places of a log are taken to be within where nobody wrote it down, m. */
const USUAL_ACCURACY_M = 10;
/** A day and night of seconds. */
const ALL = 100_000;

/** What a rider sees of the ride that is led. */
export interface Live {
  readonly speedKmh: number | undefined;
  readonly distanceM: number;
  readonly accuracyM: number | undefined;
  readonly atMs: number | undefined;
  readonly trouble: PositionTrouble | undefined;
  readonly next: { readonly name: string; readonly awayM: number } | undefined;
  readonly lines: number;
  /** Lines of what was felt, and how many came in the last second; undefined where nothing is to be felt. */
  readonly felt: { readonly lines: number; readonly perSecond: number } | undefined;
  /** Lines could not be written: why. */
  readonly problem: string | undefined;
}
export const NO_LIVE: Live = {
  speedKmh: undefined,
  distanceM: 0,
  accuracyM: undefined,
  atMs: undefined,
  trouble: undefined,
  next: undefined,
  lines: 0,
  felt: undefined,
  problem: undefined,
};

export interface Gate extends GateAhead {
  readonly kind: AlongPlanned['course']['gates'][number]['kind'] | 'begin' | 'turn';
}

/** What a fix told. */
interface FixTaken {
  readonly seen: Partial<Live>;
  /** Gates that were passed since the fix before, and when by the clock of the log, s. */
  readonly passed: readonly { readonly gate: Gate; readonly timeS: number }[];
  /** The bike rides, and does not only stand where the position wavers. */
  readonly isRiding: boolean;
}

/** A ride that the phone leads: its log, how far it has come, its gates, and what the phone feels. */
export class LedRide {
  private lines = 0;
  private moving = 0;
  private feltNow = 0;
  private feltSinceT: number;

  private constructor(
    readonly id: string,
    readonly log: PhoneLog,
    private readonly way: WayByFixes,
    private readonly gates: PositionGates<Gate>,
    /** One turn of the wheel, m. */
    private readonly turnM: number | null,
    private readonly feels: boolean,
    private readonly nowMs: () => number,
  ) {
    this.feltSinceT = log.t;
  }

  /** Goes on where the log of the ride ends, if it was led before. */
  static async open(store: PhoneStore, ride: CarriedRide, nowMs: () => number): Promise<LedRide> {
    const log = await PhoneLog.open(store, ride, nowMs);
    const { course, laps } = ride.planned;
    const { path, gates } = lapPath(course.path, gatesOf(course), { laps, lengthM: course.lengthM });
    const begin: Gate[] =
      ride.planned.testKind === 'hill-climb' ? [{ kind: 'begin', name: 'Begin', distanceM: 0 }] : [];
    const follower = new PositionGates(path, [...begin, ...gates]);
    const way = wayFrom(await ridden(store, ride, follower));
    // Rides that came along before there was one have no turn of the wheel.
    return new LedRide(
      ride.id,
      log,
      way,
      follower,
      ride.planned.wheelCircumferenceM ?? null,
      ride.feels === true,
      nowMs,
    );
  }

  get distanceM(): number {
    return this.way.distanceM;
  }

  fix(fix: Fix): FixTaken {
    const nowMs = this.nowMs();
    const reading = this.way.take(fix, nowMs);
    const speedKmh = reading.speed ?? this.way.wheelSpeedAt(nowMs);
    const t = Math.max(0, this.log.t - Math.max(0, Math.min(FRESH_MS, nowMs - fix.timeMs)) / 1000);
    this.log.take(reading, t);
    const passed = this.gates.take(t, fix, fix.accuracyM);
    this.moving = (speedKmh ?? 0) > MOVING_KMH ? this.moving + 1 : 0;
    return {
      seen: {
        speedKmh,
        distanceM: reading.distance ?? 0,
        accuracyM: fix.accuracyM,
        atMs: nowMs,
        trouble: undefined,
        next: this.gates.next(),
        lines: ++this.lines,
        problem: this.log.problem,
      },
      passed,
      isRiding: this.moving >= MOVING_FIXES,
    };
  }

  /** What the phone itself felt, so long ago; told once a second. */
  feel(reading: Reading, agoS: number): Partial<Live> | undefined {
    if (!this.feels) return undefined;
    const { t } = this.log;
    this.log.feel(reading, Math.max(0, t - agoS));
    this.feltNow++;
    if (t - this.feltSinceT < 1) return undefined;
    const perSecond = Math.round(this.feltNow / (t - this.feltSinceT));
    [this.feltNow, this.feltSinceT] = [0, t];
    return { felt: { lines: this.log.felt, perSecond }, problem: this.log.problem };
  }

  /** What a strap or a sensor says beside the position. */
  sense(reading: Reading & SensorReading): Partial<Live> | undefined {
    const { wheelRpm, wheelTurns } = reading;
    const isWheel = this.turnM !== null && wheelRpm !== undefined && wheelTurns !== undefined;
    const byWheel: Reading = isWheel ? this.way.turn(wheelTurns, wheelRpm, this.turnM, this.nowMs()) : {};
    this.log.take({ ...reading, ...byWheel });
    return isWheel ? { speedKmh: byWheel.speed, distanceM: this.way.distanceM } : undefined;
  }
}

/** Gates of the course; half-way out and back one turns round. */
function gatesOf({ gates, kind, lengthM }: AlongPlanned['course']): Gate[] {
  return [
    ...gates.map((gate) => ({ ...gate, name: gate.name || `${gate.kind} gate`.replace('-', ' ') })),
    ...(kind === 'out-and-back' && lengthM !== null
      ? [{ kind: 'turn' as const, name: 'Turn round now', distanceM: lengthM / 2 }]
      : []),
  ];
}

interface LastPlace {
  readonly distanceM: number;
  readonly fix: Fix;
}
function wayFrom(last: LastPlace | undefined): WayByFixes {
  const way = new WayByFixes(last?.distanceM ?? 0);
  if (last) way.resume(last.fix);
  return way;
}

/** Where the log of a ride ends that was led before; the gates are told of all of it, so that none is passed twice. */
async function ridden(
  store: PhoneStore,
  { id, epochMs }: CarriedRide,
  gates: PositionGates<Gate>,
): Promise<LastPlace | undefined> {
  const at = (channel: (typeof PHONE_CHANNELS)[number]): number => 2 + PHONE_CHANNELS.indexOf(channel);
  const [north, east, way] = [at('latitude'), at('longitude'), at('distance')];
  let last: LastPlace | undefined;
  for (const { lines } of await store.chunks(id, 0, ALL))
    for (const line of lines) {
      const [latitude, longitude] = [line[north], line[east]];
      if (typeof latitude !== 'number' || typeof longitude !== 'number') continue;
      const seconds = line[1]!;
      gates.take(seconds, { latitude, longitude }, USUAL_ACCURACY_M);
      last = {
        distanceM: line[way] ?? 0,
        fix: {
          timeMs: epochMs + 1000 * seconds,
          latitude,
          longitude,
          accuracyM: USUAL_ACCURACY_M,
          altitudeM: null,
          altitudeAccuracyM: null,
          speedMps: null,
        },
      };
    }
  return last;
}
