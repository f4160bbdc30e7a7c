import 'fake-indexeddb/auto';
import { openDB } from 'idb';
import { ServerRefusal } from '../send/server.js';
import { PhoneStore } from './phone-store.js';
import { uuid, planned, PlainServer, freshName, freshStore, phone, OUTING } from '../testing/phone.js';

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
    const name = freshName();
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
