import {
  CyclingPowerReader,
  readHeartRate,
  readTemperature,
  SpeedCadenceReader,
  type SensorReading,
} from '@ebrix/core/logger';

/** As much of a browser's radio as is used here. */
interface Characteristic extends EventTarget {
  readonly value?: DataView | undefined;
  startNotifications(): Promise<unknown>;
}
interface Gatt {
  connect(): Promise<{
    getPrimaryService(uuid: number): Promise<{ getCharacteristic(uuid: number): Promise<Characteristic> }>;
  }>;
}
export interface RadioDevice extends EventTarget {
  readonly name?: string;
  readonly gatt?: Gatt;
}
export interface Radio {
  requestDevice(options: { filters: { services: number[] }[] }): Promise<RadioDevice>;
}

/** Sensors by the open profiles: service, characteristic, and what it says. */
export const RADIO_SENSORS = {
  heart: { label: 'Heart strap', service: 0x180d, characteristic: 0x2a37, reader: () => readHeartRate },
  cadence: {
    label: 'Speed and cadence sensor',
    service: 0x1816,
    characteristic: 0x2a5b,
    reader: () => {
      const reader = new SpeedCadenceReader();
      return (data: DataView): SensorReading => reader.read(data, performance.now());
    },
  },
  power: {
    label: 'Pedal power sensor',
    service: 0x1818,
    characteristic: 0x2a63,
    reader: () => {
      const reader = new CyclingPowerReader();
      return (data: DataView): SensorReading => reader.read(data, performance.now());
    },
  },
  air: { label: 'Thermometer', service: 0x181a, characteristic: 0x2a6e, reader: () => readTemperature },
} as const satisfies Record<
  string,
  { label: string; service: number; characteristic: number; reader: () => (data: DataView) => SensorReading }
>;
export type RadioKind = keyof typeof RADIO_SENSORS;

export function radioHere(): Radio | undefined {
  return (navigator as { bluetooth?: Radio }).bluetooth;
}

const RETRY_MS = 3000;

/** Asks for a sensor and listens to it; one that drops out is looked for again until it is let go. Fails as the browser says. */
export async function listenTo(
  radio: Radio,
  kind: RadioKind,
  onReading: (reading: SensorReading) => void,
  onState: (state: 'away' | 'here') => void,
): Promise<{ readonly name: string; readonly stop: () => void }> {
  const { service, characteristic, reader } = RADIO_SENSORS[kind];
  const device = await radio.requestDevice({ filters: [{ services: [service] }] });
  const read = reader();
  let isStopped = false;
  const connect = async (): Promise<void> => {
    const server = await device.gatt!.connect();
    const found = await (await server.getPrimaryService(service)).getCharacteristic(characteristic);
    found.addEventListener('characteristicvaluechanged', () => {
      if (found.value && !isStopped) onReading(read(found.value));
    });
    await found.startNotifications();
    onState('here');
  };
  const again = (): void => {
    if (isStopped) return;
    onState('away');
    setTimeout(() => void connect().catch(again), RETRY_MS);
  };
  device.addEventListener('gattserverdisconnected', again);
  await connect();
  return {
    name: device.name ?? RADIO_SENSORS[kind].label,
    stop: () => {
      isStopped = true;
      device.removeEventListener('gattserverdisconnected', again);
    },
  };
}
