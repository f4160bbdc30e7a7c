import type { Part, Report, ReportSpec, SetupDetail, Trial } from '@ebrix/contract';
import { REPORT_SECTIONS, reportSchema } from '@ebrix/contract';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { KNEX } from '../database/database.module.js';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { changesBetween, type Section } from './report-model.js';
import { ownWords, renderReport } from './render-report.js';

/** What the server adds to a part. */
const NOT_TYPED = new Set(['id', 'version', 'createdAt', 'updatedAt', 'archivedAt', 'usedBy', 'uses', 'photoCount']);

let server: TestApp;
let bench: Bench;
let trial: Trial;
let thrifty: SetupDetail;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  // A revision keeps its parts as they were when it was made.
  const claimed = async (part: 'kit' | 'pack', claims: object): Promise<void> => {
    const { id, version, archivedAt: _, ...rest } = bench[part] as Part & Record<string, unknown>;
    const input = Object.fromEntries(Object.entries(rest).filter(([key]) => !NOT_TYPED.has(key)));
    await server.api
      .put(`/api/bench/${part}s/${id}`)
      .send({ ...input, version, claims })
      .expect(200);
  };
  await claimed('kit', { massKg: 3.2, powerW: 250, payloadKg: 20, rangeKm: 60, way: 'light' });
  await claimed('pack', { massKg: 3.5, chargeTimeH: 4, cycles: 800, warrantyMonths: 24 });
  thrifty = await bench.addSetup('Thrifty <b>hub</b>');
  const thirsty = await bench.addSetup('Thirsty');
  for (const [k, current] of [5.0, 5.1].entries()) await bench.addRun(makeRideCsv({ current, salt: k }), thrifty);
  for (const [k, current] of [6.0, 6.1].entries()) await bench.addRun(makeRideCsv({ current, salt: 10 + k }), thirsty);
  trial = await bench.addTrial('Which is thrifty?', [thrifty, thirsty]);
  await server.api
    .post(`/api/setups/${thrifty.id}/ratings`)
    .send({ revisionId: thrifty.revisions[0]!.id, rider: 'Bram Tellow', day: '2026-05-02', values: { noise: 4 } })
    .expect(201);
});
afterAll(() => server.close());

const spec = (change: Partial<ReportSpec> = {}): ReportSpec => ({
  trialId: trial.id,
  title: 'Thrifty or thirsty?',
  form: 'full',
  units: 'metric',
  withNames: false,
  useIds: [],
  parts: REPORT_SECTIONS.map((section) => ({ kind: 'section', section })),
  ...change,
});
const preview = async (of: ReportSpec): Promise<string> =>
  ((await server.api.post('/api/reports/preview').send(of).expect(200)).body as { html: string }).html;
const issue = async (of: ReportSpec, follows: string | null = null): Promise<Report> =>
  reportSchema.parse(
    (await server.api.post('/api/reports').send({ spec: of, by: 'Ottoline Vask', follows }).expect(201)).body,
  );
const htmlOf = async ({ id }: Report): Promise<string> =>
  (await server.api.get(`/api/reports/${id}/html`).expect(200)).text;

describe('a report', () => {
  it('tells question, answer, setups, figures, waived checks and methods, in the order and units that were wanted', async () => {
    const html = await preview(spec());
    expect(html).toContain('Thrifty &lt;b&gt;hub&lt;/b&gt; uses 16 % less energy per km than Thirsty, and it matters.');
    expect(html).not.toContain('<b>hub');
    expect(html).toMatch(/4 runs on 1 outing/);
    expect(html).toContain('For a test only. (Ottoline Vask)');
    expect(html).toMatch(/<td>range<\/td><td>1\.\d<\/td>/);
    expect(html).toMatch(/check your local rules/i);
    expect(html.indexOf('id="answer"')).toBeLessThan(html.indexOf('id="runs"'));
    const turned = await preview(
      spec({
        units: 'imperial',
        parts: [
          { kind: 'section', section: 'figures' },
          { kind: 'section', section: 'answer' },
        ],
      }),
    );
    expect(turned.indexOf('id="figures"')).toBeLessThan(turned.indexOf('id="answer"'));
    expect(turned).toMatch(/energy per mile/);
    expect(turned).toMatch(/Wh\/mi/);
    expect(turned).not.toContain('id="runs"');
  });

  it('is one file: no script, nothing from elsewhere, every table with its heading', async () => {
    const html = await preview(
      spec({
        parts: [
          ...spec().parts,
          { kind: 'text', markdown: '![x](http://far.example/x.png) <script>alert(1)</script>' },
        ],
      }),
    );
    expect(html).not.toMatch(/<script|<link|<img[^>]+src="(?!data:)|@import|url\(/);
    expect((html.match(/<table>/g) ?? []).length).toBe((html.match(/<caption>/g) ?? []).length);
    expect(html.length).toBeLessThan(3_000_000);
  });

  it('says of made-up setups that they are, and not of one’s own beside them', async () => {
    const mark = (setups: string[]): Promise<unknown> =>
      server.app
        .get<Knex>(KNEX)('setting')
        .insert({ key: 'made-up', value: JSON.stringify({ setups }) })
        .onConflict('key')
        .merge();
    expect(await preview(spec())).not.toContain('made-up example');
    await mark([thrifty.id]);
    expect(await preview(spec())).toContain('made-up example');
    await mark(['01890a5d-ac96-774b-bcce-b302099a8057']);
    expect(await preview(spec())).not.toContain('made-up example');
  });

  it('tells of life after fitting: faults of the kit, wear, and what riders said when asked again', async () => {
    const section = { parts: [{ kind: 'section' as const, section: 'life' as const }] };
    expect(await preview(spec(section))).toMatch(/ridden with this kit/);
    const entry = (day: string, odometerKm: number, details: object) => ({
      id: uuidv7(),
      subject: { kind: 'setup', id: thrifty.id },
      day,
      odometerKm,
      by: 'Bram Tellow',
      details,
    });
    await server.api
      .post('/api/logbook/entries')
      .send({
        entries: [
          entry('2025-05-01', 0, { kind: 'fitted' }),
          entry('2025-08-01', 800, { kind: 'fault', part: 'chain', effect: 'stopped', words: '<script>x</script>' }),
          entry('2025-06-01', 200, { kind: 'inspection', part: 'chain', value: 0.1 }),
          entry('2026-04-30', 1500, { kind: 'inspection', part: 'chain', value: 0.4 }),
          entry('2026-05-01', 1500, {
            kind: 'follow-up',
            stage: 'year',
            answers: { trust: 4 },
            words: 'It just <b>starts</b>.',
          }),
        ],
      })
      .expect(200);
    const html = await preview(spec(section));
    expect(html).toMatch(/One fault in 1 50\d km/);
    expect(html).toMatch(/Chain: some .* km left \(/);
    expect(html).toContain('It just &lt;b&gt;starts&lt;/b&gt;.');
    expect(html).toContain('Bram Tellow');
    expect(await preview(spec({ ...section, form: 'public' }))).not.toContain('Bram Tellow');
  });

  it('sets every claim of a seller beside what was found, or says what it needs', async () => {
    const html = await preview(spec({ parts: [{ kind: 'section', section: 'claims' }] }));
    const rows = html
      .split('<tr>')
      .map((row) => [...row.matchAll(/<t[dh][^>]*>([^<]*)</g)].map(([, cell]) => cell!))
      .filter(([of]) => of?.startsWith('A '));
    const found = new Map(rows.map(([of, what, , text, claim]) => [`${of!.split(': ')[1]} ${what}`, [text, claim]]));
    expect(found.get('Corvane R2 Mass')).toEqual(['4 kg on the scale', 'not met']);
    expect(found.get('Fennock 52 Mass')).toEqual(['3.5 kg on the scale', 'met']);
    expect(found.get('Corvane R2 Power')).toEqual(['needs two climbs with a log', '–']);
    expect(found.get('Corvane R2 Payload')).toEqual(['no run with its payload written down', '–']);
    expect(found.get('Corvane R2 Range')![0]).toMatch(/^not measured in this trial /);
    expect(found.get('Fennock 52 Charge time')).toEqual(['needs two battery tests with a charge', '–']);
    expect(found.get('Fennock 52 Full cycles')![0]).toMatch(/needs two battery tests/);
    // Fitted on 2025-05-01, one fault in August.
    expect(found.get('Fennock 52 Warranty, months')![0]).toMatch(/^one fault within it so far; it .* 2027-05-01$/);
  });

  it('leaves names of people out of the public one unless ticked', async () => {
    expect(await preview(spec({ form: 'public' }))).not.toMatch(/Ottoline|Bram/);
    expect(await preview(spec({ form: 'public', withNames: true }))).toMatch(/Bram Tellow/);
    const issued = await issue(spec({ form: 'public', title: 'For all' }));
    expect(await htmlOf(issued)).not.toMatch(/Ottoline|Bram/);
  });

  it('stays as it was issued; a later version keeps its number and lists what is told otherwise', async () => {
    const first = await issue(spec());
    expect(first).toMatchObject({ version: 1, changes: [] });
    const before = await htmlOf(first);
    await bench.addRun(makeRideCsv({ current: 5.05, salt: 30 }), thrifty);
    expect(await htmlOf(first)).toBe(before);
    const second = await issue(spec(), first.id);
    expect(second).toMatchObject({ number: first.number, version: 2, follows: first.id });
    expect(second.fingerprint).not.toBe(first.fingerprint);
    expect(second.changes.some(({ now }) => now?.includes('5 runs on 1 outing'))).toBe(true);
    expect(await htmlOf(second)).toContain('Changed since the version before');
    const third = await issue(spec(), second.id);
    expect(third).toMatchObject({ version: 3, fingerprint: second.fingerprint, changes: [] });
    const list = (await server.api.get('/api/reports').expect(200)).body as Report[];
    expect(list.filter(({ number }) => number === first.number).map(({ version }) => version)).toEqual([3, 2, 1]);
  });

  it('issued in two windows at once gets two numbers', async () => {
    const both = await Promise.all([issue(spec({ title: 'One' })), issue(spec({ title: 'Two' }))]);
    expect(new Set(both.map(({ number }) => number)).size).toBe(2);
  });

  it.each([
    ['no section', { parts: [] }],
    [
      'a section twice',
      {
        parts: [
          { kind: 'section', section: 'answer' },
          { kind: 'section', section: 'answer' },
        ],
      },
    ],
    ['no title', { title: ' ' }],
    ['an unknown form', { form: 'glossy' }],
  ])('is refused with %s', async (_what, change) => {
    await server.api
      .post('/api/reports/preview')
      .send({ ...spec(), ...change })
      .expect(400);
  });
  it('of what is gone is refused, and nothing is stored', async () => {
    const gone = '01890a5d-ac96-774b-bcce-b302099a8057';
    await server.api
      .post('/api/reports')
      .send({ spec: spec({ trialId: gone }), by: 'Bram Tellow' })
      .expect(404);
    await server.api.post('/api/reports').send({ spec: spec(), by: 'Bram Tellow', follows: gone }).expect(404);
    await server.api
      .post('/api/reports')
      .send({ spec: spec({ useIds: [gone] }), by: 'Bram Tellow' })
      .expect(404);
    await server.api.get(`/api/reports/${gone}/html`).expect(404);
  });
});

describe('what lies behind', () => {
  it('writes own words as Markdown, tags as text, and only links that lead to pages', () => {
    expect(ownWords('**so** <i onload=x>')).toBe('<p><strong>so</strong> &lt;i onload=x&gt;</p>\n');
    expect(ownWords('[a](javascript:alert(1)) [b](https://e.example)')).toMatch(
      /\[a\].*<a href="https:\/\/e\.example">b<\/a>/,
    );
    expect(ownWords('[a](data:text/html,x)')).not.toContain('<a');
  });
  it('a title cannot leave the style sheet or the head', () => {
    const head = { number: 'Report 1', day: '2026-04-01', by: '', fingerprint: 'f', changes: [] };
    const html = renderReport({ ...head, title: '"; } body { display: none } </style><script>' }, []);
    expect(html).not.toContain('<script>');
    expect(html).not.toMatch(/content: ""; \}/);
  });
  it('finds lines that changed, came and went', () => {
    const of = (rows: string[][]): Section[] => [
      { key: 'money', title: 'Cost', blocks: [{ kind: 'table', caption: 'Cost', head: ['', ''], rows, numeric: [] }] },
    ];
    expect(
      changesBetween(
        of([
          ['A', '1'],
          ['B', '2'],
        ]),
        of([
          ['A', '3'],
          ['C', '4'],
        ]),
      ),
    ).toEqual([
      { where: 'Cost, A', before: '1', now: '3' },
      { where: 'Cost, B', before: '2', now: null },
      { where: 'Cost, C', before: null, now: '4' },
    ]);
  });
});
