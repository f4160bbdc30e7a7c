import { RADIO_SENSORS, type Radio, type RadioDevice, type RadioKind } from './radio-sensors.js';

const SAYS_EVERY_MS = 1000;

/** Frames as such sensors send them, by the open profiles: after so many seconds. */
const FRAMES: Readonly<Record<RadioKind, (seconds: number) => DataView>> = {
  heart: (s) => view([0, 118 + Math.round(12 * Math.sin(s / 9))]),
  // Wheel and crank turns with the moment of the last one, in 1/1024 s: 2.9 turns of the wheel and 1.2 of the crank a second.
  cadence: (s) => {
    const frame = new DataView(new ArrayBuffer(11));
    frame.setUint8(0, 3);
    const [wheel, crank] = [Math.floor(2.9 * s), Math.floor(1.2 * s)];
    frame.setUint32(1, wheel, true);
    frame.setUint16(5, Math.round((wheel / 2.9) * 1024) & 0xffff, true);
    frame.setUint16(7, crank & 0xffff, true);
    frame.setUint16(9, Math.round((crank / 1.2) * 1024) & 0xffff, true);
    return frame;
  },
  power: (s) => {
    const frame = new DataView(new ArrayBuffer(4));
    frame.setInt16(2, 95 + Math.round(25 * Math.sin(s / 5)), true);
    return frame;
  },
  air: () => {
    const frame = new DataView(new ArrayBuffer(2));
    frame.setInt16(0, 1640, true);
    return frame;
  },
};
const view = (bytes: readonly number[]): DataView => new DataView(Uint8Array.from(bytes).buffer);

/** Sensors that are not there, for trying out without any: they speak as real ones do, and can drop out. */
export function standInRadio(): Radio {
  return {
    requestDevice: ({ filters }) => {
      const kinds = Object.keys(RADIO_SENSORS) as RadioKind[];
      const kind = kinds.find((one) => filters.some(({ services }) => services.includes(RADIO_SENSORS[one].service)));
      return kind
        ? Promise.resolve(new StandInSensor(kind))
        : Promise.reject(new DOMException('No such sensor.', 'NotFoundError'));
    },
  };
}

export class StandInSensor extends EventTarget implements RadioDevice {
  readonly name = 'a simulated one';
  private timer: ReturnType<typeof setInterval> | undefined;
  private seconds = 0;

  constructor(private readonly kind: RadioKind) {
    super();
  }

  readonly gatt = {
    connect: () => {
      const value = Object.assign(new EventTarget(), {
        value: undefined as DataView | undefined,
        startNotifications: () => {
          clearInterval(this.timer);
          this.timer = setInterval(() => {
            value.value = FRAMES[this.kind](++this.seconds);
            value.dispatchEvent(new Event('characteristicvaluechanged'));
          }, SAYS_EVERY_MS);
          return Promise.resolve();
        },
      });
      const getCharacteristic = () => Promise.resolve(value);
      return Promise.resolve({ getPrimaryService: () => Promise.resolve({ getCharacteristic }) });
    },
  };

  /** Out of reach, as a strap that slipped. */
  dropOut(): void {
    clearInterval(this.timer);
    this.dispatchEvent(new Event('gattserverdisconnected'));
  }
}
