import 'fake-indexeddb/auto';
import { unzipSync } from 'fflate';
import { afterRideSchema, alongRideInputSchema, outingZipSchema, preparationSchema } from '@ebrix/contract';
import type { AlongPlanned, AlongRideInput, Ride } from '@ebrix/contract';
import type { Fix } from '../log/position-source.js';
import { NobodyThere, type Server, type ServerRefusal } from '../send/server.js';
import type { CarriedPhoto } from '../store/carried-photo.js';
import type { CarriedRide } from '../store/carried-ride.js';
import { PhoneStore } from '../store/phone-store.js';
import { PhoneApp } from '../ui/phone-app.js';

export const START = Date.parse('2026-04-07T08:00:00.000Z');
export const M = 1 / 111_320;
export const uuid = (k: number): string => `01900000-0000-7000-8000-${String(k).padStart(12, '0')}`;
export const planned = (change: Partial<AlongPlanned> = {}): AlongPlanned => ({
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
  wheelCircumferenceM: null,
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
export const fix = (timeMs: number, northM: number, more: Partial<Fix> = {}): Fix => ({
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
export class PlainServer implements Server {
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

/** What a saved outing holds. */
export async function unpacked(file: Blob) {
  const entries = unzipSync(new Uint8Array(await file.arrayBuffer()));
  const text = (name: string): string => new TextDecoder().decode(entries[name]);
  return { entries, text, head: outingZipSchema.parse(JSON.parse(text('outing.json'))) };
}

let names = 0;
/** A name that no store has yet. */
export const freshName = (): string => `phone ${names++}`;
export const freshStore = (): Promise<PhoneStore> => PhoneStore.open(freshName());
/** A phone whose clock is moved by hand. */
export async function phone(store: PhoneStore, server: Server = new PlainServer()) {
  const clock = { ms: START };
  const app = await PhoneApp.open(store, server, () => clock.ms);
  return { app, clock };
}
export const only = (app: PhoneApp): CarriedRide => app.state().rides.at(-1)!;
export const OUTING = {
  id: 'x',
  phone: 'the blue one',
  bundle: {
    blank: { preparation: preparationSchema.parse({}), after: afterRideSchema.parse({}) },
    logger: { id: uuid(9), name: 'Phone the blue one', secret: 'box_secret' },
  } as never,
};
