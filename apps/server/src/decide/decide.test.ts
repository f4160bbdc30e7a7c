import { v7 as uuidv7 } from 'uuid';
import { setupCostsSchema, weighUpSchema } from '@ebrix/contract';
import type { SetupCosts, SetupDetail, StoredMoneyBook, UseDto, Weighed, WeighUp } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
let thrifty: SetupDetail;
let thirsty: SetupDetail;
let unridden: SetupDetail;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  thrifty = await bench.addSetup('Thrifty');
  thirsty = await bench.addSetup('Thirsty');
  unridden = await bench.addSetup('Unridden');
  for (const [k, current] of [5.0, 5.1, 4.95].entries()) await bench.addRun(makeRideCsv({ current, salt: k }), thrifty);
  for (const [k, current] of [6.0, 6.1].entries()) await bench.addRun(makeRideCsv({ current, salt: 10 + k }), thirsty);
});
afterAll(() => server.close());

const revisionOf = ({ revisions }: SetupDetail): string => revisions[0]!.id;
const USE = {
  name: 'Flat errands',
  criteria: [
    { key: 'netConsumption', weight: 3 },
    { key: 'addedMass', weight: 1 },
  ],
  mustHaves: [{ key: 'netConsumption', atMost: 60 }],
};
const weighUp = async (use: object, setups: readonly SetupDetail[]): Promise<WeighUp> =>
  weighUpSchema.parse(
    (
      await server.api
        .post('/api/weigh-up')
        .send({ use, revisionIds: setups.map(revisionOf) })
        .expect(200)
    ).body,
  );

describe('uses', () => {
  it('are kept with what counts, changed by one window at a time, archived, and never two of one name', async () => {
    const use = (await server.api.post('/api/uses').send(USE).expect(201)).body as UseDto;
    expect(use).toMatchObject({ name: 'Flat errands', version: 1, criteria: [{ weight: 3, worth: null }, {}] });
    await server.api
      .post('/api/uses')
      .send({ ...USE, name: 'flat ERRANDS' })
      .expect(409);
    const change = { ...USE, notes: 'with a basket' };
    await server.api
      .put(`/api/uses/${use.id}`)
      .send({ ...change, version: 1 })
      .expect(200);
    const clash = await server.api
      .put(`/api/uses/${use.id}`)
      .send({ ...USE, version: 1 })
      .expect(409);
    expect((clash.body as { error: { details: { current: UseDto } } }).error.details.current.notes).toBe(
      'with a basket',
    );
    await server.api.put(`/api/uses/${use.id}/archive`).send({ version: 2, archived: true }).expect(200);
    const again = (await server.api.post('/api/uses').send(USE).expect(201)).body as UseDto;
    // The former one cannot come back beside it.
    await server.api.put(`/api/uses/${use.id}/archive`).send({ version: 3, archived: false }).expect(409);
    await server.api.delete(`/api/uses/${again.id}`).expect(204);
    await server.api.put(`/api/uses/${use.id}/archive`).send({ version: 3, archived: false }).expect(200);
  });

  it.each([
    [
      'corners that go back',
      {
        criteria: [
          {
            key: 'netConsumption',
            weight: 1,
            worth: [
              { at: 9, worth: 1 },
              { at: 5, worth: 0 },
            ],
          },
        ],
      },
    ],
    ['one corner', { criteria: [{ key: 'netConsumption', weight: 1, worth: [{ at: 9, worth: 1 }] }] }],
    ['nothing that is known', { criteria: [{ key: 'charm', weight: 1 }] }],
    ['a negative weight', { criteria: [{ key: 'cost', weight: -1 }] }],
    [
      'the same twice',
      {
        criteria: [
          { key: 'cost', weight: 1 },
          { key: 'cost', weight: 2 },
        ],
      },
    ],
    ['a bound without a number', { mustHaves: [{ key: 'cost' }] }],
    ['a bound turned round', { mustHaves: [{ key: 'cost', atLeast: 9, atMost: 1 }] }],
  ])('are refused with %s', async (_what, change) => {
    await server.api
      .post('/api/uses')
      .send({ ...USE, name: 'Refused', ...change })
      .expect(400);
  });
});

describe('weighing up', () => {
  it('stands on runs ridden alike, names the one that leads, and leaves out by name what was not ridden', async () => {
    const { setups, criteria, weighed } = await weighUp({ criteria: USE.criteria, mustHaves: USE.mustHaves }, [
      thrifty,
      thirsty,
      unridden,
    ]);
    expect(setups.map(({ letter, standings }) => [letter, standings['netConsumption']?.n])).toEqual([
      ['A', 3],
      ['B', 2],
      ['C', undefined],
    ]);
    expect(criteria[0]!.basis).toBe('Range and consumption on Level round; A 3, B 2, C 0 runs');
    expect(weighed.setups[0]).toMatchObject({ name: 'Thrifty', meetsAll: expect.any(Number) as number });
    expect(weighed.setups[0]!.isBest).toBeGreaterThan(0.95);
    expect(weighed.leftOut).toEqual([{ name: 'Unridden', missing: ['netConsumption'] }]);
    expect(weighed.words).toMatch(/^Thrifty in .* of 100, mainly for net consumption/);
  });
  it('fails all on a bound nobody keeps, and takes a figure on a course of its own', async () => {
    const bound = { key: 'netConsumption', atMost: 1, courseId: bench.course.id };
    const { weighed, mustHaves } = await weighUp({ criteria: USE.criteria, mustHaves: [bound] }, [thrifty, thirsty]);
    // On few runs the scatter itself is hardly known: a tail of the draws is far off.
    expect(weighed.noneMeets).toBeGreaterThan(0.99);
    expect(mustHaves[0]!.label).toBe('Net consumption on Level round');
    expect(weighed.words).toBe('No setup keeps every bound; most often broken: net consumption on Level round.');
  });
  it('takes the weather a setup was ridden in for a bound; one that nobody rode in the cold does not keep it', async () => {
    // All were out at 12 °C: a frost is not kept by any, a cool day by those that were out.
    const criteria = [{ key: 'addedMass', weight: 1 }];
    const frost = await weighUp({ criteria, mustHaves: [{ key: 'coldestRidden', atMost: 0 }] }, [thrifty, thirsty]);
    expect(frost.setups[0]!.standings['coldestRidden']).toEqual({ value: 12, standardUncertainty: 1 });
    expect(frost.mustHaves[0]).toMatchObject({ label: 'Coldest air ridden in', unit: '°C' });
    expect(frost.weighed.noneMeets).toBeGreaterThan(0.99);
    const cool = [
      { key: 'coldestRidden', atMost: 15 },
      { key: 'warmestRidden', atLeast: 8 },
    ];
    const { weighed } = await weighUp({ criteria, mustHaves: cool }, [thrifty, unridden]);
    expect(weighed.setups.find(({ name }) => name === 'Thrifty')!.meetsAll).toBeGreaterThan(0.98);
    expect(weighed.leftOut.map(({ name }) => name)).toContain('Unridden');
  });
  it('is told which setup is gone', async () => {
    await server.api
      .post('/api/weigh-up')
      .send({ use: { criteria: [] }, revisionIds: ['01890a5d-ac96-774b-bcce-b302099a8057'] })
      .expect(404);
  });
  it('does the same on numbers of one’s own: 0.7 · 1 + 0.3 · 0 against 0.7 · 0.5 + 0.3 · 1', async () => {
    const worth = [
      { at: 0, worth: 0 },
      { at: 10, worth: 1 },
    ];
    const sure = (value: number) => ({ value, standardUncertainty: 0 });
    const answer = (
      await server.api
        .post('/api/quick-look/weigh-up')
        .send({
          criteria: [
            { key: 'hill', weight: 7, worth },
            { key: 'thrift', weight: 3, worth },
          ],
          candidates: [
            { name: 'A', standings: { hill: sure(10), thrift: sure(0) } },
            { name: 'B', standings: { hill: sure(5), thrift: sure(10) } },
          ],
        })
        .expect(200)
    ).body as Weighed;
    expect(answer.setups.map(({ name, isBest, worth: { mean } }) => [name, isBest, Number(mean.toFixed(9))])).toEqual(
      [
        ['A', 1, 0.7],
        ['B', 0, 0.65],
      ].sort((a, b) => Number(b[2]) - Number(a[2])),
    );
    // The hill leads while 0.5 · w > 1 · 3.
    expect(answer.ranges[0]).toMatchObject({ key: 'hill', low: 6, lowBy: 'B', high: null });
  });
});

describe('money', () => {
  const costsOf = async ({ id }: SetupDetail): Promise<SetupCosts> =>
    setupCostsSchema.parse((await server.api.get(`/api/setups/${id}/costs`).expect(200)).body);

  it('begins with the parts, takes a list of one’s own, and says from when it has paid', async () => {
    const before = await costsOf(thrifty);
    expect(before).toMatchObject({ isOwn: false, version: 0, sums: { conversion: 0 }, reason: null });
    expect(before.sums.unpriced).toEqual(['Corvane R2', 'Fennock 52']);
    const lines = [
      { what: 'Corvane R2', kind: 'part', price: { amount: 412.5, currency: 'EUR' } },
      { what: 'Carriage', kind: 'shipping', price: { amount: 20, currency: 'GBP' } },
      { what: 'Torque wrench', kind: 'tool', price: { amount: 60, currency: 'EUR' }, sharedBy: 3 },
    ];
    const saved = (await server.api.put(`/api/setups/${thrifty.id}/purchases`).send({ version: 0, lines }).expect(200))
      .body as SetupCosts;
    expect(saved).toMatchObject({ isOwn: true, version: 1, sums: { conversion: 432.5, unrated: ['GBP'] } });
    await server.api.put(`/api/setups/${thrifty.id}/purchases`).send({ version: 0, lines: [] }).expect(409);
    const { book, version } = (await server.api.get('/api/money').expect(200)).body as StoredMoneyBook;
    const withAlternative = {
      ...book,
      rates: [{ currency: 'GBP', inHome: 1.2, day: '2026-03-02' }],
      alternatives: [{ name: 'Ready-made', price: 0, perHundredKm: [20, 30] }],
    };
    await server.api.put('/api/money').send({ version, book: withAlternative }).expect(200);
    await server.api.put('/api/money').send({ version, book }).expect(409);
    const after = await costsOf(thrifty);
    expect(after.sums).toMatchObject({ conversion: 456.5, unrated: [] });
    expect(after.running!.parts.map(({ what }) => what)).toEqual(['electricity', 'chain', 'brake pads', 'tyres']);
    expect(after.running!.basis).toMatch(/^3 rides of revision 1; an ordinary charger; without wear of the pack/);
    expect(after.payback[0]).toMatchObject({ against: 'Ready-made', kind: 'after' });
    expect(after.payback[0]!.words).toMatch(/^Has paid against Ready-made after about [\d ]+ km/);
  });
  it('says why there are no running costs, and refuses what is no price', async () => {
    expect(await costsOf(unridden)).toMatchObject({
      running: null,
      reason: 'No rides yet: what 100 km take is not known.',
      payback: [],
    });
    for (const price of [
      { amount: -1, currency: 'EUR' },
      { amount: 1, currency: 'eur' },
    ])
      await server.api
        .put(`/api/setups/${unridden.id}/purchases`)
        .send({ version: 0, lines: [{ what: 'x', kind: 'part', price }] })
        .expect(400);
    expect((await costsOf(unridden)).version).toBe(0);
  });
});

describe('what the logbook saw', () => {
  const subjectOf = ({ id }: SetupDetail) => ({ kind: 'setup', id });
  const write = (
    setup: SetupDetail,
    entries: readonly (readonly [day: string, odometerKm: number, details: object])[],
  ) =>
    server.api
      .post('/api/logbook/entries')
      .send({
        entries: entries.map(([day, odometerKm, details]) => ({
          id: uuidv7(),
          subject: subjectOf(setup),
          day,
          odometerKm,
          details,
        })),
      })
      .expect(200);
  const fault = { kind: 'fault', part: 'spokes', effect: 'limped' };

  it('a kit of which nobody writes anything down has no rate of faults', async () => {
    const { setups } = await weighUp({ criteria: [{ key: 'faultRate', weight: 1 }], mustHaves: [] }, [thrifty]);
    expect(setups[0]!.standings['faultRate']).toBeUndefined();
  });
  it('faults of the kit count in a use, wherever it was fitted; none in few kilometres is not never', async () => {
    await write(thrifty, [
      ['2025-05-01', 0, { kind: 'fitted' }],
      ['2025-06-01', 300, fault],
      ['2025-07-01', 700, fault],
      ['2026-05-01', 2000, { kind: 'note', words: 'still rides' }],
    ]);
    const two = (await weighUp({ criteria: [{ key: 'faultRate', weight: 1 }], mustHaves: [] }, [thrifty])).setups[0]!;
    // Jeffreys: (2 + 0.5) ÷ 2 in 1 000 km.
    expect(two.standings['faultRate']!.value).toBeCloseTo(1.25, 1);
    expect(two.standings['faultRate']!.standardUncertainty).toBeGreaterThan(0.7);
    const { weighed } = await weighUp(
      { criteria: [{ key: 'faultRate', weight: 1 }], mustHaves: [{ key: 'faultRate', atMost: 0.01 }] },
      [thrifty],
    );
    expect(weighed.noneMeets).toBeGreaterThan(0.9);
  });
  it('wear parts last as long as they were seen to, on bikes with the same kind of motor', async () => {
    const costsOf = async ({ id }: SetupDetail): Promise<SetupCosts> =>
      setupCostsSchema.parse((await server.api.get(`/api/setups/${id}/costs`).expect(200)).body);
    const before = (await costsOf(thrifty)).running!;
    await write(thirsty, [
      ['2025-05-01', 0, { kind: 'fitted' }],
      ['2025-08-01', 380, { kind: 'replacement', part: 'brake-pads', why: 'worn' }],
      ['2025-11-01', 820, { kind: 'replacement', part: 'brake-pads', why: 'worn' }],
      ['2026-02-01', 1190, { kind: 'replacement', part: 'brake-pads', why: 'failed' }],
      ['2026-04-01', 1610, { kind: 'replacement', part: 'brake-pads', why: 'worn' }],
    ]);
    const after = (await costsOf(thrifty)).running!;
    const cost = ({ parts }: typeof after): number => parts.find(({ what }) => what === 'brake pads')!.value;
    expect(cost(after)).toBeGreaterThan(2 * cost(before));
    expect(after.basis).toContain('brake pads by what the logbook saw');
  });
});
