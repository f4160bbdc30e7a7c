import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import type { Photo } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';

let server: TestApp;
let bench: Bench;
beforeAll(async () => ({ server, bench } = await startTestBench()));
afterAll(() => server.close());

const add = (bytes: Buffer, fields: Record<string, string> = {}, name = 'photo.jpg') => {
  const request = server.api.post('/api/photos').attach('file', bytes, name);
  for (const [field, value] of Object.entries({ owner: 'kit', ownerId: bench.kit.id, ...fields }))
    void request.field(field, value);
  return request;
};
const chart = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: '#336655' } });

/** A PNG that says it has `side`² pixels and packs them into a few kilobytes. */
function bomb(side: number): Buffer {
  const crcTable = Array.from({ length: 256 }, (_, n) => {
    let c = n;
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
    return c >>> 0;
  });
  const crc = (bytes: Buffer): number =>
    (bytes.reduce((c, byte) => crcTable[(c ^ byte) & 0xff]! ^ (c >>> 8), 0xffffffff) ^ 0xffffffff) >>> 0;
  const chunk = (type: string, data: Buffer): Buffer => {
    const body = Buffer.concat([Buffer.from(type), data]);
    const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
    length.writeUInt32BE(data.length);
    sum.writeUInt32BE(crc(body));
    return Buffer.concat([length, body, sum]);
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(side, 0);
  head.writeUInt32BE(side, 4);
  head.set([1, 0, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(Buffer.alloc(1024 * 1024))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

describe('photos', () => {
  it('sent twice under the sender’s own id are one; of another thing the id is refused', async () => {
    const bytes = await chart(40, 30).jpeg().toBuffer();
    const id = '01900000-0000-7000-8000-0000000000aa';
    const sent = await Promise.all([add(bytes, { id }), add(bytes, { id }), add(bytes, { id })]);
    expect(sent.map(({ status }) => status)).toEqual([201, 201, 201]);
    expect(new Set(sent.map(({ body }) => (body as Photo).id))).toEqual(new Set([id]));
    await add(bytes, { id, owner: 'bike', ownerId: bench.bike.id }).expect(409);
    const list = (await server.api.get(`/api/photos?owner=kit&ownerId=${bench.kit.id}`).expect(200)).body as Photo[];
    expect(list.filter((photo) => photo.id === id)).toHaveLength(1);
    await server.api.delete(`/api/photos/${id}`).expect(204);
  });
  it('are made smaller and lose the place they were taken at', async () => {
    const taken = await chart(3000, 2000)
      .withExif({ IFD0: { Make: 'Camera' }, IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '31/1 12/1 0/1' } })
      .jpeg()
      .toBuffer();
    expect((await sharp(taken).metadata()).exif).toBeDefined();
    const photo = (await add(taken, { caption: 'Washers on the left' }).expect(201)).body as Photo;
    expect(photo).toMatchObject({ width: 1600, height: 1067, caption: 'Washers on the left', owner: 'kit' });
    const image = await server.api.get(`/api/photos/${photo.id}/image`).buffer(true).expect(200);
    expect(image.headers['content-type']).toBe('image/jpeg');
    const stored = await sharp(image.body as Buffer).metadata();
    expect(stored).toMatchObject({ format: 'jpeg', width: 1600 });
    expect(stored.exif).toBeUndefined();
  });

  it('stand upright, however the camera was held', async () => {
    const sideways = await chart(200, 100).withMetadata({ orientation: 6 }).jpeg().toBuffer();
    expect((await add(sideways).expect(201)).body).toMatchObject({ width: 100, height: 200 });
  });

  it.each(['png', 'webp'] as const)('are taken as %s too', async (format) => {
    const photo = (await add(await chart(200, 100)[format]().toBuffer(), {}, `a.${format}`).expect(201)).body as Photo;
    expect(photo).toMatchObject({ width: 200, height: 100 });
  });

  it('are refused when a few kilobytes unfold into more than a machine should hold', async () => {
    const bytes = bomb(60_000);
    expect(bytes.length).toBeLessThan(10_000);
    const answer = await add(bytes, {}, 'bomb.png').expect(413);
    expect(answer.body.error).toMatchObject({ code: 'too-large', message: expect.stringContaining('million pixels') });
  });

  it.each([
    ['text', Buffer.from('not a picture')],
    [
      'a drawing with a script',
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><script/></svg>'),
    ],
    ['half a picture', bomb(500).subarray(0, 60)],
    ['nothing', Buffer.alloc(0)],
  ])('are refused in plain words: %s', async (_what, bytes) => {
    const answer = await add(bytes).expect(422);
    expect(answer.body.error.message).toContain('Nothing was stored.');
  });

  it('belong to something that is there', async () => {
    const small = await chart(20, 20).jpeg().toBuffer();
    await add(small, { ownerId: '01900000-0000-7000-8000-000000000000' }).expect(409);
    await add(small, { owner: 'rider' }).expect(400);
    await server.api.post('/api/photos').field('owner', 'kit').field('ownerId', bench.kit.id).expect(400);
  });

  it('are removed and brought back', async () => {
    const photo = (
      await add(await chart(30, 30).jpeg().toBuffer(), { owner: 'bike', ownerId: bench.bike.id }).expect(201)
    ).body as Photo;
    const list = async () =>
      (await server.api.get('/api/photos').query({ owner: 'bike', ownerId: bench.bike.id }).expect(200))
        .body as Photo[];
    expect(await list()).toHaveLength(1);
    await server.api.delete(`/api/photos/${photo.id}`).expect(204);
    expect(await list()).toHaveLength(0);
    await server.api.post(`/api/photos/${photo.id}/restore`).expect(204);
    expect(await list()).toHaveLength(1);
  });
});
