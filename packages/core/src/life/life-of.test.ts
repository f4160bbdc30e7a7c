import {
  lifeOf,
  socketUse,
  USUAL_SERVICE,
  USUAL_STAGES,
  watchedLife,
  type LifeDetails,
  type LifeEntry,
  type LifeFacts,
} from './index.js';

let n = 0;
const entry = (day: string, details: LifeDetails, odometerKm: number | null = null): LifeEntry => ({
  id: String(n++),
  day,
  odometerKm,
  details,
});
const fault = (day: string, odometerKm: number | null = null): LifeEntry =>
  entry(
    day,
    {
      kind: 'fault',
      part: 'spokes',
      symptom: null,
      words: '',
      effect: 'limped',
      daysOff: 2,
      cause: '',
      cure: '',
      underWarranty: false,
    },
    odometerKm,
  );
const fitted = (day: string, odometerKm: number | null = null): LifeEntry =>
  entry(day, { kind: 'fitted', use: 'bread round', words: '' }, odometerKm);
const plain: LifeFacts = {
  entries: [],
  rides: [],
  drive: 'hub',
  isOutOfSight: false,
  fittedOn: null,
  told: null,
  pack: null,
};
const settings = { items: USUAL_SERVICE, stages: USUAL_STAGES, lowestPackShare: 0.7 };

describe('a kit that is watched', () => {
  it('counts from fitting: readings before it are the bike’s, rides of that day the kit’s', () => {
    const { km, faults } = watchedLife({
      ...plain,
      entries: [
        fault('2026-05-01', 3600),
        fitted('2026-03-01', 3100),
        entry('2026-01-01', { kind: 'odometer', way: 'reading', km: 3000, wheelFactor: null }),
      ],
      rides: [{ day: '2026-03-01', km: 25 }],
    });
    expect(km).toBe(500);
    expect(faults).toMatchObject([{ km: 500, part: 'spokes', day: '2026-05-01' }]);
  });
  it('rides alone are enough; a fault lies between them', () => {
    const { km, faults } = watchedLife({
      ...plain,
      entries: [fitted('2026-03-01'), fault('2026-03-15')],
      rides: [
        { day: '2026-03-01', km: 40 },
        { day: '2026-03-29', km: 60 },
      ],
    });
    expect(km).toBe(100);
    expect(faults[0]!.km).toBeCloseTo(70, 6);
  });
  it('ends where it was taken off', () =>
    expect(
      watchedLife({
        ...plain,
        entries: [
          fitted('2026-03-01', 0),
          entry('2026-04-01', { kind: 'taken-off', words: '' }, 400),
          entry('2026-06-01', { kind: 'odometer', way: 'reading', km: 900, wheelFactor: null }),
        ],
      }).km,
    ).toBe(400));
  it('out of sight: km as told, faults by their own km', () => {
    const told = { ...plain, isOutOfSight: true, fittedOn: '2025-09-01', told: { km: 2400, day: '2026-09-01' } };
    const watched = watchedLife({ ...told, entries: [fault('2026-01-10', 310), fault('2026-03-01')] });
    expect(watched.km).toBe(2400);
    expect(watched.faults[0]!.km).toBe(310);
    expect(watched.faults[1]!.km).toBeGreaterThan(310);
    expect(watchedLife({ ...told, fittedOn: null, entries: [] }).km).toBe(2400);
  });
  it('out of sight without a word on how far: what is written down counts from fitting', () => {
    const { km, faults } = watchedLife({
      ...plain,
      isOutOfSight: true,
      fittedOn: '2025-09-01',
      entries: [
        fault('2026-01-10', 310),
        entry('2026-05-01', { kind: 'odometer', way: 'reading', km: 900, wheelFactor: null }),
      ],
    });
    expect(km).toBe(900);
    expect(faults).toMatchObject([{ km: 310 }]);
  });
  it('taken off for the winter and fitted again: only its own times count, and faults between are not its', () => {
    const {
      km,
      faults,
      fitted: since,
    } = watchedLife({
      ...plain,
      entries: [
        fitted('2025-05-01', 1000),
        fault('2025-06-01', 1200),
        entry('2025-11-01', { kind: 'taken-off', words: '' }, 1500),
        fault('2025-12-01', 1700),
        fitted('2026-03-01', 2000),
        fault('2026-04-01', 2100),
        entry('2026-05-01', { kind: 'odometer', way: 'reading', km: 2300, wheelFactor: null }),
      ],
    });
    expect(km).toBe(800);
    expect(faults.map(({ km: at }) => at)).toEqual([200, 600]);
    expect(since).toEqual({ day: '2026-03-01', km: 2000 });
  });
  it('off and on again the same day goes on', () =>
    expect(
      watchedLife({
        ...plain,
        entries: [
          fitted('2025-05-01', 0),
          entry('2025-08-01', { kind: 'taken-off', words: '' }, 400),
          fitted('2025-08-01', 400),
          entry('2025-12-01', { kind: 'odometer', way: 'reading', km: 900, wheelFactor: null }),
        ],
      }),
    ).toMatchObject({ km: 900, takenOff: null }));
  it('what broke before it was fitted is not its fault', () =>
    expect(
      watchedLife({
        ...plain,
        entries: [
          entry('2025-01-01', { kind: 'odometer', way: 'reading', km: 500, wheelFactor: null }),
          fault('2025-02-01', 700),
          fitted('2025-05-01', 1000),
          entry('2025-12-01', { kind: 'odometer', way: 'reading', km: 1600, wheelFactor: null }),
        ],
      }),
    ).toMatchObject({ km: 600, faults: [] }));
  it('nothing known is nothing ridden', () =>
    expect(watchedLife(plain)).toMatchObject({ km: 0, fitted: null, faults: [] }));
});

describe('what follows from it today', () => {
  it('services, wear since the part was new, follow-ups and charges', () => {
    const inspection = (day: string, value: number): LifeEntry =>
      entry(day, { kind: 'inspection', part: 'chain', value, isFine: true, words: '' });
    const charge = (day: string, km: number, kWh: number): LifeEntry =>
      entry(day, { kind: 'charge', kWh, hours: null, extent: 'full' }, km);
    const life = lifeOf(
      {
        ...plain,
        entries: [
          fitted('2026-01-01', 0),
          inspection('2026-03-01', 0.7),
          entry('2026-03-02', { kind: 'replacement', part: 'chain', why: 'worn', words: '' }, 900),
          inspection('2026-05-01', 0.3),
          entry('2026-04-20', { kind: 'service', items: ['spokes'], words: '' }),
          entry('2026-02-15', {
            kind: 'follow-up',
            stage: 'first-100-km',
            answers: { trust: 4 },
            changed: '',
            words: '',
          }),
          charge('2026-02-01', 500, 0.4),
          charge('2026-02-08', 540, 0.5),
          charge('2026-02-12', 580, 0.52),
          charge('2026-02-16', 620, 0.48),
          entry('2026-05-02', { kind: 'odometer', way: 'reading', km: 1700, wheelFactor: null }),
        ],
      },
      settings,
      '2026-05-02',
    );
    const chain = life.wear.find(({ part }) => part === 'chain')!.forecast;
    expect(chain.readings).toBe(1);
    expect(chain.kmLeft!).toBeGreaterThan(900);
    expect(life.due.find(({ item }) => item.id === 'chain-new')).toMatchObject({ kmLeft: 2700 });
    expect(life.due.find(({ item }) => item.id === 'spokes')!.kmLeft!).toBeGreaterThan(600);
    expect(life.followUps.map(({ state }) => state)).toEqual(['answered', 'later', 'later']);
    expect(life.socket!.kWhPer100Km).toBeCloseTo(1.25, 9);
    expect(life.socket!.interval95![0]).toBeLessThan(1.25);
    expect(life.km).toBe(1700);
    expect(life.kmPerWeek!).toBeGreaterThan(50);
  });
  it('a kit taken off has nothing due', () =>
    expect(
      lifeOf(
        { ...plain, entries: [fitted('2025-01-01', 0), entry('2025-03-01', { kind: 'taken-off', words: '' }, 500)] },
        settings,
        '2026-05-02',
      ),
    ).toMatchObject({ due: [], followUps: [] }));
  it('a pack ages over the cycles that its distance makes', () => {
    const life = lifeOf(
      {
        ...plain,
        entries: [
          fitted('2025-05-01', 0),
          entry('2026-05-01', { kind: 'odometer', way: 'reading', km: 8000, wheelFactor: null }),
        ],
        pack: {
          chemistry: 'li-ion-nmc',
          nominalWh: 400,
          whPerKm: 10,
          readings: [
            { day: '2025-05-01', share: 1, kind: 'test', airTemperatureC: 20 },
            { day: '2025-11-01', share: 0.95, kind: 'test', airTemperatureC: 20 },
            { day: '2026-05-01', share: 0.9, kind: 'test', airTemperatureC: 20 },
          ],
        },
      },
      settings,
      '2026-05-01',
    );
    expect(life.cycles).toBeCloseTo(200, 6);
    expect(life.ageing!.fadePer100).toBeCloseTo(5, 1);
  });
});

it('another pack begins its own cycles: what the old one gave is no fading of it', () => {
  const gave = (day: string, value: number, km: number): LifeEntry =>
    entry(day, { kind: 'inspection', part: 'pack', value, isFine: true, words: '' }, km);
  const life = lifeOf(
    {
      ...plain,
      entries: [
        fitted('2024-05-01', 0),
        gave('2024-05-02', 98, 10),
        gave('2025-05-01', 70, 9000),
        entry('2025-05-02', { kind: 'replacement', part: 'pack', why: 'worn', words: '' }, 9000),
        gave('2025-05-03', 99, 9010),
        gave('2025-12-01', 98, 13_000),
      ],
      pack: { chemistry: 'li-ion-nmc', nominalWh: 400, whPerKm: 10, readings: [] },
    },
    settings,
    '2025-12-01',
  );
  expect(life.capacity).toHaveLength(2);
  expect(life.cycles).toBeCloseTo(100, 6);
  expect(life.ageing!.fadePer100).toBeLessThan(2);
});

describe('energy from the socket', () => {
  it('a charge that nobody metered voids its span instead of making it look thrifty', () => {
    const full = (km: number, kWh: number | null) => ({ km, kWh, isFull: true });
    expect(socketUse([full(0, 0.5), full(40, 0.5), full(80, null), full(120, 0.5)])).toMatchObject({
      kWhPer100Km: 1.25,
      km: 80,
      charges: 3,
    });
    expect(socketUse([full(0, 0.5), { km: 40, kWh: null, isFull: false }, full(80, 0.5)])).toBeUndefined();
  });
  it('leaves out a span that no bike takes, and counts it', () => {
    const charges = [0, 40, 80, 120, 160].map((km) => ({ km, kWh: km === 80 ? 5.6 : 0.5, isFull: true }));
    expect(socketUse(charges)).toMatchObject({ kWhPer100Km: 1.25, km: 120, oddSpans: 1 });
  });
  it('needs two full charges; a part charge in between is counted in', () => {
    expect(socketUse([{ km: 0, kWh: 0.5, isFull: true }])).toBeUndefined();
    expect(
      socketUse([
        { km: 0, kWh: 0.5, isFull: true },
        { km: 30, kWh: 0.2, isFull: false },
        { km: 50, kWh: 0.4, isFull: true },
      ]),
    ).toMatchObject({ interval95: null, km: 50, charges: 3 });
  });
});
