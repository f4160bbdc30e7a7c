import {
  CyclingPowerReader,
  readBatteryLevel,
  readHeartRate,
  readTemperature,
  SpeedCadenceReader,
  TurnCounter,
} from './index.js';

const bytes = (...values: number[]): DataView => new DataView(Uint8Array.from(values).buffer);
const u16 = (value: number): [number, number] => [value & 255, (value >> 8) & 255];
const u32 = (value: number): number[] => [value & 255, (value >>> 8) & 255, (value >>> 16) & 255, (value >>> 24) & 255];

describe('sensors of the open profiles', () => {
  it('tell a heart rate in one byte or two, and none without the skin', () => {
    expect(readHeartRate(bytes(0, 142))).toEqual({ heartRate: 142 });
    expect(readHeartRate(bytes(1, ...u16(260)))).toEqual({ heartRate: 260 });
    // Contact is told, and there is none; it is told, and there is.
    expect(readHeartRate(bytes(0b100, 80))).toEqual({});
    expect(readHeartRate(bytes(0b110, 80))).toEqual({ heartRate: 80 });
    expect(readHeartRate(bytes(1, 5))).toEqual({});
    expect(readHeartRate(bytes(0, 0))).toEqual({});
  });
  it('tell wheel and crank by turns and their times', () => {
    const reader = new SpeedCadenceReader();
    const told = (wheel: number, wheelTicks: number, crank: number, crankTicks: number, ms: number) =>
      reader.read(bytes(3, ...u32(wheel), ...u16(wheelTicks), ...u16(crank), ...u16(crankTicks)), ms);
    expect(told(100, 1000, 50, 2000, 0)).toEqual({});
    // Three turns of the wheel and one of the crank in a second.
    expect(told(103, 2024, 51, 3024, 1000)).toEqual({ wheelRpm: 180, wheelTurns: 3, cadence: 60 });
    // Told again: as before; for seconds: it stands.
    expect(told(103, 2024, 51, 3024, 2000)).toEqual({ wheelRpm: 180, wheelTurns: 3, cadence: 60 });
    expect(told(103, 2024, 51, 3024, 4500)).toEqual({ wheelRpm: 0, wheelTurns: 3, cadence: 0 });
    expect(reader.read(bytes(3, 1, 2), 0)).toEqual({});
  });
  it('go on where their counters run over', () => {
    const counter = new TurnCounter(65_536);
    counter.take({ turns: 65_535, ticks: 65_000 }, 0);
    expect(counter.take({ turns: 1, ticks: 488 }, 1000)).toBeCloseTo(120, 6);
    const wheel = new SpeedCadenceReader();
    wheel.read(bytes(1, ...u32(4_294_967_295), ...u16(0)), 0);
    expect(wheel.read(bytes(1, ...u32(1), ...u16(1024)), 1000)).toEqual({ wheelRpm: 120, wheelTurns: 2 });
  });
  it('begin anew where a sensor does, and where it was away for longer than its clock runs', () => {
    const reader = new SpeedCadenceReader();
    const told = (wheel: number, ticks: number, ms: number) => reader.read(bytes(1, ...u32(wheel), ...u16(ticks)), ms);
    told(5000, 0, 0);
    expect(told(5003, 1024, 1000)).toEqual({ wheelRpm: 180, wheelTurns: 3 });
    // It slept and counts from nothing: that is not four thousand million turns.
    expect(told(2, 500, 5000)).toEqual({});
    expect(told(5, 1524, 6000)).toEqual({ wheelRpm: 180, wheelTurns: 6 });
    // Seventy seconds unheard: its clock ran over, and 200 turns in what is left of it would be 300 km/h.
    expect(told(205, 7668, 76_000)).toEqual({});
    expect(told(208, 8692, 77_000)).toEqual({ wheelRpm: 180, wheelTurns: 9 });
  });
  it('tell the power of the pedals, negative too, and the crank behind what comes before it', () => {
    const reader = new CyclingPowerReader();
    expect(reader.read(bytes(0, 0, ...u16(-12 & 0xffff)), 0)).toEqual({ riderPower: -12 });
    const told = (crank: number, ticks: number, ms: number) =>
      // Balance, torque, wheel and crank come along.
      reader.read(
        bytes(
          ...u16(1 | 4 | 16 | 32),
          ...u16(180),
          50,
          ...u16(9),
          ...u32(crank),
          ...u16(2 * ticks),
          ...u16(crank),
          ...u16(ticks),
        ),
        ms,
      );
    told(10, 0, 0);
    expect(told(11, 768, 750)).toEqual({ riderPower: 180, cadence: 80, wheelRpm: 80, wheelTurns: 1 });
  });
  it('tell temperature and their own charge, and nothing where they do not know', () => {
    expect(readTemperature(bytes(...u16(-525 & 0xffff)))).toEqual({ airTemperature: -5.25 });
    expect(readTemperature(bytes(...u16(0x8000)))).toEqual({});
    expect(readBatteryLevel(bytes(87))).toEqual({ sensorCharge: 87 });
    expect(readBatteryLevel(bytes(255))).toEqual({});
  });
  it('of any bytes at all never fail', () => {
    for (let length = 0; length < 24; length++)
      for (let k = 0; k < 40; k++) {
        const data = bytes(...Array.from({ length }, (_, j) => (k * 37 + j * 101) % 256));
        for (const read of [
          readHeartRate,
          readTemperature,
          readBatteryLevel,
          (view: DataView) => new SpeedCadenceReader().read(view, 0),
          (view: DataView) => new CyclingPowerReader().read(view, 0),
        ])
          expect(() => read(data)).not.toThrow();
      }
  });
});
