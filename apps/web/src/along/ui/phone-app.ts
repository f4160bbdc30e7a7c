import type { AlongPlanned } from '@ebrix/contract';
import type { SensorReading } from '@ebrix/core/logger';
import {
  PositionGates,
  type GateAhead,
  readingsFromMarks,
  stopConditions,
  type AlongEvent,
  type StopCondition,
  type StepRefusal,
} from '@ebrix/core/ride';
import { lapPath } from '@ebrix/core/track';
import { PHONE_CHANNELS, phoneClock, PhoneLog, type Reading } from '../log/phone-log.js';
import { WayByFixes, type Fix, type PositionTrouble } from '../log/position-source.js';
import { httpServer, type Server } from '../send/server.js';
import { stopSentence } from './words.js';
import { sendRides, type Sent } from '../send/send-rides.js';
import { advanced, isRefusal, newRide, type CarriedMark, type CarriedRide } from '../store/carried-ride.js';
import { carriedPhoto, type CarriedPhoto } from '../store/carried-photo.js';
import type { PhoneStore, TakenOuting } from '../store/phone-store.js';

/** Faster than this in three fixes on end the bike rides, km/h. */
const MOVING_KMH = 5;
const MOVING_FIXES = 3;
/** A fix older than this says nothing of now, ms. */
const FRESH_MS = 5000;
/** What places of a log are taken to be within where nobody wrote it down, m. */
const USUAL_ACCURACY_M = 10;
/** A day and night of seconds. */
const ALL = 100_000;

/** Marks that say whether to ride on. */
const READINGS: ReadonlySet<string> = new Set(['temperature', 'voltage', 'brake-trouble']);

export type Signal = 'gate' | 'stop' | 'turn';

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
export interface Shown {
  readonly outings: readonly TakenOuting[];
  readonly rides: readonly CarriedRide[];
  /** Photos that wait here. */
  readonly photos: readonly CarriedPhoto[];
  readonly live: Live;
  readonly sending: 'no' | 'yes';
  readonly sent: Sent | undefined;
  /** Sending broke down on this phone itself: why. */
  readonly trouble: string | undefined;
}
const NO_LIVE: Live = {
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

interface Led {
  readonly id: string;
  readonly log: PhoneLog;
  readonly way: WayByFixes;
  readonly gates: PositionGates<Gate>;
  /** One turn of the wheel, m. */
  readonly turnM: number | null;
  readonly feels: boolean;
  moving: number;
  feltNow: number;
  feltSinceT: number;
}

/** What the phone does, apart from how it looks: one ride at a time, its log, and what is sent. */
export class PhoneApp {
  private shown: Shown = {
    outings: [],
    rides: [],
    photos: [],
    live: NO_LIVE,
    sending: 'no',
    sent: undefined,
    trouble: undefined,
  };
  private readonly listeners = new Set<() => void>();
  private readonly heard = new Set<(what: Signal, words: string) => void>();
  private led: Led | undefined;

  private constructor(
    readonly store: PhoneStore,
    private readonly server: Server,
    private readonly nowMs: () => number,
  ) {}

  /** Opens on what the phone has; a ride that was being led when the app was killed goes on at once. */
  static async open(
    store: PhoneStore,
    server: Server = httpServer,
    nowMs: () => number = phoneClock,
  ): Promise<PhoneApp> {
    const app = new PhoneApp(store, server, nowMs);
    await app.reload();
    const led = app.shown.rides.find(({ state }) => state === 'running' || state === 'armed' || state === 'finished');
    if (led) await app.lead(led);
    return app;
  }

  readonly state = (): Shown => this.shown;
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  /** Told of what a rider should hear. */
  onSignal(listener: (what: Signal, words: string) => void): () => void {
    this.heard.add(listener);
    return () => this.heard.delete(listener);
  }
  private signal(what: Signal, words: string): void {
    for (const listener of this.heard) listener(what, words);
  }
  private show(change: Partial<Shown>): void {
    this.shown = { ...this.shown, ...change };
    for (const listener of this.listeners) listener();
  }
  private async reload(): Promise<void> {
    const [outings, rides, photos] = await Promise.all([this.store.outings(), this.store.rides(), this.store.photos()]);
    this.show({ outings, photos, rides: rides.sort((a, b) => a.createdAt.localeCompare(b.createdAt)) });
  }

  async take(planned: { trialId: string; outing: number } | null, phone: string): Promise<void> {
    const bundle = await this.server.take({ planned, phone: `${phone} ${await this.mark4()}` });
    await this.store.keepOuting({ id: planned ? `${planned.trialId} ${planned.outing}` : 'free', phone, bundle });
    await this.renewSecret(bundle.logger);
    // Asked once, so that the browser does not clear it when room gets short elsewhere.
    await navigator.storage?.persist?.().catch(() => false);
    await this.reload();
  }

  /** Four letters of this phone's own: two phones of one name are two loggers. */
  private async mark4(): Promise<string> {
    const known = await this.store.setting('mark');
    if (known !== undefined) return known;
    const mark = crypto.randomUUID().slice(0, 4);
    await this.store.set('mark', mark);
    return mark;
  }

  /** Each taking along makes the phone's secret anew: what was taken before, and rides that wait, go by the new one. */
  private async renewSecret({ id, secret }: TakenOuting['bundle']['logger']): Promise<void> {
    for (const outing of await this.store.outings())
      if (outing.bundle.logger.id === id && outing.bundle.logger.secret !== secret)
        await this.store.keepOuting({
          ...outing,
          bundle: { ...outing.bundle, logger: { ...outing.bundle.logger, secret } },
        });
    for (const ride of await this.store.rides())
      if (ride.log?.loggerId === id && ride.sent === null)
        await this.store.change(ride.id, (now) => (now.log ? { ...now, log: { ...now.log, secret } } : now));
  }

  async dropOuting(id: string): Promise<void> {
    await this.store.dropOuting(id);
    await this.reload();
  }

  /** A planned run, or one outside the plan; the ride that is not over yet where there is one. */
  async begin(planned: AlongPlanned, outing: TakenOuting): Promise<CarriedRide> {
    const { id: loggerId, name, secret } = outing.bundle.logger;
    const nowMs = Math.round(this.nowMs());
    const { after } = outing.bundle.blank;
    const ride = newRide(planned, { loggerId, name, secret }, { id: crypto.randomUUID(), nowMs, after });
    await this.store.addRide(ride);
    await this.reload();
    return ride;
  }

  async change(
    id: string,
    by: Partial<Pick<CarriedRide, 'after' | 'feels' | 'isBesidePlan' | 'isPractice' | 'preparation' | 'riderId'>>,
  ): Promise<void> {
    const { isPractice: _fixed, ...rest } = by;
    const changed = (ride: CarriedRide): CarriedRide => ({ ...ride, ...(ride.wasLed ? rest : by) });
    // Seen at once, before it is on disk: a tick that comes late looks like one that did not take.
    this.show({ rides: this.shown.rides.map((ride) => (ride.id === id ? changed(ride) : ride)) });
    await this.store.change(id, changed);
    await this.reload();
  }

  /** Goes on to another state, or says why not. */
  async step(id: string, to: CarriedRide['state'], reason?: string): Promise<StepRefusal | undefined> {
    const isLed = this.led?.id === id;
    const wasRunning = this.shown.rides.find((one) => one.id === id)?.startedAt !== null;
    const refusal = await this.event(id, {
      kind: 'step',
      to,
      at: new Date(this.nowMs()).toISOString(),
      ...(isLed && { t: this.led!.log.t }),
      ...(reason !== undefined && { reason }),
    });
    if (refusal) return refusal;
    const { distanceM } = this.shown.live;
    const ride = this.shown.rides.find((one) => one.id === id)!;
    if (to === 'running' && !wasRunning)
      await this.store.change(id, (now) => ({ ...now, startDistanceM: isLed ? distanceM : 0 }));
    await this.reload();
    if (to === 'armed') await this.lead(ride);
    if (to === 'preparing' || ride.state === 'kept' || ride.state === 'repeated' || ride.state === 'aborted')
      await this.letGo();
    return undefined;
  }

  async mark(id: string, given: Pick<CarriedMark, 'kind'> & Partial<CarriedMark>): Promise<StepRefusal | undefined> {
    const refusal = await this.event(id, {
      kind: 'mark',
      mark: {
        id: crypto.randomUUID(),
        at: new Date(this.nowMs()).toISOString(),
        elapsedS: null,
        direction: null,
        place: null,
        value: null,
        text: '',
        isUndone: false,
        ...given,
      },
    });
    // Whoever reads something while a stop stands hears it, each time: it is not over by having been heard.
    const [stop] = this.stopsOf(id).filter(({ severity }) => severity === 'stop');
    if (stop && READINGS.has(given.kind)) this.signal('stop', stopSentence(stop));
    return refusal;
  }
  /** Kept until the server has it. Fails where it is no picture, or there is no room. */
  async takePhoto({ id, planned, isPractice }: CarriedRide, file: Blob, what: string): Promise<void> {
    if (isPractice) throw new Error('In practice no photo is kept.');
    const day = new Date(this.nowMs()).toISOString().slice(0, 16).replace('T', ' ');
    const caption = `${what === '' ? 'On the way' : what} (${planned.course.name}, ${day} UTC)`.slice(0, 200);
    const photo = await carriedPhoto(file, {
      id: crypto.randomUUID(),
      rideId: id,
      setupId: planned.setup.id,
      caption,
    });
    await this.store.keepPhoto(photo);
    await this.reload();
  }
  async dropPhoto(id: string): Promise<void> {
    await this.store.dropPhoto(id);
    await this.reload();
  }
  undo(id: string, markId: string, isUndone = true): Promise<StepRefusal | undefined> {
    return this.event(id, { kind: 'undo', markId, isUndone });
  }

  private async event(id: string, event: AlongEvent): Promise<StepRefusal | undefined> {
    let refusal: StepRefusal | undefined;
    await this.store.change(id, (ride) => {
      const next = advanced(ride, event);
      if (!isRefusal(next)) return next;
      refusal = next;
      return ride;
    });
    await this.reload();
    return refusal;
  }

  /** What has to stop the ride, by what was read by hand. */
  stopsOf(id: string): StopCondition[] {
    const ride = this.shown.rides.find((one) => one.id === id);
    return ride ? stopConditions(ride.planned.limits, readingsFromMarks(ride.marks)) : [];
  }

  private async lead(ride: CarriedRide): Promise<void> {
    await this.letGo();
    await this.store.change(ride.id, (now) => (now.wasLed ? now : { ...now, wasLed: true }));
    const log = await PhoneLog.open(this.store, ride, this.nowMs);
    const { course, laps } = ride.planned;
    const { path, gates } = lapPath(course.path, gatesOf(course), { laps, lengthM: course.lengthM });
    const begin: Gate[] =
      ride.planned.testKind === 'hill-climb' ? [{ kind: 'begin', name: 'Begin', distanceM: 0 }] : [];
    const follower = new PositionGates(path, [...begin, ...gates]);
    const last = await this.ridden(ride, follower);
    this.led = {
      id: ride.id,
      log,
      way: wayFrom(last),
      gates: follower,
      // Rides that came along before there was one have none.
      turnM: ride.planned.wheelCircumferenceM ?? null,
      moving: 0,
      feels: ride.feels === true,
      feltNow: 0,
      feltSinceT: log.t,
    };
    this.show({ live: { ...NO_LIVE, distanceM: last?.distanceM ?? 0 } });
  }

  /** Where the log of a ride ends that was led before; the gates are told of all of it, so that none is passed twice. */
  private async ridden({ id, epochMs }: CarriedRide, gates: PositionGates<Gate>): Promise<LastPlace | undefined> {
    const at = (channel: (typeof PHONE_CHANNELS)[number]): number => 2 + PHONE_CHANNELS.indexOf(channel);
    const [north, east, way] = [at('latitude'), at('longitude'), at('distance')];
    let last: LastPlace | undefined;
    for (const { lines } of await this.store.chunks(id, 0, ALL))
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

  private async letGo(): Promise<void> {
    const { led } = this;
    this.led = undefined;
    await led?.log.close();
    this.show({ live: NO_LIVE });
  }

  get leads(): string | undefined {
    return this.led?.id;
  }

  trouble(trouble: PositionTrouble): void {
    this.show({ live: { ...this.shown.live, trouble } });
  }

  /** A fix of the phone's position. */
  async fix(fix: Fix): Promise<void> {
    const { led } = this;
    if (!led) return;
    const reading = led.way.take(fix, this.nowMs());
    const speedKmh = reading.speed ?? led.way.wheelSpeedAt(this.nowMs());
    const t = Math.max(0, led.log.t - Math.max(0, Math.min(FRESH_MS, this.nowMs() - fix.timeMs)) / 1000);
    led.log.take(reading, t);
    const passed = led.gates.take(t, fix, fix.accuracyM);
    this.show({
      live: {
        ...this.shown.live,
        speedKmh,
        distanceM: reading.distance ?? 0,
        accuracyM: fix.accuracyM,
        atMs: this.nowMs(),
        trouble: undefined,
        next: led.gates.next(),
        lines: this.shown.live.lines + 1,
        problem: led.log.problem,
      },
    });
    const ride = this.shown.rides.find(({ id }) => id === led.id);
    if (!ride) return;
    led.moving = (speedKmh ?? 0) > MOVING_KMH ? led.moving + 1 : 0;
    if (ride.state === 'armed' && led.moving >= MOVING_FIXES) await this.step(ride.id, 'running');
    for (const { gate, timeS } of passed) {
      if (gate.kind === 'begin') {
        await this.store.change(ride.id, (now) => ({ courseT: timeS, ...now }));
        continue;
      }
      this.signal(gate.kind === 'turn' ? 'turn' : 'gate', gate.name);
      // The moment between two fixes, not the one in which the second came.
      const at = new Date(ride.epochMs + 1000 * timeS).toISOString();
      if (ride.state === 'running' && MARKED.has(gate.kind))
        await this.mark(ride.id, { kind: gate.kind as CarriedMark['kind'], text: gate.name, at });
    }
  }

  /** What the phone itself felt, so long ago; shown once a second. */
  feel(reading: Reading, agoS: number): void {
    const { led } = this;
    if (!led?.feels) return;
    const { t } = led.log;
    led.log.feel(reading, Math.max(0, t - agoS));
    led.feltNow++;
    if (t - led.feltSinceT < 1) return;
    const perSecond = Math.round(led.feltNow / (t - led.feltSinceT));
    [led.feltNow, led.feltSinceT] = [0, t];
    this.show({ live: { ...this.shown.live, felt: { lines: led.log.felt, perSecond }, problem: led.log.problem } });
  }

  /** What a strap or a sensor says beside the position. */
  sense(reading: Reading & SensorReading): void {
    const { led } = this;
    if (!led) return;
    const { wheelRpm, wheelTurns } = reading;
    const isWheel = led.turnM !== null && wheelRpm !== undefined && wheelTurns !== undefined;
    const byWheel: Reading = isWheel ? led.way.turn(wheelTurns, wheelRpm, led.turnM, this.nowMs()) : {};
    led.log.take({ ...reading, ...byWheel });
    if (isWheel) this.show({ live: { ...this.shown.live, speedKmh: byWheel.speed, distanceM: led.way.distanceM } });
  }

  /** Another window leads from here on. */
  async close(): Promise<void> {
    await this.letGo();
    this.store.close();
  }

  /** All lines that wait are on disk: before the page goes. */
  async settle(): Promise<void> {
    await this.led?.log.write();
  }

  async send(): Promise<void> {
    if (this.shown.sending === 'yes') return;
    this.show({ sending: 'yes' });
    try {
      const sent = await sendRides(this.store, this.server, this.nowMs);
      this.show({ sent, trouble: undefined });
    } catch (error) {
      // Not the server's no and not the network: something of this phone. Said, and tried again with the next sending.
      this.show({ trouble: error instanceof Error ? error.message : String(error) });
    } finally {
      this.show({ sending: 'no' });
      await this.reload();
    }
  }
  async forget(id: string): Promise<void> {
    await this.store.forget(id);
    await this.reload();
  }
}

interface Gate extends GateAhead {
  readonly kind: AlongPlanned['course']['gates'][number]['kind'] | 'begin' | 'turn';
}
/** Gates that are marks of a ride. */
const MARKED: ReadonlySet<Gate['kind']> = new Set(['start', 'lap', 'finish']);
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
