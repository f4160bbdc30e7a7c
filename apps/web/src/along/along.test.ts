import 'fake-indexeddb/auto';
import { openDB } from 'idb';
import { seededRandom, standardNormal } from '@ebrix/core/numeric';
import type { AlongBundle, AlongPlanned, AlongRideInput, Ride } from '@ebrix/contract';
import { afterRideSchema, alongFileSchema, alongRideInputSchema, preparationSchema } from '@ebrix/contract';
import { channelsOf, MOST_FELT, PHONE_CHANNELS, PhoneLog, steadyClock } from './log/phone-log.js';
import { listenTo, type RadioDevice } from './log/radio-sensors.js';
import { StandInBike } from './log/stand-in.js';
import { standInRadio, type StandInSensor } from './log/stand-in-radio.js';
import { WayByFixes, type Fix } from './log/position-source.js';
import { NobodyThere, ServerRefusal, type Server } from './send/server.js';
import { sendRides, waiting } from './send/send-rides.js';
import { isRefusal, newRide, type CarriedRide } from './store/carried-ride.js';
import type { CarriedPhoto } from './store/carried-photo.js';
import { PhoneStore } from './store/phone-store.js';
import { PhoneApp } from './ui/phone-app.js';
import { outingFile } from './ui/save-outing-file.js';

const START = Date.parse('2026-04-07T08:00:00.000Z');
const M = 1 / 111_320;
const uuid = (k: number): string => `01900000-0000-7000-8000-${String(k).padStart(12, '0')}`;
const planned = (change: Partial<AlongPlanned> = {}): AlongPlanned => ({
  slot: { id: uuid(1), trialId: uuid(2), question: 'Which?', letter: 'A', outing: 1, number: 1, of: 4 },
  setup: { id: uuid(3), name: 'Corvane R2', revisionId: uuid(4), revisionNumber: 1 },
  openClearance: 0,
  testKind: 'range',
  direction: 1,
  level: '3',
  effort: 'steady',
  laps: 1,
  limits: { motorC: 95, controllerC: 75, batteryC: 50, packV: 39 },
  preparation: preparationSchema.parse({}),
  fullVoltageV: 50.4,
  course: {
    id: uuid(5),
    name: 'Level round',
    kind: 'one-way',
    lengthM: 200,
    startM: 0,
    finishM: 200,
    cautions: '',
    temperatureStopsM: [],
    path: [
      { latitude: 0, longitude: 0, distanceM: 0 },
      { latitude: 200 * M, longitude: 0, distanceM: 200 },
    ],
    gates: [{ kind: 'lap', name: 'half', distanceM: 100 }],
  },
  ...change,
});
const fix = (timeMs: number, northM: number, more: Partial<Fix> = {}): Fix => ({
  timeMs,
  latitude: northM * M,
  longitude: 0,
  accuracyM: 4,
  altitudeM: 120,
  altitudeAccuracyM: 6,
  speedMps: 6,
  ...more,
});

/** A server that keeps what it is sent, and whose line can break at any request. */
class PlainServer implements Server {
  readonly lines = new Map<string, Map<number, unknown[]>>();
  readonly rides = new Map<string, AlongRideInput>();
  readonly photos = new Map<string, CarriedPhoto>();
  noPhotos: ServerRefusal | undefined;
  requests = 0;
  makesNoRun = false;
  duplicates = 0;
  breaks: (request: number) => 'after' | 'before' | undefined = () => undefined;
  refuses: ((ride: AlongRideInput) => ServerRefusal | undefined) | undefined;

  take: Server['take'] = () => Promise.reject(new Error('not asked here'));
  overview = () => Promise.reject(new Error('not asked here'));
  async sendLines(text: string): Promise<{ next: number }> {
    return this.over(() => {
      const [hello, ...lines] = text.split('\n').map((line) => JSON.parse(line) as unknown);
      const { session } = (hello as { hello: { session: string } }).hello;
      const kept = this.lines.get(session) ?? new Map<number, unknown[]>();
      this.lines.set(session, kept);
      for (const line of lines as [number, ...unknown[]][]) {
        if (kept.has(line[0])) this.duplicates++;
        kept.set(line[0], line);
      }
      let next = 0;
      while (kept.has(next)) next++;
      return { next };
    });
  }
  async bring(id: string, ride: AlongRideInput): Promise<Ride> {
    return this.over(() => {
      const refusal = this.refuses?.(ride);
      if (refusal) throw refusal;
      this.rides.set(id, alongRideInputSchema.parse(ride));
      return { runId: null, state: this.makesNoRun ? 'finished' : ride.state } as Ride;
    });
  }
  photo(photo: CarriedPhoto): Promise<unknown> {
    return this.over(() => {
      if (this.noPhotos) throw this.noPhotos;
      this.photos.set(photo.id, photo);
    });
  }
  private async over<T>(does: () => T): Promise<T> {
    const breaks = this.breaks(this.requests++);
    if (breaks === 'before') throw new NobodyThere('cut');
    const answer = does();
    if (breaks === 'after') throw new NobodyThere('cut');
    return Promise.resolve(answer);
  }
}

let names = 0;
const freshStore = (): Promise<PhoneStore> => PhoneStore.open(`phone ${names++}`);
/** A phone whose clock is moved by hand. */
async function phone(store: PhoneStore, server: Server = new PlainServer()) {
  const clock = { ms: START };
  const app = await PhoneApp.open(store, server, () => clock.ms);
  return { app, clock };
}
const only = (app: PhoneApp): CarriedRide => app.state().rides.at(-1)!;
const OUTING = {
  id: 'x',
  phone: 'the blue one',
  bundle: {
    blank: { preparation: preparationSchema.parse({}), after: afterRideSchema.parse({}) },
    logger: { id: uuid(9), name: 'Phone the blue one', secret: 'box_secret' },
  } as never,
};

describe('a ride on a phone without a network', () => {
  it('starts by itself when the bike moves, notes gates by position, and is written line by line', async () => {
    const store = await freshStore();
    const { app, clock } = await phone(store);
    const ride = await app.begin(planned(), OUTING);
    expect(await app.step(ride.id, 'armed')).toBeUndefined();
    for (let s = 0; s < 30; s++) {
      clock.ms = START + s * 1000;
      await app.fix(fix(clock.ms, 6 * Math.max(0, s - 5), { speedMps: s < 5 ? 0 : 6 }));
    }
    expect(only(app)).toMatchObject({ state: 'running', startedAt: new Date(START + 7000).toISOString(), fromT: 5 });
    // 100 m at 6 m/s from the fifth second on: between two fixes.
    expect(only(app).marks).toMatchObject([{ kind: 'lap', text: 'half' }]);
    expect(Date.parse(only(app).marks[0]!.at) - START).toBeCloseTo((5 + 100 / 6) * 1000, -3);
    expect((Date.parse(only(app).marks[0]!.at) - START) % 1000).toBeGreaterThan(100);
    expect(Math.abs(app.state().live.distanceM - 24 * 6)).toBeLessThan(4);
    await app.settle();
    const lines = (await store.chunks(ride.id)).flatMap((chunk) => chunk.lines);
    expect(lines.map(([n]) => n)).toEqual(Array.from({ length: 30 }, (_, n) => n));
    expect(lines.at(-1)![2 + PHONE_CHANNELS.indexOf('speed')]).toBeCloseTo(21.6, 1);
  });
  it('calls the turn half-way out and back, by name', async () => {
    const { app, clock } = await phone(await freshStore());
    const { course } = planned();
    const path = [...course.path, { latitude: 0, longitude: 0, distanceM: 400 }];
    const ride = await app.begin(planned({ course: { ...course, kind: 'out-and-back', lengthM: 400, path } }), OUTING);
    await app.step(ride.id, 'armed');
    const heard: string[] = [];
    app.onSignal((what, words) => heard.push(`${what}: ${words}`));
    for (let s = 0; s <= 66; s++) {
      clock.ms = START + s * 1000;
      await app.fix(fix(clock.ms, 200 - Math.abs(200 - 6 * s)));
    }
    expect(heard).toEqual(['gate: half', 'turn: Turn round now']);
  });
  it('says what has to stop it by what was read by hand, and sounds once', async () => {
    const { app } = await phone(await freshStore());
    const ride = await app.begin(planned(), OUTING);
    const heard: string[] = [];
    app.onSignal((what) => heard.push(what));
    await app.mark(ride.id, { kind: 'temperature', place: 'motor', value: 97 });
    await app.mark(ride.id, { kind: 'event' });
    expect(app.stopsOf(ride.id)).toMatchObject([{ code: 'motor-hot', severity: 'stop' }]);
    expect(heard).toEqual(['stop']);
    await app.undo(ride.id, only(app).marks[0]!.id);
    expect(app.stopsOf(ride.id)).toEqual([]);
    // Hot again, and hot still: each is heard.
    await app.mark(ride.id, { kind: 'temperature', place: 'motor', value: 98 });
    await app.mark(ride.id, { kind: 'temperature', place: 'motor', value: 104 });
    expect(heard).toEqual(['stop', 'stop', 'stop']);
    // And so is the next ride's, whatever the one before it ended with.
    const next = await app.begin(planned(), OUTING);
    await app.mark(next.id, { kind: 'brake-trouble' });
    expect(heard).toHaveLength(4);
  });
  it('killed on the way home passes no gate twice, and finds those that are left', async () => {
    const store = await freshStore();
    let { app, clock } = await phone(store);
    const { course } = planned();
    const path = [...course.path, { latitude: 0, longitude: 0, distanceM: 400 }];
    const gates = [...course.gates, { kind: 'finish' as const, name: 'home', distanceM: 390 }];
    const ride = await app.begin(
      planned({ course: { ...course, kind: 'out-and-back', lengthM: 400, path, gates } }),
      OUTING,
    );
    await app.step(ride.id, 'armed');
    const roll = async (from: number, to: number): Promise<void> => {
      for (let s = from; s < to; s++) {
        clock.ms = START + s * 1000;
        await app.fix(fix(clock.ms, 200 - Math.abs(200 - 6 * s)));
      }
    };
    await roll(0, 45);
    await app.settle();
    ({ app, clock } = await phone(store));
    const heard: string[] = [];
    app.onSignal((what) => heard.push(what));
    await roll(45, 67);
    expect(heard).toEqual(['gate']);
    expect(only(app).marks.map(({ kind, text }) => `${kind} ${text}`)).toEqual(['lap half', 'finish home']);
  });
  it('passes its gates in each lap, and knows its way from where it began', async () => {
    const { app, clock } = await phone(await freshStore());
    const { course } = planned();
    const path = [...course.path, { latitude: 0, longitude: 0, distanceM: 400 }];
    const ride = await app.begin(planned({ laps: 2, course: { ...course, lengthM: 400, path } }), OUTING);
    await app.step(ride.id, 'armed');
    for (let s = 0; s <= 133; s++) {
      clock.ms = START + s * 1000;
      await app.fix(fix(clock.ms, 200 - Math.abs(200 - ((6 * s) % 400))));
    }
    expect(only(app).marks).toHaveLength(2);
    expect(only(app).startDistanceM).toBeCloseTo(12, 0);
  });
  it('is not ready where safety checks were open, and keeps its ride where it is', async () => {
    const { app } = await phone(await freshStore());
    const ride = await app.begin(planned({ openClearance: 2 }), OUTING);
    expect(await app.step(ride.id, 'armed')).toMatchObject({ code: 'clearance-open' });
    expect(only(app).state).toBe('preparing');
  });
  it('killed at random moments loses nothing that is a second old, and doubles nothing', async () => {
    const random = seededRandom(11);
    // A page that is killed writes no more: its timers are the test's.
    const timers = jest.spyOn(globalThis, 'setInterval').mockReturnValue(0 as never);
    const store = await freshStore();
    let { app, clock } = await phone(store);
    const ride = await app.begin(planned(), OUTING);
    await app.step(ride.id, 'armed');
    await app.step(ride.id, 'running');
    let [given, lost, kills] = [0, 0, 0];
    let ms = START;
    while (kills < 100) {
      ms += 250;
      clock.ms = ms;
      app.sense({ speed: 20, heartRate: 120 });
      given++;
      // Each second the log is written, as by its own timer.
      if (given % 4 === 0) await app.settle();
      if (random() < 0.05) {
        kills++;
        // What waited in memory goes with the page.
        lost += given % 4;
        ({ app, clock } = await phone(store));
        clock.ms = ms;
        expect(app.leads).toBe(ride.id);
        expect(only(app).state).toBe('running');
        given = 0;
      }
    }
    await app.settle();
    const lines = (await store.chunks(ride.id, 0, 1e6)).flatMap((chunk) => chunk.lines);
    const numbers = lines.map(([n]) => n!);
    expect(new Set(numbers).size).toBe(numbers.length);
    expect(numbers).toEqual(Array.from({ length: numbers.length }, (_, n) => n));
    const times = lines.map(([, t]) => t!);
    expect(times.every((t, k) => k === 0 || t > times[k - 1]!)).toBe(true);
    expect(lost).toBeLessThanOrEqual(3 * kills);
    expect((ms - START) / 250 - numbers.length).toBe(lost);
    timers.mockRestore();
  });
  it('killed while the bike rolled on counts the way between as it lies', async () => {
    const store = await freshStore();
    let { app, clock } = await phone(store);
    const ride = await app.begin(planned(), OUTING);
    await app.step(ride.id, 'armed');
    for (let s = 0; s < 20; s++) {
      clock.ms = START + s * 1000;
      await app.fix(fix(clock.ms, 6 * s));
    }
    await app.settle();
    // Half a minute of nothing, in which it went on.
    ({ app, clock } = await phone(store));
    for (let s = 50; s < 60; s++) {
      clock.ms = START + s * 1000;
      await app.fix(fix(clock.ms, 6 * s));
    }
    expect(app.state().live.distanceM).toBeGreaterThan(6 * 59 - 6);
    expect(app.state().live.distanceM).toBeLessThan(6 * 59 + 6);
  });
  it('goes on after a clock that was set back, and where no room is left keeps lines until there is', async () => {
    const store = await freshStore();
    const clock = { ms: START };
    const log = await PhoneLog.open(store, { id: 'r', epochMs: START }, () => clock.ms);
    clock.ms = START + 60_000;
    log.take({ speed: 10 });
    clock.ms = START + 2000;
    log.take({ speed: 11 });
    jest.spyOn(store, 'addLines').mockRejectedValueOnce(new Error('QuotaExceededError'));
    await log.write();
    expect(log.problem).toBe('QuotaExceededError');
    log.take({ speed: 12 });
    await log.close();
    expect(log.problem).toBeUndefined();
    const lines = (await store.chunks('r')).flatMap((chunk) => chunk.lines);
    expect(lines.map(([n, t]) => [n, t])).toEqual([
      [0, 60],
      [1, 60.001],
      [2, 60.002],
    ]);
  });
});

describe('what the phone feels', () => {
  const felt = {
    accelerationX: 0.123,
    accelerationY: 9.81,
    accelerationZ: -0.4,
    turnRateX: 1,
    turnRateY: 2,
    turnRateZ: 3,
  };
  const linesOf = async (store: PhoneStore, id: string) => (await store.chunks(id)).flatMap((chunk) => chunk.lines);
  it('is written down where the test has figures from it, between the places, when it was measured', async () => {
    const store = await freshStore();
    const { app, clock } = await phone(store);
    const ride = await app.begin(planned({ testKind: 'assist-response' }), OUTING);
    expect(ride.feels).toBe(true);
    await app.step(ride.id, 'armed');
    for (let k = 0; k < 120; k++) {
      clock.ms = START + Math.round((k * 1000) / 60);
      app.feel(felt, 0.02);
      // A place is told of later than it is measured, and is not moved behind what was felt meanwhile.
      if (k % 60 === 59) await app.fix(fix(clock.ms - 300, k / 10));
    }
    await app.settle();
    expect(app.state().live.felt).toMatchObject({ perSecond: expect.closeTo(60, -1) as number });
    const lines = await linesOf(store, ride.id);
    expect(lines).toHaveLength(122);
    const columns = channelsOf(ride);
    expect(lines.every((line) => line.length === columns.length + 2)).toBe(true);
    expect(lines[1]!.slice(2 + PHONE_CHANNELS.length)).toEqual([0.12, 9.81, -0.4, 1, 2, 3]);
    const places = lines.filter((line) => line[2 + columns.indexOf('latitude')] !== null);
    expect(places.map(([, t]) => t)).toEqual([0.683, 1.683]);
    const server = new PlainServer();
    await app.step(ride.id, 'running');
    await app.step(ride.id, 'finished');
    await app.step(ride.id, 'kept');
    expect(await sendRides(store, server, () => clock.ms)).toMatchObject({ sent: 1 });
    expect([...server.lines.values()][0]!.size).toBe(122);
  });
  it('is left alone where the test has none from it, or the rider does not want it', async () => {
    const store = await freshStore();
    const { app } = await phone(store);
    const ride = await app.begin(planned(), OUTING);
    expect(ride.feels).toBe(false);
    await app.step(ride.id, 'armed');
    app.feel(felt, 0);
    await app.settle();
    expect(await linesOf(store, ride.id)).toEqual([]);
    await app.step(ride.id, 'preparing');
    await app.change(ride.id, { feels: true });
    await app.step(ride.id, 'armed');
    app.feel(felt, 0);
    await app.settle();
    expect(await linesOf(store, ride.id)).toHaveLength(1);
  });
  it('ends where a file would grow too long, and places go on', async () => {
    const store = await freshStore();
    const log = await PhoneLog.open(store, { id: 'r', epochMs: START, hasFeltColumns: true }, () => START);
    log.felt = MOST_FELT;
    log.feel(felt, 1);
    log.take({ speed: 10 }, 2);
    await log.close();
    expect((await linesOf(store, 'r')).map(([, t]) => t)).toEqual([2]);
  });
  it('of a ride that an earlier version began is none: its columns stay', async () => {
    const store = await freshStore();
    const log = await PhoneLog.open(store, { id: 'old', epochMs: START }, () => START);
    log.feel(felt, 1);
    log.take({ speed: 10 }, 2);
    await log.close();
    expect((await linesOf(store, 'old')).map((line) => line.length)).toEqual([2 + PHONE_CHANNELS.length]);
  });
});

it('a clock goes on through sleep, and is not set back', () => {
  const wall = { ms: 1000 };
  const clock = steadyClock(() => wall.ms);
  expect(clock()).toBe(1000);
  // Ten minutes of sleep.
  wall.ms += 600_000;
  expect(clock()).toBe(601_000);
  wall.ms -= 3_600_000;
  expect(clock()).toBe(601_000);
  wall.ms += 500;
  expect(clock()).toBe(601_500);
});

describe('way by fixes', () => {
  it('is what was ridden, and a receiver that wanders while the bike stands adds none', () => {
    const random = seededRandom(3);
    const way = new WayByFixes();
    for (let s = 0; s < 60; s++) way.take(fix(s * 1000, 3 * (random() - 0.5), { speedMps: 0.2 * random() }));
    expect(way.distanceM).toBe(0);
    for (let s = 60; s <= 160; s++) way.take(fix(s * 1000, 5 * (s - 60) + 3 * (random() - 0.5), { speedMps: 5 }));
    expect(way.distanceM).toBeGreaterThan(490);
    expect(way.distanceM).toBeLessThan(510);
  });
  it('without the receiver’s speed goes by the places, and heights that are unsure are none', () => {
    const way = new WayByFixes();
    way.take(fix(0, 0, { speedMps: null }));
    const reading = way.take(fix(3000, 15, { speedMps: null, altitudeAccuracyM: 80 }));
    expect(reading.speed).toBeCloseTo(18, 1);
    expect(reading.distance).toBeCloseTo(15, 1);
    expect(reading).not.toHaveProperty('altitude');
  });
  /** What a phone is stated to be within, half of it one σ: `AlongService`. */
  const STATED = 0.015;
  it.each([
    ['by its own speed', true, STATED],
    ['by places alone', false, 2 * STATED],
  ])(
    '%s lies within what is stated of it, on rides with stops, bends and a receiver that wanders',
    (_by, hasSpeed, within) => {
      const random = seededRandom(21);
      let held = 0;
      const rides = 40;
      for (let k = 0; k < rides; k++) {
        const way = new WayByFixes();
        const bias = 0.02 * standardNormal(random);
        const pace = 3 + 5 * random();
        let [east, north, heading, offE, offN, trueM] = [0, 0, 0, 0, 0, 0];
        for (let s = 0; s < 900 + 600 * random(); s++) {
          // A quarter of a minute standing in every three; bends that turn by up to ten degrees a second.
          const speed = s % 180 < 15 ? 0 : pace * (1 + 0.2 * Math.sin(s / 20));
          heading += 0.17 * (random() - 0.5);
          east += speed * Math.sin(heading);
          north += speed * Math.cos(heading);
          trueM += speed;
          offE += -offE / 30 + 0.6 * standardNormal(random);
          offN += -offN / 30 + 0.6 * standardNormal(random);
          const said =
            speed === 0 ? Math.abs(0.1 * standardNormal(random)) : speed + bias + 0.15 * standardNormal(random);
          way.take({
            ...fix(s * 1000, north + offN),
            longitude: (east + offE) * M,
            speedMps: hasSpeed ? said : null,
          });
        }
        if (Math.abs(way.distanceM / trueM - 1) <= within) held++;
      }
      expect(held).toBeGreaterThanOrEqual(0.9 * rides);
    },
  );
});

describe('coming back', () => {
  async function ridden(store: PhoneStore, k: number, lines: number): Promise<CarriedRide> {
    const { app, clock } = await phone(store);
    const ride = await app.begin(planned({ slot: { ...planned().slot!, id: uuid(100 + k) } }), OUTING);
    await app.step(ride.id, 'armed');
    await app.step(ride.id, 'running');
    for (let s = 0; s < lines; s++) {
      clock.ms = START + s * 1000;
      app.sense({ speed: 20 + (s % 7) });
      if (s % 10 === 9) await app.settle();
    }
    await app.step(ride.id, 'finished');
    await app.step(ride.id, 'kept');
    return ride;
  }
  it('sends each line and each ride once, however often the line breaks', async () => {
    const store = await freshStore();
    const rides = [await ridden(store, 1, 120), await ridden(store, 2, 35), await ridden(store, 3, 0)];
    const server = new PlainServer();
    const random = seededRandom(5);
    server.breaks = () => (random() < 0.5 ? (random() < 0.5 ? 'before' : 'after') : undefined);
    let tries = 0;
    while (waiting(await store.rides()).length > 0 && tries++ < 200) await sendRides(store, server);
    expect(waiting(await store.rides())).toEqual([]);
    expect([...server.rides.keys()].sort()).toEqual(rides.map(({ id }) => id).sort());
    expect(server.lines.get(`along-${rides[0]!.id}`)!.size).toBe(120);
    expect(server.lines.get(`along-${rides[1]!.id}`)!.size).toBe(35);
    expect(server.rides.get(rides[0]!.id)).toMatchObject({ state: 'kept', log: { loggerId: uuid(9) } });
    // A ride without a line is one of marks and readings.
    expect(server.rides.get(rides[2]!.id)!.log).toBeNull();
    expect(server.duplicates).toBe(0);
  });
  it('sends every line of a log that the phone wrote while it slept, in one piece of many lines', async () => {
    const store = await freshStore();
    const { app, clock } = await phone(store);
    const ride = await app.begin(planned(), OUTING);
    await app.step(ride.id, 'armed');
    await app.step(ride.id, 'running');
    for (let s = 0; s < 13_000; s++) {
      clock.ms = START + s * 1000;
      app.sense({ speed: 20 });
      // What is not kept is no line.
      app.sense({ wheelRpm: 180 });
      if (s === 200 || s === 12_200) await app.settle();
    }
    await app.step(ride.id, 'finished');
    await app.step(ride.id, 'kept');
    const server = new PlainServer();
    // Cut in the middle of the long piece.
    server.breaks = (request) => (request === 2 ? 'before' : undefined);
    expect((await sendRides(store, server)).isCutOff).toBe(true);
    server.breaks = () => undefined;
    expect((await sendRides(store, server)).sent).toBe(1);
    expect(server.lines.get(`along-${ride.id}`)!.size).toBe(13_000);
  });
  it('says where a ride lies of which no run could be made', async () => {
    const store = await freshStore();
    const ride = await ridden(store, 8, 0);
    const server = new PlainServer();
    server.makesNoRun = true;
    expect((await sendRides(store, server)).sent).toBe(1);
    expect(await store.ride(ride.id)).toMatchObject({ sent: { runId: null }, problem: { code: 'no-run' } });
  });
  it('that breaks down on the phone itself is said', async () => {
    const store = await freshStore();
    await ridden(store, 9, 12);
    const { app } = await phone(store);
    jest.spyOn(store, 'chunkAt').mockRejectedValue(new Error('the store is gone'));
    await app.send();
    expect(app.state()).toMatchObject({ sending: 'no', trouble: 'the store is gone' });
  });
  it('shows what the server said no to, and goes on with the others', async () => {
    const store = await freshStore();
    const [first, second] = [await ridden(store, 4, 12), await ridden(store, 5, 12)];
    const server = new PlainServer();
    server.refuses = ({ slotId, isBesidePlan }) =>
      slotId === uuid(104) && !isBesidePlan
        ? new ServerRefusal('changed-meanwhile', 'ridden elsewhere', 409)
        : undefined;
    expect(await sendRides(store, server)).toEqual({ sent: 1, refused: 1, isCutOff: false });
    const refused = (await store.ride(first.id))!;
    expect(refused).toMatchObject({ sent: null, problem: { code: 'changed-meanwhile' } });
    expect((await store.ride(second.id))!.sent).not.toBeNull();
    const { app } = await phone(store, server);
    await app.change(first.id, { isBesidePlan: true });
    await app.send();
    expect(server.rides.get(first.id)).toMatchObject({ isBesidePlan: true });
    await app.forget(first.id);
    expect(await store.chunks(first.id)).toEqual([]);
  });
  it('goes by the newest secret: taking along once more shuts out no ride that waits', async () => {
    const store = await freshStore();
    const ride = await ridden(store, 7, 12);
    const server = new PlainServer();
    const asked: string[] = [];
    server.take = (what) => {
      asked.push(what.phone);
      return Promise.resolve({
        takenAt: new Date(START).toISOString(),
        logger: { id: uuid(9), name: what.phone, secret: `secret ${asked.length}` },
      } as AlongBundle);
    };
    const { app } = await phone(store, server);
    await app.take({ trialId: uuid(2), outing: 1 }, 'the blue one');
    await app.take(null, 'the blue one');
    expect((await store.ride(ride.id))!.log!.secret).toBe('secret 2');
    expect((await store.outings()).map(({ bundle }) => bundle.logger.secret)).toEqual(['secret 2', 'secret 2']);
    // The same logger each time, and another one than a second phone of that name.
    expect(asked[0]).toMatch(/^the blue one [0-9a-f]{4}$/);
    expect(asked[1]).toBe(asked[0]);
  });
  it('is one file where nobody answers, and the file is what Ebrix reads', async () => {
    const store = await freshStore();
    await store.set('phone', 'the blue one');
    const ride = await ridden(store, 6, 12);
    const file = alongFileSchema.parse(JSON.parse(JSON.stringify(await outingFile(store, START))));
    expect(file.rides).toHaveLength(1);
    expect(file.rides[0]).toMatchObject({ id: ride.id, log: { channels: [...channelsOf(ride)] } });
    expect(file.rides[0]!.log!.lines).toHaveLength(12);
    expect(JSON.stringify(file)).not.toContain('box_secret');
  });
});

it('a ride begins with all that its plan said, and what a refusal is is told apart from a ride', () => {
  const ride = newRide(planned(), null, { id: 'r', nowMs: START, after: afterRideSchema.parse({}) });
  expect(isRefusal(ride)).toBe(false);
  expect(ride).toMatchObject({ setupName: 'Corvane R2', log: null, epochMs: START });
});

describe('photos on the way', () => {
  const picture = (bytes = 4): File => new File([new Uint8Array(bytes)], 'a.png', { type: 'image/png' });
  it('wait on the phone, over a kill, and go once to the setup, however often the line breaks', async () => {
    const store = await freshStore();
    const server = new PlainServer();
    let { app } = await phone(store, server);
    const ride = await app.begin(planned(), OUTING);
    await app.takePhoto(ride, picture(), 'Chain on the hub');
    await app.takePhoto(ride, picture(), '');
    ({ app } = await phone(store, server));
    expect(app.state().photos).toHaveLength(2);
    server.breaks = (request) => (request % 2 === 0 ? 'after' : undefined);
    for (let k = 0; k < 6; k++) await app.send();
    expect(app.state().photos).toEqual([]);
    expect([...server.photos.values()].map(({ setupId, caption }) => `${setupId} ${caption}`).sort()).toEqual([
      `${uuid(3)} Chain on the hub (Level round, 2026-04-07 08:00 UTC)`,
      `${uuid(3)} On the way (Level round, 2026-04-07 08:00 UTC)`,
    ]);
  });
  it('that are none, too large or of practice are refused at once; what the server refuses stays and says why', async () => {
    const server = new PlainServer();
    const { app } = await phone(await freshStore(), server);
    const ride = await app.begin(planned(), OUTING);
    await expect(app.takePhoto(ride, new File(['x'], 'a.txt', { type: 'text/plain' }), '')).rejects.toThrow(
      /no picture/,
    );
    await expect(app.takePhoto(ride, picture(13 * 1024 * 1024), '')).rejects.toThrow(/too large/);
    await expect(app.takePhoto({ ...ride, isPractice: true }, picture(), '')).rejects.toThrow(/practice/);
    await app.takePhoto(ride, picture(), 'Blurred');
    server.noPhotos = new ServerRefusal('cannot-read', 'This is no picture that can be read.', 422);
    await app.send();
    expect(app.state().photos).toMatchObject([{ problem: 'This is no picture that can be read.' }]);
    await app.dropPhoto(app.state().photos[0]!.id);
    expect(app.state().photos).toEqual([]);
  });
  it('have room in a phone’s store that an earlier version made', async () => {
    const name = `earlier ${names++}`;
    const old = await openDB(name, 1, {
      upgrade(database) {
        database.createObjectStore('outing', { keyPath: 'id' });
        database.createObjectStore('ride', { keyPath: 'id' });
        database.createObjectStore('chunk', { keyPath: ['rideId', 'fromN'] });
        database.createObjectStore('setting');
      },
    });
    await old.put('setting', 'the blue one', 'phone');
    old.close();
    const store = await PhoneStore.open(name);
    expect(await store.setting('phone')).toBe('the blue one');
    expect(await store.photos()).toEqual([]);
  });
});

describe('practice at the table', () => {
  it('is led as any ride, by a bike that rides the course with starts and stops, and stays on the phone', async () => {
    const store = await freshStore();
    const server = new PlainServer();
    const { app, clock } = await phone(store, server);
    const ride = await app.begin(planned({ testKind: 'assist-response' }), OUTING);
    await app.change(ride.id, { isPractice: true });
    await app.step(ride.id, 'armed');
    const bike = new StandInBike(ride.planned.course.path);
    let fastest = 0;
    for (let k = 0; k < 70 * 20; k++) {
      clock.ms = START + k * 50;
      bike.step(0.05);
      app.feel(bike.felt(), 0);
      if (k % 20 === 0) await app.fix(bike.fix(clock.ms));
      fastest = Math.max(fastest, bike.speedMps);
    }
    expect(only(app)).toMatchObject({ state: 'running', isPractice: true });
    expect(fastest).toBeGreaterThan(5);
    expect(bike.speedMps).toBeLessThan(6);
    await app.step(ride.id, 'finished');
    await app.step(ride.id, 'kept');
    await app.send();
    await app.change(ride.id, { isPractice: false });
    expect(waiting(app.state().rides)).toEqual([]);
    expect([server.requests, server.rides.size]).toEqual([0, 0]);
    expect((await outingFile(store)).rides).toEqual([]);
  });
  it('rides north where the course has no places', () => {
    const bike = new StandInBike([]);
    for (let k = 0; k < 300; k++) bike.step(0.1);
    const { latitude, longitude } = bike.fix(0);
    expect(latitude / M).toBeGreaterThan(50);
    expect(Math.abs(longitude / M)).toBeLessThan(10);
  });
  it.each([
    ['heart', 'heartRate', 118, 13],
    ['cadence', 'cadence', 72, 8],
    ['power', 'riderPower', 95, 26],
    ['air', 'airTemperature', 16.4, 0.01],
  ] as const)('has a %s sensor that speaks as a real one, and drops out', async (kind, channel, about, within) => {
    jest.useFakeTimers({ doNotFake: ['queueMicrotask'] });
    const heard: number[] = [];
    const states: string[] = [];
    const radio = standInRadio();
    let device: RadioDevice | undefined;
    const { name, stop } = await listenTo(
      { requestDevice: async (options) => (device = await radio.requestDevice(options)) },
      kind,
      (reading) => reading[channel] !== undefined && heard.push(reading[channel]),
      (state) => states.push(state),
    );
    for (let s = 0; s < 12; s++) await jest.advanceTimersByTimeAsync(1000);
    expect(name).toMatch(/simulated/);
    expect(heard.length).toBeGreaterThan(8);
    for (const value of heard.slice(2)) expect(Math.abs(value - about)).toBeLessThanOrEqual(within);
    (device as StandInSensor).dropOut();
    await jest.advanceTimersByTimeAsync(4000);
    expect(states).toEqual(['here', 'away', 'here']);
    stop();
    (device as StandInSensor).dropOut();
    jest.useRealTimers();
  });
});

describe('sensors by radio', () => {
  /** A strap that says a heart rate, drops out, and is found again. */
  class Strap extends EventTarget {
    readonly name = 'Strap 7';
    readonly beats = Object.assign(new EventTarget(), {
      value: undefined as DataView | undefined,
      startNotifications: () => Promise.resolve(),
    });
    connected = 0;
    readonly gatt = {
      connect: () => {
        this.connected++;
        const getCharacteristic = () => Promise.resolve(this.beats);
        return Promise.resolve({ getPrimaryService: () => Promise.resolve({ getCharacteristic }) });
      },
    };
    say(rate: number): void {
      this.beats.value = new DataView(Uint8Array.from([0, rate]).buffer);
      this.beats.dispatchEvent(new Event('characteristicvaluechanged'));
    }
  }
  it('are heard, looked for again when they drop out, and let go', async () => {
    jest.useFakeTimers({ doNotFake: ['queueMicrotask'] });
    const strap = new Strap();
    const [heard, states]: [number[], string[]] = [[], []];
    const { name, stop } = await listenTo(
      { requestDevice: () => Promise.resolve(strap) },
      'heart',
      ({ heartRate }) => heard.push(heartRate!),
      (state) => states.push(state),
    );
    strap.say(120);
    strap.dispatchEvent(new Event('gattserverdisconnected'));
    await jest.advanceTimersByTimeAsync(3100);
    strap.say(125);
    stop();
    strap.say(130);
    expect({ name, heard, states, connected: strap.connected }).toEqual({
      name: 'Strap 7',
      heard: expect.arrayContaining([120, 125]),
      states: ['here', 'away', 'here'],
      connected: 2,
    });
    expect(heard).not.toContain(130);
    jest.useRealTimers();
  });
});
