/** What a sensor of an open radio profile said, in the units of the logger protocol. */
export interface SensorReading {
  readonly heartRate?: number;
  readonly cadence?: number;
  /** Turns of the wheel a minute. */
  readonly wheelRpm?: number;
  /** Turns of the wheel since the sensor was first heard. */
  readonly wheelTurns?: number;
  readonly riderPower?: number;
  readonly airTemperature?: number;
  /** Of the sensor's own battery, %. */
  readonly sensorCharge?: number;
}

/** Heart rate measurement (characteristic 2A37): beats a minute; none where the strap says it does not touch the skin. */
export function readHeartRate(data: DataView): SensorReading {
  if (data.byteLength < 2) return {};
  const flags = data.getUint8(0);
  const hasContact = (flags & 0b100) === 0 || (flags & 0b10) !== 0;
  const isWide = (flags & 1) !== 0;
  if (!hasContact || (isWide && data.byteLength < 3)) return {};
  const rate = isWide ? data.getUint16(1, true) : data.getUint8(1);
  return rate > 0 ? { heartRate: rate } : {};
}

const TICKS_PER_S = 1024;
const POWER_TICKS_PER_S = 2048;
const WRAP_16 = 65_536;
const WRAP_32 = 4_294_967_296;
/** More than this between two tellings no wheel and no crank turns. */
const MOST_TURNS = 2000;
/** Without a new turn for so long the crank or wheel stands. */
const STANDS_MS = 3000;

interface Counted {
  readonly turns: number;
  readonly ticks: number;
}

/** Speed and cadence measurement (2A5B), and the crank of cycling power (2A63): turns and when the last one was, both of which run over. */
export class TurnCounter {
  private last: (Counted & { readonly heardMs: number; readonly rpm: number }) | undefined;
  /** Turns since the first that was told. */
  total = 0;

  /** `wrap`: where the count of turns begins anew; `ticksPerS`: of the sensor's clock. */
  constructor(
    private readonly wrap: number,
    private readonly ticksPerS = TICKS_PER_S,
  ) {}

  /** Turns a minute; undefined until two turns were told. */
  take({ turns, ticks }: Counted, heardMs: number): number | undefined {
    const more = this.last ? (turns - this.last.turns + this.wrap) % this.wrap : 0;
    // A count that fell back is a sensor that began anew; what happened while its clock ran over once is not known.
    const awayMs = this.last ? heardMs - this.last.heardMs : 0;
    const isNew = more > MOST_TURNS || (more > 0 && awayMs > (900 * WRAP_16) / this.ticksPerS);
    const before = isNew ? undefined : this.last;
    const seconds = before ? ((ticks - before.ticks + WRAP_16) % WRAP_16) / this.ticksPerS : 0;
    if (!before || (more > 0 && seconds > 0)) {
      const rpm = before ? (60 * more) / seconds : NaN;
      if (before) this.total += more;
      this.last = { turns, ticks, heardMs, rpm };
      return Number.isNaN(rpm) ? undefined : rpm;
    }
    // The same turn told again: as before, until it has stood for long.
    if (heardMs - before.heardMs >= STANDS_MS) return 0;
    return Number.isNaN(before.rpm) ? undefined : before.rpm;
  }
}

/** Wheel and crank of a speed and cadence sensor (characteristic 2A5B). */
export class SpeedCadenceReader {
  private readonly wheel = new TurnCounter(WRAP_32);
  private readonly crank = new TurnCounter(WRAP_16);

  read(data: DataView, heardMs: number): SensorReading {
    if (data.byteLength < 1) return {};
    const flags = data.getUint8(0);
    const [hasWheel, hasCrank] = [(flags & 1) !== 0, (flags & 2) !== 0];
    const crankAt = hasWheel ? 7 : 1;
    if (data.byteLength < (hasWheel ? 7 : 1) + (hasCrank ? 4 : 0)) return {};
    const wheelRpm = hasWheel
      ? this.wheel.take({ turns: data.getUint32(1, true), ticks: data.getUint16(5, true) }, heardMs)
      : undefined;
    const cadence = hasCrank
      ? this.crank.take({ turns: data.getUint16(crankAt, true), ticks: data.getUint16(crankAt + 2, true) }, heardMs)
      : undefined;
    return {
      ...(wheelRpm !== undefined && { wheelRpm, wheelTurns: this.wheel.total }),
      ...(cadence !== undefined && { cadence }),
    };
  }
}

/** Power of the pedals, and the crank's turns where they come along (characteristic 2A63). */
export class CyclingPowerReader {
  private readonly crank = new TurnCounter(WRAP_16);
  private readonly wheel = new TurnCounter(WRAP_32, POWER_TICKS_PER_S);

  read(data: DataView, heardMs: number): SensorReading {
    if (data.byteLength < 4) return {};
    const flags = data.getUint16(0, true);
    const riderPower = data.getInt16(2, true);
    // In the order of the profile: balance, torque, wheel, crank.
    let at = 4 + ((flags & 1) !== 0 ? 1 : 0) + ((flags & 4) !== 0 ? 2 : 0);
    let wheelRpm: number | undefined;
    let cadence: number | undefined;
    if ((flags & 16) !== 0 && data.byteLength >= at + 6) {
      wheelRpm = this.wheel.take({ turns: data.getUint32(at, true), ticks: data.getUint16(at + 4, true) }, heardMs);
      at += 6;
    }
    if ((flags & 32) !== 0 && data.byteLength >= at + 4)
      cadence = this.crank.take({ turns: data.getUint16(at, true), ticks: data.getUint16(at + 2, true) }, heardMs);
    return {
      riderPower,
      ...(wheelRpm !== undefined && { wheelRpm, wheelTurns: this.wheel.total }),
      ...(cadence !== undefined && { cadence }),
    };
  }
}

/** Temperature (2A6E): hundredths of a degree; none for the value that means that it is not known. */
export function readTemperature(data: DataView): SensorReading {
  if (data.byteLength < 2) return {};
  const hundredths = data.getInt16(0, true);
  return hundredths === -32_768 ? {} : { airTemperature: hundredths / 100 };
}

/** Battery level (2A19), %. */
export function readBatteryLevel(data: DataView): SensorReading {
  return data.byteLength < 1 || data.getUint8(0) > 100 ? {} : { sensorCharge: data.getUint8(0) };
}
