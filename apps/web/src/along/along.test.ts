import 'fake-indexeddb/auto';
import { seededRandom } from '@ebrix/core/numeric';
import { type AlongBundle, afterRideSchema } from '@ebrix/contract';
import { channelsOf, PHONE_CHANNELS, PhoneLog } from './log/phone-log.js';
import { ServerRefusal } from './send/server.js';
import { sendRides, waiting } from './send/send-rides.js';
import { isRefusal, newRide, type CarriedRide } from './store/carried-ride.js';
import { PhoneStore } from './store/phone-store.js';
import { outingFile } from './ui/save-outing-file.js';
import { START, uuid, planned, fix, PlainServer, freshStore, phone, only, OUTING, unpacked } from './testing/phone.js';

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
  it('up a climb that was come up to begins where its course does', async () => {
    const store = await freshStore();
    const server = new PlainServer();
    const { app, clock } = await phone(store, server);
    const ride = await app.begin(planned({ testKind: 'hill-climb' }), OUTING);
    await app.step(ride.id, 'armed');
    // Forty metres on the way before it, at 6 m/s.
    for (let s = 0; s < 40; s++) {
      clock.ms = START + s * 1000;
      await app.fix(fix(clock.ms, 6 * s - 40));
    }
    await app.step(ride.id, 'finished');
    await app.step(ride.id, 'kept');
    await sendRides(store, server, () => clock.ms);
    const { fromT, startedAt } = [...server.rides.values()][0]!;
    expect(fromT).toBeCloseTo(40 / 6, 1);
    const { fromT: movedOffT, startedAt: movedOffAt } = only(app);
    expect(movedOffT).toBeLessThan(4);
    expect(Date.parse(startedAt!) - Date.parse(movedOffAt!)).toBeCloseTo(1000 * (fromT! - movedOffT!), -1);
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
  it('is one file where nobody answers, with all lines and photos, however long it was', async () => {
    const store = await freshStore();
    await store.set('phone', 'the blue one');
    const ride = await ridden(store, 6, 12);
    // Longer than is packed at once.
    const seconds = 750;
    for (let k = 12; k < seconds; k++)
      await store.addLines({ rideId: ride.id, fromN: k, lines: [[k, k, ...channelsOf(ride).map(() => null)]] });
    await store.keepPhoto({
      id: uuid(20),
      rideId: ride.id,
      setupId: uuid(3),
      caption: 'Chain on the hub',
      bytes: new Uint8Array([1, 2, 3]).buffer,
      type: 'image/png',
      problem: null,
    });
    const { head, text, entries } = await unpacked(await outingFile(store, START));
    expect(head.rides).toMatchObject([{ id: ride.id, log: { channels: [...channelsOf(ride)] } }]);
    const lines = text(`log/${ride.id}.jsonl`).trim().split('\n');
    expect(lines.map((line) => (JSON.parse(line) as number[])[0])).toEqual(
      Array.from({ length: seconds }, (_, k) => k),
    );
    expect(head.photos).toEqual([{ id: uuid(20), setupId: uuid(3), caption: 'Chain on the hub' }]);
    expect([...entries[`photo/${uuid(20)}`]!]).toEqual([1, 2, 3]);
    expect(text('outing.json')).not.toContain('box_secret');
  });
});

it('a ride begins with all that its plan said, and what a refusal is is told apart from a ride', () => {
  const ride = newRide(planned(), null, { id: 'r', nowMs: START, after: afterRideSchema.parse({}) });
  expect(isRefusal(ride)).toBe(false);
  expect(ride).toMatchObject({ setupName: 'Corvane R2', log: null, epochMs: START });
});
