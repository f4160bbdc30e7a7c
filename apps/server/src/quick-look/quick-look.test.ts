import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import type { QuickLookLog, QuickLookTable } from '@ebrix/contract';
import type { Knex } from 'knex';
import { ErrorFilter } from '../common/error.filter.js';
import { KNEX } from '../database/database.module.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';

const CORE = join(__dirname, '../../../../packages/core/src');
const ride = readFileSync(join(CORE, 'analysis/range/reference/range-ride.csv'));
const statistics = JSON.parse(readFileSync(join(CORE, 'statistics/reference/statistics.json'), 'utf8'));

let server: TestApp;
beforeAll(async () => (server = await startTestApp()));
afterAll(() => server.close());

const look = (bytes: Buffer | string, context?: object) => {
  const sent = server.api.post('/api/quick-look/log').attach('file', Buffer.from(bytes), 'ride');
  return context ? sent.field('context', JSON.stringify(context)) : sent;
};
const close = (got: number, wanted: number) => expect(Math.abs(got / wanted - 1)).toBeLessThan(1e-6);

describe('quick look at a log', () => {
  const text = ride.toString('utf8');
  it.each([
    ['as it came', ride],
    ['gzipped', gzipSync(ride)],
    ['in UTF-16', Buffer.from('\ufeff' + text, 'utf16le')],
    ['with semicolons and decimal commas', Buffer.from(text.replaceAll(',', ';').replaceAll('.', ','))],
  ])('gives the figures of a ride %s', async (_what, bytes) => {
    const { figures, cleaning, strip } = (await look(bytes, { capacityAh: 14, nominalVoltageV: 48 }).expect(200))
      .body as QuickLookLog;
    const figure = (key: string) => figures.find((one) => one.key === key)!;
    // The bounds that were set for this ride: 0.3 % and 1 % of the truth it was made from.
    expect(Math.abs(figure('distance').value / 26.91759 - 1)).toBeLessThan(0.003);
    expect(Math.abs(figure('netConsumption').value / 5.5297924 - 1)).toBeLessThan(0.01);
    expect(figure('rangeToCutoff').unit).toBe('km');
    expect(cleaning.gaps).toHaveLength(1);
    for (const channel of strip.channels) expect(channel.timesS.length).toBeLessThanOrEqual(1000);
  });

  const gpx = (point: (k: number) => string): string =>
    `<?xml version="1.0"?><gpx version="1.1" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>${Array.from({ length: 200 }, (_, k) => `<trkpt lat="${31.4 + k * 1e-4}" lon="-45.2">${point(k)}</trkpt>`).join('')}</trkseg></trk></gpx>`;
  const time = (k: number): string =>
    `<time>2026-05-01T08:00:${String(k % 60).padStart(2, '0')}Z</time>`.replace('08:00', `08:0${Math.floor(k / 60)}`);

  it('gives of a GPX track what it can carry, and says what it cannot', async () => {
    const whole = (await look(gpx((k) => `<ele>${10 + k / 10}</ele>${time(k)}`)).expect(200)).body as QuickLookLog;
    const keys = whole.figures.map(({ key }) => key);
    expect(keys).toEqual(expect.arrayContaining(['distance', 'meanMovingSpeed', 'climbed']));
    expect(whole.figures.find(({ key }) => key === 'distance')!.value).toBeCloseTo((199 * 11.1195) / 1000, 2);
    expect(keys).not.toContain('netConsumption');
    const untimed = (await look(gpx((k) => `<ele>${10 + k / 10}</ele>`)).expect(200)).body as QuickLookLog;
    expect(untimed.figures.map(({ key }) => key)).not.toContain('movingTime');
    expect(untimed.warnings.map(({ code }) => code)).toContain('no-clock');
    const flat = (await look(gpx(time)).expect(200)).body as QuickLookLog;
    expect(flat.warnings.map(({ code }) => code)).toContain('no-altitude');
  });

  const table = (rows: readonly string[]): string =>
    ['time (s),speed (km/h),voltage (V),current (A)', ...rows].join('\n');
  const steady = Array.from({ length: 50 }, (_, t) => `${t},20,50,5`);
  it.each([
    ['an empty file', '', 422, 'empty-file'],
    ['blank space', ' \n \n', 422, 'empty-file'],
    ['a picture', Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0]), 422, 'not-a-log'],
    ['a zip archive', Buffer.from([0x50, 0x4b, 3, 4, 0, 0]), 422, 'not-a-log'],
    ['prose', 'Dear diary, the hill was steep today.\nTomorrow, more.', 422, undefined],
    ['a header without values', table([]), 422, undefined],
    ['a damaged gzip file', gzipSync(ride).subarray(0, 2000), 422, 'damaged-archive'],
    ['a gzip bomb', gzipSync(Buffer.alloc(70 * 1024 * 1024, 48)), 413, 'packed-too-tight'],
    [
      'an entity bomb',
      '<?xml version="1.0"?><!DOCTYPE g [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><gpx>&b;</gpx>',
      422,
      'doctype-refused',
    ],
    [
      'an external entity',
      '<?xml version="1.0"?><!DOCTYPE g SYSTEM "file:///etc/passwd"><gpx/>',
      422,
      'doctype-refused',
    ],
    ['a cut-off GPX file', gpx((k) => time(k)).slice(0, 3000), 422, 'bad-xml'],
    ['a GPX file without points', '<gpx version="1.1"><wpt lat="1" lon="2"/></gpx>', 422, 'no-samples'],
    [
      '1 000 columns',
      `${Array.from({ length: 1000 }, (_, k) => `c${k}`).join(',')}\n${Array.from({ length: 1000 }, () => '1').join(',')}\n`,
      413,
      'too-many-columns',
    ],
    ['a line of 5 MB', `time (s),speed (km/h)\n${'9'.repeat(5_000_000)},1\n`, 413, 'line-too-long'],
    ['a quotation mark never closed', `time (s),speed (km/h)\n1,"2\n${steady.join('\n')}`, 422, 'unclosed-quote'],
    [
      'two columns for the speed',
      `time (s),speed (km/h),Speed (km/h)\n${steady.map((row) => row.split(',').slice(0, 3).join(',')).join('\n')}`,
      422,
      'mapping-needed',
    ],
    ['time that stands still', table(Array.from({ length: 30 }, () => '5,20,50,5')), 422, 'no-samples'],
  ])('refuses %s in a sentence', async (_what, bytes, status, code) => {
    const answer = await look(Buffer.from(bytes as string));
    expect(answer.status).toBe(status);
    if (code !== undefined) expect(answer.body.error.code).toBe(code);
    expect(answer.body.error.message.length).toBeGreaterThan(20);
  });

  it.each([
    ['NaN, inf and empty cells', table(steady.map((row, k) => (k % 10 === 3 ? `${k},NaN,inf,` : row)))],
    ['time going backwards', table([...steady.slice(0, 25), '3,20,50,5', ...steady.slice(25)])],
    [
      'a column called __proto__',
      table(steady)
        .split('\n')
        .map((line, k) => `${line},${k === 0 ? '__proto__' : '1'}`)
        .join('\n'),
    ],
    [
      'quotes with line breaks',
      `time (s),speed (km/h),voltage (V),current (A),"no\nte"\n${steady.map((row) => `${row},"a\nb"`).join('\n')}`,
    ],
    [
      'thousand marks',
      `time (s);speed (km/h);voltage (V);current (A)\n${Array.from({ length: 50 }, (_, t) => `1.${String(t).padStart(3, '0')},5;20,5;50,0;5,0`).join('\n')}`,
    ],
    [
      'duplicate names of unknown columns',
      table(steady)
        .split('\n')
        .map((line, k) => `${line},${k === 0 ? 'x,x' : '1,2'}`)
        .join('\n'),
    ],
  ])('reads a log with %s, counting what was dropped', async (_what, text) => {
    const { figures } = (await look(text).expect(200)).body as QuickLookLog;
    for (const { value, standardUncertainty } of figures)
      expect([Number.isFinite(value), Number.isFinite(standardUncertainty)]).toEqual([true, true]);
    const speed = figures.find(({ key }) => key === 'meanMovingSpeed')!;
    expect(speed.value).toBeGreaterThan(19.9);
    expect(speed.value).toBeLessThan(20.6);
  });

  it('works out other tests than range, with passes and levels where they have them', async () => {
    const rows = Array.from({ length: 400 }, (_, k) => {
      const level = k < 200 ? 1 : 2;
      const speed = level === 1 ? 20 + 0.05 * Math.sin(k) : 24 + 0.05 * Math.sin(k);
      return [k, speed.toFixed(2), 50, level === 1 ? 4 : 7, level].join(',');
    });
    const csv = ['time (s),speed (km/h),voltage (V),current (A),assist level', ...rows].join('\n');
    const answer = await look(Buffer.from(csv)).field('test', 'assist-levels');
    expect(answer.status).toBe(200);
    const { test, method, levels, passes, figures } = answer.body as QuickLookLog;
    expect([test, method.name, passes]).toEqual(['assist-levels', 'assist-levels', []]);
    expect(levels.map(({ level, sameAs }) => [level, sameAs])).toEqual([
      [1, []],
      [2, []],
    ]);
    expect(levels[0]!.steadySpeed).toBeCloseTo(20, 1);
    expect(levels[1]!.consumption).toBeCloseTo(350 / 24, 1);
    expect(figures.find(({ key }) => key === 'meanPowerLevel2')!.value).toBeCloseTo(350, 1);
  });
  it('refuses a test that is none, and a context that is no JSON', async () => {
    const other = await look(ride).field('test', 'juggling');
    expect([other.status, other.body.error.message]).toEqual([400, expect.any(String)]);
    const odd = await server.api.post('/api/quick-look/log').attach('file', ride, 'r.csv').field('context', '{nope');
    expect(odd.status).toBe(400);
    await server.api.post('/api/quick-look/log').expect(400);
  });
});

describe('quick look at a table', () => {
  const compare = async (
    rows: readonly (readonly [string, number])[],
    fields: Record<string, string> = {},
  ): Promise<QuickLookTable> => {
    const csv = ['setup,value', ...rows.map((row) => row.join(','))].join('\n');
    let sent = server.api
      .post('/api/quick-look/table')
      .attach('file', Buffer.from(csv), 't.csv')
      .field('setup', 'setup')
      .field('value', 'value');
    for (const [name, value] of Object.entries(fields)) sent = sent.field(name, value);
    return (await sent.expect(200)).body as QuickLookTable;
  };

  it('agrees with independent software on two setups', async () => {
    const { a, b, welch, ratioOfGeometricMeans, hedgesG } = statistics.twoSamples;
    const { comparison } = await compare([
      ...a.map((v: number) => ['A', v] as const),
      ...b.map((v: number) => ['B', v] as const),
    ]);
    const two = comparison.twoSetups!;
    close(two.welch.difference, welch.difference);
    close(two.welch.t, welch.t);
    close(two.welch.df, welch.df);
    close(two.welch.p, welch.p);
    close(two.welch.lower, welch.ci95[0]);
    close(two.ratioOfGeometricMeans!.ratio, ratioOfGeometricMeans.ratio);
    close(two.ratioOfGeometricMeans!.upper, ratioOfGeometricMeans.ci95[1]);
    close(two.hedgesG!.g, hedgesG.g);
  });

  it('agrees with independent software on several setups', async () => {
    const { y, group, welchAnova, gamesHowell } = statistics.groups;
    const { comparison } = await compare(y.map((v: number, k: number) => [group[k], v] as const));
    const several = comparison.severalSetups!;
    close(several.welchAnova!.f, welchAnova.F);
    close(several.welchAnova!.p, welchAnova.p);
    gamesHowell.forEach((wanted: { difference: number; p: number; ci95: [number, number] }, k: number) => {
      close(several.gamesHowell[k]!.difference, wanted.difference);
      close(several.gamesHowell[k]!.p, wanted.p);
      close(several.gamesHowell[k]!.lower, wanted.ci95[0]);
    });
  });

  it('gives the same answer for the same seed', async () => {
    const rows = [1, 2, 3, 4, 5, 6].flatMap((v) => [['A', v] as const, ['B', v * 1.3] as const]);
    const [one, two] = [await compare(rows, { seed: '5' }), await compare(rows, { seed: '5' })];
    expect(one.comparison.twoSetups!.bootstrapBca).toEqual(two.comparison.twoSetups!.bootstrapBca);
  });

  it('names rows it had to skip and columns it does not find', async () => {
    const csv = 'kit;Wh/km\nA;9,1\nA;9,3\nB;9,9\nB;ten\n;8\nB;10,1\n';
    const send = (setup: string) =>
      server.api
        .post('/api/quick-look/table')
        .attach('file', Buffer.from(csv), 't.csv')
        .field('setup', setup)
        .field('value', 'Wh/km');
    const { skippedRows } = (await send('kit').expect(200)).body as QuickLookTable;
    expect(skippedRows).toEqual([
      { row: 4, reason: '"ten" in column "Wh/km" is no number' },
      { row: 5, reason: 'no setup in column "kit"' },
    ]);
    const missing = await send('motor').expect(422);
    expect(missing.body.error).toMatchObject({ code: 'unknown-column', message: expect.stringContaining('"kit"') });
  });

  it('says why one run each is no comparison', async () => {
    const answer = await server.api
      .post('/api/quick-look/table')
      .attach('file', Buffer.from('setup,value\nA,1\nB,2\n'), 't.csv')
      .field('setup', 'setup')
      .field('value', 'value')
      .expect(422);
    expect(answer.body.error.code).toBe('too-few-runs');
  });
});

describe('the server around it', () => {
  it('is healthy and describes its API', async () => {
    expect((await server.api.get('/api/health').expect(200)).body).toMatchObject({ status: 'ok', database: 'ok' });
    const { paths } = (await server.api.get('/api/openapi.json').expect(200)).body as { paths: Record<string, object> };
    expect(Object.keys(paths)).toEqual(
      expect.arrayContaining(['/api/quick-look/log', '/api/runs/{id}', '/api/trials/{id}/verdict']),
    );
  });

  it('says when a log cannot be cut at its gates, instead of giving figures of something else in silence', async () => {
    const rows = Array.from({ length: 60 }, (_, k) => `${k},${50 - k / 100},5`).join('\n');
    const answer = await server.api
      .post('/api/quick-look/log')
      .field('test', 'battery')
      .field('context', JSON.stringify({ gates: { startDistanceM: 10, finishDistanceM: 200 } }))
      .attach('file', Buffer.from(`time (s),voltage (V),current (A)\n${rows}\n`), 'bench.csv')
      .expect(200);
    const { warnings } = answer.body as { warnings: { code: string }[] };
    expect(warnings.map(({ code }) => code)).toContain('gates-without-distance');
  });

  it('names what is not there any more when something new is stored on it', async () => {
    const gone = '01900000-0000-7000-8000-0000000000ff';
    const ride = { revisionId: gone, courseId: gone, testKind: 'range' };
    expect((await server.api.post('/api/rides').send(ride)).body.error.message).toContain('no longer exists');
    const database = server.app.get<Knex>(KNEX);
    const broken = await database('setup_revision_pack')
      .insert({ revision_id: gone, pack_id: gone, position: 1 })
      .catch((error: unknown) => error);
    const sent: { status?: number; body?: { error: { code: string; message: string } } } = {};
    const response = {
      headersSent: false,
      status: (status: number) => Object.assign(sent, { status }) && response,
      json: (body: typeof sent.body) => Object.assign(sent, { body }) && response,
    };
    new ErrorFilter().catch(broken, { switchToHttp: () => ({ getResponse: () => response }) } as never);
    expect(sent).toMatchObject({ status: 409, body: { error: { code: 'not-there' } } });
    expect(sent.body!.error.message).not.toContain('deleted. Archive');
  });

  it('has one error shape, for unknown places and broken JSON too', async () => {
    expect((await server.api.get('/api/nothing').expect(404)).body.error.code).toBe('not-found');
    const broken = await server.api
      .post('/api/courses')
      .set('content-type', 'application/json')
      .send('{"name":')
      .expect(400);
    expect(broken.body.error.code).toBe('invalid-request');
    const large = await server.api
      .post('/api/courses')
      .send({ name: 'x'.repeat(2_000_000) })
      .expect(413);
    expect(large.body.error.code).toBe('too-large');
  });

  it('refuses writes from a page of another site', async () => {
    const answer = await server.api.post('/api/courses').set('origin', 'http://elsewhere.example').send({}).expect(403);
    expect(answer.body.error.code).toBe('foreign-page');
    const quiet = await server.api.post('/api/courses').set('sec-fetch-site', 'cross-site').send({}).expect(403);
    expect(quiet.body.error.code).toBe('foreign-page');
    // Its own pages, and programs that say nothing, pass to what checks the body.
    await server.api.post('/api/courses').set('sec-fetch-site', 'same-origin').send({}).expect(400);
    await server.api.post('/api/courses').send({}).expect(400);
  });

  it.each(['get', 'post', 'put', 'delete'] as const)(
    'answers no %s under a name that a foreign site mapped to it',
    async (method) => {
      const name = 'rebound.example:4180';
      const answer = await server.api[method]('/api/courses')
        .set('host', name)
        .set('origin', `http://${name}`)
        .expect(421);
      expect(answer.body.error.code).toBe('wrong-host');
      for (const host of ['localhost:4180', '127.0.0.1', '[::1]:80'])
        expect((await server.api.get('/api/health').set('host', host)).status).toBe(200);
    },
  );
});
