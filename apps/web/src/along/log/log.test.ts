import 'fake-indexeddb/auto';
import { seededRandom, standardNormal } from '@ebrix/core/numeric';
import { channelsOf, MOST_FELT, PHONE_CHANNELS, PhoneLog, steadyClock } from './phone-log.js';
import { listenTo } from './radio-sensors.js';
import { WayByFixes } from './position-source.js';
import { sendRides } from '../send/send-rides.js';
import { PhoneStore } from '../store/phone-store.js';
import { START, M, planned, fix, PlainServer, freshStore, phone, OUTING } from '../testing/phone.js';

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
  it('is that of a wheel sensor while one is heard, and goes on by the places where it falls silent', () => {
    const way = new WayByFixes();
    const METRES = 2.1;
    way.take(fix(0, 0, { speedMps: 6 }));
    // 3 turns a second, while the receiver thinks it goes faster.
    for (let s = 1; s <= 60; s++) {
      const byWheel = way.turn(3 * s, 180, METRES, s * 1000);
      expect(byWheel.speed).toBeCloseTo(22.68, 6);
      const reading = way.take(fix(s * 1000 + 400, 7 * s, { speedMps: 7 }));
      expect(reading).not.toHaveProperty('speed');
      expect(reading.distance).toBe(byWheel.distance);
    }
    expect(way.distanceM).toBeCloseTo(59 * 3 * METRES, 6);
    for (let s = 61; s <= 80; s++) way.take(fix(s * 1000 + 400, 7 * s, { speedMps: 7 }));
    // Three seconds are lost until its silence is believed; then the receiver's speed counts.
    expect(way.distanceM).toBeGreaterThan(59 * 3 * METRES + 7 * 16);
    expect(way.distanceM).toBeLessThan(59 * 3 * METRES + 7 * 20);
    // A receiver whose clock is minutes behind does not keep a silent sensor alive.
    const late = new WayByFixes();
    late.turn(0, 180, METRES, 1_000_000);
    for (let s = 0; s < 10; s++) late.take(fix(s * 1000, 7 * s, { speedMps: 7 }), 1_004_000 + 1000 * s);
    expect(late.distanceM).toBeCloseTo(63, 0);
    // Heard again with a count of its own: nothing is added for what it did not see.
    const before = way.distanceM;
    way.turn(5, 180, METRES, 81_000);
    expect(way.distanceM).toBe(before);
    way.turn(8, 180, METRES, 82_000);
    expect(way.distanceM).toBeCloseTo(before + 3 * METRES, 6);
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
