import type { AlongPlanned } from '@ebrix/contract';
import type { SensorReading } from '@ebrix/core/logger';
import {
  readingsFromMarks,
  stopConditions,
  type AlongEvent,
  type StopCondition,
  type StepRefusal,
} from '@ebrix/core/ride';
import { LedRide, NO_LIVE, type Gate, type Live } from '../log/led-ride.js';
import { phoneClock, type Reading } from '../log/phone-log.js';
import type { Fix, PositionTrouble } from '../log/position-source.js';
import { httpServer, type Server } from '../send/server.js';
import { stopSentence } from './words.js';
import { sendRides, type Sent } from '../send/send-rides.js';
import { advanced, isRefusal, newRide, type CarriedMark, type CarriedRide } from '../store/carried-ride.js';
import { carriedPhoto, type CarriedPhoto } from '../store/carried-photo.js';
import type { PhoneStore, TakenOuting } from '../store/phone-store.js';

/** Marks that say whether to ride on. */
const READINGS: ReadonlySet<string> = new Set(['temperature', 'voltage', 'brake-trouble']);

export type Signal = 'gate' | 'stop' | 'turn';

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
  private led: LedRide | undefined;

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
    this.led = await LedRide.open(this.store, ride, this.nowMs);
    this.show({ live: { ...NO_LIVE, distanceM: this.led.distanceM } });
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
    this.showLive({ trouble });
  }

  /** A fix of the phone's position. */
  async fix(fix: Fix): Promise<void> {
    const { led } = this;
    if (!led) return;
    const { seen, passed, isRiding } = led.fix(fix);
    this.showLive(seen);
    const ride = this.shown.rides.find(({ id }) => id === led.id);
    if (!ride) return;
    if (ride.state === 'armed' && isRiding) await this.step(ride.id, 'running');
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
  feel(reading: Reading, agoS: number): void {
    this.showLive(this.led?.feel(reading, agoS));
  }
  sense(reading: Reading & SensorReading): void {
    this.showLive(this.led?.sense(reading));
  }
  private showLive(seen: Partial<Live> | undefined): void {
    if (seen) this.show({ live: { ...this.shown.live, ...seen } });
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

/** Gates that are marks of a ride. */
const MARKED: ReadonlySet<Gate['kind']> = new Set(['start', 'lap', 'finish']);
