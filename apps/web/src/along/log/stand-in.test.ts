import 'fake-indexeddb/auto';
import { listenTo, type RadioDevice } from './radio-sensors.js';
import { StandInBike } from './stand-in.js';
import { standInRadio, type StandInSensor } from './stand-in-radio.js';
import { waiting } from '../send/send-rides.js';
import { outingFile } from '../ui/save-outing-file.js';
import { START, M, planned, PlainServer, freshStore, phone, only, OUTING, unpacked } from '../testing/phone.js';

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
    expect((await unpacked(await outingFile(store))).head.rides).toEqual([]);
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
