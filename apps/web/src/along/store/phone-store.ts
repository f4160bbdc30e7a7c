import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { AlongBundle } from '@ebrix/contract';
import type { CarriedPhoto } from './carried-photo.js';
import type { CarriedRide } from './carried-ride.js';

/** Lines of the phone's own log, a second of them at a time: number, seconds, values in the order of the channels. */
export type PhoneLine = readonly (number | null)[];
export interface Chunk {
  readonly rideId: string;
  /** Number of its first line. */
  readonly fromN: number;
  readonly lines: readonly PhoneLine[];
}
export interface TakenOuting {
  readonly id: string;
  readonly phone: string;
  readonly bundle: AlongBundle;
}
interface Schema extends DBSchema {
  outing: { key: string; value: TakenOuting };
  ride: { key: string; value: CarriedRide };
  chunk: { key: [string, number]; value: Chunk };
  setting: { key: string; value: string };
  photo: { key: string; value: CarriedPhoto };
}

/** All that a phone carries, in its own database: it survives a kill, an update and an empty battery. */
export class PhoneStore {
  private constructor(private readonly database: IDBPDatabase<Schema>) {}

  static async open(name = 'ebrix-along'): Promise<PhoneStore> {
    return new PhoneStore(
      await openDB<Schema>(name, 2, {
        upgrade(database, version) {
          if (version < 2) database.createObjectStore('photo', { keyPath: 'id' });
          if (version >= 1) return;
          database.createObjectStore('outing', { keyPath: 'id' });
          database.createObjectStore('ride', { keyPath: 'id' });
          database.createObjectStore('chunk', { keyPath: ['rideId', 'fromN'] });
          database.createObjectStore('setting');
        },
      }),
    );
  }

  outings(): Promise<TakenOuting[]> {
    return this.database.getAll('outing');
  }
  rides(): Promise<CarriedRide[]> {
    return this.database.getAll('ride');
  }
  ride(id: string): Promise<CarriedRide | undefined> {
    return this.database.get('ride', id);
  }
  /** What was taken again takes the place of what was taken before. */
  async keepOuting(outing: TakenOuting): Promise<void> {
    await this.database.put('outing', outing);
  }
  async dropOuting(id: string): Promise<void> {
    await this.database.delete('outing', id);
  }

  /** Changes a ride by what it is now, so that a tap and a sample at the same moment do not undo each other. */
  async change(id: string, by: (ride: CarriedRide) => CarriedRide): Promise<CarriedRide | undefined> {
    const transaction = this.database.transaction('ride', 'readwrite', { durability: 'strict' });
    const ride = await transaction.store.get(id);
    const next = ride && by(ride);
    if (next && next !== ride) await transaction.store.put(next);
    await transaction.done;
    return next;
  }
  async addRide(ride: CarriedRide): Promise<void> {
    await this.database.add('ride', ride);
  }

  /** A second of a log. Fails where the phone has no room left. */
  async addLines(chunk: Chunk): Promise<void> {
    if (chunk.lines.length > 0) await this.database.put('chunk', chunk);
  }
  /** Chunks in order, from a line on. */
  chunks(rideId: string, fromN = 0, count = 2000): Promise<Chunk[]> {
    return this.database.getAll('chunk', IDBKeyRange.bound([rideId, fromN], [rideId, Infinity]), count);
  }
  /** The chunk that holds a line, or the last before it. Chunks are as long as the phone let the page sleep. */
  async chunkAt(rideId: string, n = Infinity): Promise<Chunk | undefined> {
    const cursor = await this.database
      .transaction('chunk')
      .store.openCursor(IDBKeyRange.bound([rideId, 0], [rideId, n]), 'prev');
    return cursor?.value;
  }
  /** The number of the next line of a ride. */
  async nextLine(rideId: string): Promise<number> {
    const last = await this.chunkAt(rideId);
    return last ? last.fromN + last.lines.length : 0;
  }
  /** A ride with all its lines, once the server has both. */
  async forget(rideId: string): Promise<void> {
    const transaction = this.database.transaction(['ride', 'chunk'], 'readwrite');
    await transaction.objectStore('chunk').delete(IDBKeyRange.bound([rideId, 0], [rideId, Infinity]));
    await transaction.objectStore('ride').delete(rideId);
    await transaction.done;
  }

  photos(): Promise<CarriedPhoto[]> {
    return this.database.getAll('photo');
  }
  async keepPhoto(photo: CarriedPhoto): Promise<void> {
    await this.database.put('photo', photo);
  }
  async dropPhoto(id: string): Promise<void> {
    await this.database.delete('photo', id);
  }

  setting(name: string): Promise<string | undefined> {
    return this.database.get('setting', name);
  }
  async set(name: string, value: string): Promise<void> {
    await this.database.put('setting', value, name);
  }
  close(): void {
    this.database.close();
  }
}
