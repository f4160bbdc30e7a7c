import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Ajv } from 'ajv';
import type { Knex } from 'knex';
import sharp from 'sharp';
import { ZipFile } from 'yazl';
import type { PackageImported, PackageLook, Setup, SetupDetail, Trial, TrialListItem, Verdict } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { makeBench, type Bench } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { entriesOf } from '../testing/zip-entries.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';
import { DESCRIPTOR, FILES, type Descriptor } from './package-descriptor.js';
import { readCatalog, textOf } from './table-catalog.js';

let from: TestApp;
let bench: Bench;
let trial: Trial;
let thrifty: SetupDetail;
let folder: string;
let whole: Buffer;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'package-test-'));
  from = await startTestApp();
  bench = await makeBench(from);
  thrifty = await bench.addSetup('Thrifty "quoted", with commas');
  const thirsty = await bench.addSetup('Thirsty');
  const unused = await bench.addSetup('Never ridden');
  for (const [k, current] of [5.0, 5.1].entries()) await bench.addRun(makeRideCsv({ current, salt: k }), thrifty);
  for (const [k, current] of [6.0, 6.1].entries())
    await bench.addRun(makeRideCsv({ current, salt: 10 + k }), thirsty, '=cmd.csv');
  trial = await bench.addTrial('Which is thrifty?\nAnd "why"?', [thrifty, thirsty]);
  const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#444' } })
    .jpeg()
    .toBuffer();
  await from.api
    .post('/api/photos')
    .field('owner', 'setup')
    .field('ownerId', thrifty.id)
    .attach('file', picture, 'fork.jpg');
  await from.api
    .post(`/api/setups/${thrifty.id}/ratings`)
    .send({ revisionId: thrifty.revisions[0]!.id, rider: 'Bram Tellow', day: '2026-05-02', values: { noise: 4 } })
    .expect(201);
  await from.api
    .post('/api/uses')
    .send({ name: 'Rounds', criteria: [{ key: 'cost', weight: 2 }] })
    .expect(201);
  await from.api
    .put(`/api/setups/${unused.id}/purchases`)
    .send({ version: 0, lines: [{ what: '=1+1', kind: 'part', price: { amount: 3, currency: 'EUR' } }] })
    .expect(200);
  // A verdict that was looked at is remembered: before the package is made, so that both are the same.
  await verdictOf(from);
  whole = await packageOf(from);
});
afterAll(async () => {
  await from.close();
  await rm(folder, { recursive: true, force: true });
});

async function packageOf({ api }: TestApp, query: object = {}): Promise<Buffer> {
  const { body } = await api.get('/api/package').query(query).responseType('blob').expect(200);
  return body as Buffer;
}

async function zipOf(entries: ReadonlyMap<string, Buffer>): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [name, bytes] of entries) zip.addBuffer(bytes, name);
  zip.end();
  const path = join(folder, 'made.zip');
  await new Promise<void>((resolve) => zip.outputStream.pipe(createWriteStream(path)).on('close', () => resolve()));
  return readFile(path);
}
const sha256 = (bytes: Buffer | string): string => createHash('sha256').update(bytes).digest('hex');
const descriptorOf = (entries: ReadonlyMap<string, Buffer>): Descriptor =>
  JSON.parse(entries.get(DESCRIPTOR)!.toString()) as Descriptor;
/** A package with one entry changed, and its hashes made right again. */
async function forged(path: string, change: (text: string) => string): Promise<Buffer> {
  const entries = await entriesOf(whole);
  const changed = Buffer.from(change(entries.get(path)!.toString()));
  entries.set(path, changed);
  const descriptor = descriptorOf(entries);
  for (const resource of descriptor.resources)
    if (resource.path === path) Object.assign(resource, { bytes: changed.length, hash: `sha256:${sha256(changed)}` });
  entries.set(DESCRIPTOR, Buffer.from(JSON.stringify(descriptor)));
  return zipOf(entries);
}

/** Everything that is stored, by table: a hash of all rows, channels included, what is made anew left out. */
async function fingerprint({ app }: TestApp): Promise<Record<string, string>> {
  const database = app.get<Knex>(KNEX);
  const tables = await readCatalog(database);
  const prints = await Promise.all(
    tables.map(async ({ name, columns }): Promise<[string, string]> => {
      const shown = columns.map((column) => (column.type === 'file' ? `md5(${column.name})` : textOf(column)));
      const { rows } = await database.raw<{ rows: object[] }>(`select ${shown.join(', ')} from "${name}"`);
      return [
        name,
        `${rows.length} ${sha256(
          rows
            .map((row) => JSON.stringify(row))
            .sort()
            .join('\n'),
        )}`,
      ];
    }),
  );
  const { rows } = await database.raw<{ rows: object[] }>(
    'select log_id, name, encoding, sample_count, md5(samples) s, md5(pyramid) p from channel order by log_id, name',
  );
  return Object.fromEntries([...prints, ['channel', `${rows.length} ${sha256(JSON.stringify(rows))}`]]);
}
const verdictOf = async ({ api }: TestApp): Promise<Verdict> =>
  (await api.get(`/api/trials/${trial.id}/verdict`).expect(200)).body as Verdict;
const lookAt = async ({ api }: TestApp, bytes: Buffer): Promise<PackageLook> =>
  (await api.post('/api/package').attach('file', bytes, 'data.zip').expect(201)).body as PackageLook;
const takeIn = async ({ api }: TestApp, id: string, take: object[] = []): Promise<PackageImported> =>
  (await api.post(`/api/package/${id}/import`).send({ take }).expect(200)).body as PackageImported;

describe('a data package', () => {
  it('goes into an empty installation identical in every row, hash and verdict', async () => {
    const to = await startTestApp();
    try {
      const look = await lookAt(to, whole);
      expect(look.differences).toEqual([]);
      expect(look.tables.find(({ name }) => name === 'run')).toMatchObject({ added: 4, same: 0 });
      const { added, changed, kept } = await takeIn(to, look.id);
      expect(added).toBe(look.tables.reduce((sum, table) => sum + table.added, 0));
      expect([changed, kept]).toEqual([0, 0]);
      expect(await fingerprint(to)).toEqual(await fingerprint(from));
      expect(await verdictOf(to)).toEqual(await verdictOf(from));
      // Taken in once, it is here: a second time brings nothing.
      const again = await lookAt(to, whole);
      expect(again.tables.every(({ added: more, different }) => more === 0 && different === 0)).toBe(true);
      await to.api.delete(`/api/package/${again.id}`).expect(204);
      await to.api.post(`/api/package/${again.id}/import`).send({}).expect(404);
    } finally {
      await to.close();
    }
  });

  it('is described after the standard: valid by its schema, every table and file with its hash, raw logs as they came', async () => {
    const entries = await entriesOf(whole);
    const descriptor = descriptorOf(entries);
    const ajv = new Ajv({ strict: false });
    expect(ajv.validate(STANDARD, descriptor) || ajv.errorsText()).toBe(true);
    for (const { path, bytes, hash } of descriptor.resources)
      expect([path, entries.get(path)!.length, `sha256:${sha256(entries.get(path)!)}`]).toEqual([path, bytes, hash]);
    const files = entries.get(FILES)!.toString().trim().split('\r\n').slice(1);
    for (const [path, bytes, hash] of files.map((line) => line.split(',')))
      expect([entries.get(path!)!.length, sha256(entries.get(path!)!)]).toEqual([Number(bytes), hash]);
    expect(files.filter((line) => line.startsWith('logs/'))).toHaveLength(4);
    expect(
      [...entries.keys()].filter((name) => name.startsWith('logs/')).map((name) => entries.get(name)!.toString()),
    ).toContain(makeRideCsv({ current: 5.1, salt: 1 }));
    expect(entries.get('derived/runs.csv')!.toString().split('\r\n')).toHaveLength(6);
    expect(entries.get('derived/verdicts.csv')!.toString()).toContain('Thirsty');
  });

  it('of one trial holds what it stands on and nothing else; of runs likewise; channels as CSV where asked for', async () => {
    const looks = (await from.api.get('/api/trials')).body as TrialListItem[];
    expect(looks).toHaveLength(1);
    const ofTrial = await entriesOf(await packageOf(from, { trial: trial.id, channels: 'csv' }));
    expect(ofTrial.get('data/run.csv')!.toString().trim().split('\r\n')).toHaveLength(5);
    expect(ofTrial.get('data/setup.csv')!.toString()).not.toContain('Never ridden');
    expect([...ofTrial.keys()].filter((name) => name.startsWith('channels/'))).toHaveLength(4);
    const to = await startTestApp();
    try {
      const look = await lookAt(to, await packageOf(from, { trial: trial.id }));
      await takeIn(to, look.id);
      expect(await verdictOf(to)).toEqual(await verdictOf(from));
    } finally {
      await to.close();
    }
    await from.api.get('/api/package').query({ trial: thrifty.id }).expect(404);
    await from.api.get('/api/package').query({ runs: 'x' }).expect(400);
  });

  it('changes nothing here unseen: what differs stays, unless the package’s side is chosen', async () => {
    const to = await startTestApp();
    try {
      await takeIn(to, (await lookAt(to, whole)).id);
      const setup = ((await to.api.get('/api/setups')).body as Setup[]).find(({ id }) => id === thrifty.id)!;
      await to.api
        .put(`/api/setups/${setup.id}`)
        .send({ name: setup.name, notes: 'written here', version: setup.version })
        .expect(200);
      const look = await lookAt(to, whole);
      expect(look.differences).toHaveLength(1);
      expect(look.differences[0]).toMatchObject({ table: 'setup', name: setup.name });
      expect(look.differences[0]!.columns).toContainEqual({ column: 'notes', here: 'written here', package: '' });
      const notesNow = async (): Promise<string> =>
        ((await to.api.get(`/api/setups/${setup.id}`)).body as SetupDetail).notes;
      expect(await takeIn(to, look.id)).toMatchObject({ added: 0, changed: 0, kept: 1 });
      expect(await notesNow()).toBe('written here');
      const again = await lookAt(to, whole);
      const { table, key } = again.differences[0]!;
      expect(await takeIn(to, again.id, [{ table, key }])).toMatchObject({ changed: 1, kept: 0 });
      expect(await notesNow()).toBe('');
      expect(await fingerprint(to)).toEqual(await fingerprint(from));
    } finally {
      await to.close();
    }
  });

  it('taken in from two windows at once goes in once', async () => {
    const to = await startTestApp();
    try {
      const looks = [await lookAt(to, whole), await lookAt(to, whole)];
      const answers = await Promise.all(looks.map(({ id }) => to.api.post(`/api/package/${id}/import`).send({})));
      expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
      const { body } = answers.find(({ status }) => status === 409)!;
      expect((body as { error: { message: string } }).error.message).toMatch(
        /another window.*nothing was stored twice/is,
      );
      expect(await fingerprint(to)).toEqual(await fingerprint(from));
    } finally {
      await to.close();
    }
  });

  it('that meets the same thing under another identity is refused with its name, and nothing is stored', async () => {
    const to = await startTestApp();
    try {
      await to.api.post('/api/bench/bikes').send({ name: 'Round bike' }).expect(201);
      const before = await fingerprint(to);
      const look = await lookAt(to, whole);
      const { body } = await to.api.post(`/api/package/${look.id}/import`).send({}).expect(409);
      expect((body as { error: { message: string } }).error.message).toMatch(/round bike.*Nothing was stored/is);
      expect(await fingerprint(to)).toEqual(before);
    } finally {
      await to.close();
    }
  });
});

it('for those who live in spreadsheets there is a workbook: typed cells, a row of units, and no formula', async () => {
  const { body } = await from.api.get('/api/package/workbook').responseType('blob').expect(200);
  const entries = await entriesOf(body as Buffer);
  const sheets = [...entries]
    .filter(([name]) => /worksheets\/sheet\d\.xml$/.test(name))
    .map(([, bytes]) => bytes.toString());
  expect(sheets).toHaveLength(3);
  for (const sheet of sheets) {
    expect(sheet).not.toMatch(/<f[ >]/);
    expect(sheet).toMatch(/<pane[^>]*ySplit="2"/);
  }
  const book = entries.get('xl/workbook.xml')!.toString();
  expect(book).toMatch(/name="Runs".*name="Comparison".*name="Runs of trials"/s);
  const texts = entries.get('xl/sharedStrings.xml')!.toString();
  expect(texts).toContain('Wh/km');
});

it('of an earlier version, in which a column was not there yet, goes in with what such a thing begins with', async () => {
  const entries = await entriesOf(whole);
  const descriptor = descriptorOf(entries);
  const bikes = descriptor.resources.find(({ path }) => path === 'data/bike.csv')!;
  const names = bikes.schema!.fields.map(({ name }) => name);
  const at = names.indexOf('notes');
  const without = (line: string): string =>
    line
      .split(',')
      .filter((_, k) => k !== at)
      .join(',');
  const bytes = Buffer.from(entries.get(bikes.path)!.toString().split('\r\n').map(without).join('\r\n'));
  bikes.schema!.fields.splice(at, 1);
  Object.assign(bikes, { bytes: bytes.length, hash: `sha256:${sha256(bytes)}` });
  entries
    .set(bikes.path, bytes)
    .set(
      DESCRIPTOR,
      Buffer.from(JSON.stringify({ ...descriptor, ebrix: { ...descriptor.ebrix, schema: '0001-first' } })),
    );
  const to = await startTestApp();
  try {
    await takeIn(to, (await lookAt(to, await zipOf(entries))).id);
    expect(await verdictOf(to)).toEqual(await verdictOf(from));
  } finally {
    await to.close();
  }
});

describe('a hostile or damaged package is refused whole', () => {
  const refusedBecause = async (bytes: Buffer): Promise<string> => {
    const { body } = await from.api.post('/api/package').attach('file', bytes, 'data.zip').expect(422);
    return (body as { error: { message: string } }).error.message;
  };
  const withEntry = async (name: string, bytes: Buffer | null): Promise<Buffer> => {
    const entries = await entriesOf(whole);
    if (bytes) entries.set(name, bytes);
    else entries.delete(name);
    return zipOf(entries);
  };

  it('when it is no zip, is cut off, or holds no descriptor', async () => {
    expect(await refusedBecause(Buffer.from('hello'))).toMatch(/no(t a)? zip file/);
    expect(await refusedBecause(whole.subarray(0, whole.length / 2))).toMatch(/cut off|damaged/);
    expect(await refusedBecause(await withEntry(DESCRIPTOR, null))).toMatch(/no data package/);
    await from.api.post('/api/package').expect(400);
  });
  it('when an entry climbs out of it, is not listed, or is missing', async () => {
    const entries = await entriesOf(whole);
    // The writer refuses such a name: it is put into the bytes of a well-formed zip.
    entries.set('logs/aaaa.csv', Buffer.from('x'));
    const climbing = Buffer.from(
      (await zipOf(entries)).toString('latin1').replaceAll('logs/aaaa.csv', '../..//etc/pw'),
      'latin1',
    );
    expect(await refusedBecause(climbing)).toMatch(/hostile|no package has/);
    expect(await refusedBecause(await withEntry('logs/aaaa.csv', Buffer.from('x')))).toMatch(/does not list/);
    expect(await refusedBecause(await withEntry('data/figure.csv', null))).toMatch(/listed and is not in/);
  });
  it('when a hash is wrong, or a log was changed', async () => {
    const entries = await entriesOf(whole);
    entries.set('data/setup.csv', Buffer.from(entries.get('data/setup.csv')!.toString().replace('Thirsty', 'Thursty')));
    expect(await refusedBecause(await zipOf(entries))).toMatch(/setup\.csv is not what was written/);
    const log = [...entries.keys()].find((name) => name.startsWith('logs/'))!;
    expect(await refusedBecause(await withEntry(log, Buffer.from('other')))).toMatch(
      /not as long|not what was written/,
    );
  });
  it('when it unpacks to far more than it can hold', async () => {
    expect(await refusedBecause(await withEntry('logs/bomb.csv', Buffer.alloc(80 * 1024 * 1024)))).toMatch(
      /unpacks to 80 MiB/,
    );
  });
  it('when a table or a column is not known, or a number is a formula', async () => {
    const entries = await entriesOf(whole);
    const descriptor = descriptorOf(entries);
    const evil = Buffer.from('id\r\n');
    descriptor.resources.push({
      name: 'users',
      path: 'data/users.csv',
      bytes: evil.length,
      hash: `sha256:${sha256(evil)}`,
      schema: { fields: [{ name: 'id', type: 'string' }] },
    });
    entries.set('data/users.csv', evil);
    entries.set(DESCRIPTOR, Buffer.from(JSON.stringify(descriptor)));
    expect(await refusedBecause(await zipOf(entries))).toMatch(/does not have: data\/users\.csv/);
    expect(await refusedBecause(await forged('data/bike.csv', (text) => text.replace('mass_kg', 'mass_lb')))).toMatch(
      /header is not what/,
    );
    expect(await refusedBecause(await forged('data/bike.csv', (text) => text.replace(',24,', ',=24+1,')))).toMatch(
      /bike\.csv, row 2: “=24\+1” is no number for mass_kg/,
    );
  });
  it('when it is of a later version', async () => {
    const later = async (change: object): Promise<Buffer> => {
      const entries = await entriesOf(whole);
      const descriptor = descriptorOf(entries);
      entries.set(
        DESCRIPTOR,
        Buffer.from(JSON.stringify({ ...descriptor, ebrix: { ...descriptor.ebrix, ...change } })),
      );
      return zipOf(entries);
    };
    expect(await refusedBecause(await later({ formatVersion: 2 }))).toMatch(/format version 2/);
    expect(await refusedBecause(await later({ schema: '9999-later' }))).toMatch(/later version of Ebrix/);
  });
});

/** What the standard asks of a descriptor with tables, version 2: properties that are required, and the kinds of those that are used here. */
const STANDARD = {
  type: 'object',
  required: ['resources'],
  properties: {
    $schema: { type: 'string' },
    name: { type: 'string', pattern: '^([-a-z0-9._/])+$' },
    title: { type: 'string' },
    created: { type: 'string' },
    resources: {
      type: 'array',
      minItems: 1,
      uniqueItems: true,
      items: {
        type: 'object',
        required: ['name', 'path', 'schema'],
        properties: {
          name: { type: 'string', pattern: '^([-a-z0-9._/])+$' },
          path: {
            type: 'string',
            pattern: '^((?=[^./~])(?!file:)((?!\\/\\.\\.\\/)(?!\\\\)(?!:\\/\\/).)*|(http|ftp)s?:\\/\\/.*)$',
          },
          type: { const: 'table' },
          mediatype: { type: 'string', pattern: '^(.+)/(.+)$' },
          bytes: { type: 'integer' },
          hash: { type: 'string', pattern: '^([^:]+:[a-fA-F0-9]+|[a-fA-F0-9]{32}|)$' },
          schema: {
            type: 'object',
            required: ['fields'],
            properties: {
              fields: {
                type: 'array',
                minItems: 1,
                items: {
                  type: 'object',
                  required: ['name'],
                  properties: {
                    name: { type: 'string' },
                    type: {
                      enum: [
                        'string',
                        'number',
                        'integer',
                        'date',
                        'time',
                        'datetime',
                        'year',
                        'yearmonth',
                        'boolean',
                        'object',
                        'geopoint',
                        'geojson',
                        'array',
                        'list',
                        'duration',
                        'any',
                      ],
                    },
                    constraints: { type: 'object', properties: { required: { type: 'boolean' } } },
                  },
                },
              },
              primaryKey: { type: 'array', minItems: 1, items: { type: 'string' } },
              missingValues: { type: 'array', items: { type: 'string' } },
              foreignKeys: {
                type: 'array',
                minItems: 1,
                items: {
                  type: 'object',
                  required: ['fields', 'reference'],
                  properties: {
                    reference: { type: 'object', required: ['fields'], properties: { resource: { type: 'string' } } },
                  },
                },
              },
            },
          },
        },
      },
    },
  },
};
