import { seededRandom, standardNormal } from '../numeric/index.js';
import {
  addDays,
  compareFaultRates,
  daysBetween,
  distancesOf,
  faultCurve,
  faultRate,
  followUpsDue,
  itemsOf,
  kmAt,
  kmPerWeek,
  odometerLine,
  packAgeing,
  partLives,
  reliability,
  resistanceGrowth,
  saidOfKits,
  serviceDue,
  USUAL_SERVICE,
  USUAL_STAGES,
  wearForecast,
  type Conversion,
  type Fault,
  type OdometerEntry,
} from './index.js';

const reading = (day: string, km: number): OdometerEntry => ({ day, way: 'reading', km });

describe('the odometer', () => {
  it('between readings their difference counts, after the last one rides add up', () => {
    const line = odometerLine(
      [reading('2026-03-01', 1200), reading('2026-04-01', 1500)],
      [
        { day: '2026-03-10', km: 40 },
        { day: '2026-04-05', km: 25 },
        { day: '2026-04-09', km: 30 },
      ],
    );
    expect(line.problems).toEqual([]);
    expect(kmAt(line, '2026-03-10')).toBe(1240);
    expect(kmAt(line, '2026-04-01')).toBe(1500);
    expect(kmAt(line, '2026-04-07')).toBeCloseTo(1540, 9);
    expect(kmAt(line, '2026-12-31')).toBe(1555);
    expect(kmAt(line, '2020-01-01')).toBe(1200);
  });
  it('is the same whatever the order of entry', () => {
    const entries = [
      reading('2026-03-01', 10),
      { day: '2026-03-05', way: 'trip' as const, km: 7 },
      reading('2026-03-09', 40),
    ];
    expect(odometerLine([...entries].reverse())).toEqual(odometerLine(entries));
  });
  it('goes on across a new display, and with a wheel size put right', () => {
    const line = odometerLine([
      reading('2026-01-01', 500),
      reading('2026-02-01', 700),
      { day: '2026-02-02', way: 'rebase', km: 0 },
      reading('2026-03-01', 100),
      { day: '2026-03-02', way: 'rebase', km: 100, wheelFactor: 0.9 },
      reading('2026-04-01', 200),
    ]);
    expect(line.problems).toEqual([]);
    expect(line.points.at(-1)).toEqual({ day: '2026-04-01', km: 890 });
  });
  it('tells a reading that went back, and rides that exceed it', () => {
    const back = odometerLine([reading('2026-01-01', 500), reading('2026-02-01', 300), reading('2026-03-01', 600)]);
    expect(back.problems).toMatchObject([{ code: 'went-back', day: '2026-02-01' }]);
    expect(back.points.at(-1)!.km).toBe(600);
    const exceed = odometerLine(
      [reading('2026-01-01', 500), reading('2026-02-01', 520)],
      [{ day: '2026-01-10', km: 40 }],
    );
    expect(exceed.problems).toMatchObject([{ code: 'rides-exceed' }]);
    expect(kmAt(exceed, '2026-01-10')).toBe(520);
  });
  it('leaves out a reading with its comma gone, and goes on from the one before', () => {
    const line = odometerLine([
      { day: '2026-01-05', way: 'reading', km: 1180.5 },
      { day: '2026-01-12', way: 'reading', km: 12_345 },
      { day: '2026-01-19', way: 'reading', km: 1310 },
    ]);
    expect(line.problems).toMatchObject([{ code: 'too-far', day: '2026-01-12' }]);
    expect(line.points.at(-1)).toEqual({ day: '2026-01-19', km: 1310 });
    const tour = [0, 1, 2, 3].map((k) => ({ day: `2026-05-0${k + 1}`, way: 'reading' as const, km: 240 * k }));
    expect(odometerLine(tour).problems).toEqual([]);
  });
  it('without any reading it is the sum of the rides', () => {
    const line = odometerLine(
      [],
      [
        { day: '2026-01-03', km: 12 },
        { day: '2026-01-01', km: 30 },
      ],
    );
    expect(line.points).toEqual([
      { day: '2026-01-01', km: 30 },
      { day: '2026-01-03', km: 42 },
    ]);
    expect(kmAt(odometerLine([]), '2026-01-01')).toBeUndefined();
  });
  it('comes apart into the distances it is made of', () => {
    const rides = [
      { day: '2026-01-01', km: 30 },
      { day: '2026-01-03', km: 12 },
    ];
    expect(distancesOf(odometerLine([], rides))).toEqual(rides);
    expect(distancesOf(odometerLine([reading('2026-01-01', 500), reading('2026-02-01', 700)], rides))).toEqual([
      { day: '2026-01-01', km: 30 },
      { day: '2026-01-03', km: 12 },
      { day: '2026-02-01', km: 188 },
    ]);
  });
  it('pace: the last eight weeks, or all where nothing was written lately', () => {
    const line = odometerLine([reading('2026-01-01', 0), reading('2026-05-01', 1200), reading('2026-06-26', 1600)]);
    expect(kmPerWeek(line, '2026-06-26')).toBeCloseTo(50, 6);
    expect(kmPerWeek(line, '2027-06-26')).toBeCloseTo((1600 / daysBetween('2026-01-01', '2027-06-26')) * 7, 6);
    expect(kmPerWeek(odometerLine([reading('2026-06-25', 3)]), '2026-06-26')).toBeUndefined();
  });
});

const conversion = (name: string, kit: string, km: number, faults: readonly Partial<Fault>[]): Conversion => ({
  id: name,
  name,
  km,
  groups: { kit, motorKind: 'mid', pack: '', use: '' },
  faults: faults.map((one) => ({ km: 100, part: 'spokes', effect: 'nuisance', ...one })),
});

describe('faults', () => {
  it('says small counts as they are', () => {
    expect(faultRate('B', [conversion('one', 'B', 900, [])]).words).toBe(
      'No fault in 900 km: fewer than 3.3 in 1 000 km.',
    );
    expect(faultRate('B', [conversion('one', 'B', 4200, [{}, {}, {}])]).words).toBe(
      '3 faults in 4 200 km: 0.71 in 1 000 km (0.15 to 2.1).',
    );
  });
  it('a fault beyond what was watched does not count', () =>
    expect(faultRate('B', [conversion('one', 'B', 900, [{ km: 950 }])]).faults).toBe(0));
  it('one bad bike among several widens the span and forbids a verdict between kits', () => {
    const many = Array.from({ length: 9 }, (_, k) => ({ km: 50 * (k + 1) }));
    const bad = [conversion('bad', 'A', 1000, many), ...[1, 2, 3, 4].map((k) => conversion(`a${k}`, 'A', 1000, []))];
    const good = [1, 2, 3].map((k) => conversion(`b${k}`, 'B', 1500, []));
    const [a, b] = [faultRate('A', bad), faultRate('B', good)];
    expect(a.isUneven).toBe(true);
    expect(a.words).toContain('bad alone had 9 of 9');
    expect(compareFaultRates(a, b)).toMatchObject({ verdict: 'open', ratio: null });
  });
  it('evenly spread faults settle it', () => {
    const bad = [1, 2, 3, 4].map((k) => conversion(`a${k}`, 'A', 1000, [{}, { km: 300 }, { km: 700 }]));
    const good = [1, 2, 3, 4].map((k) => conversion(`b${k}`, 'B', 1500, k === 1 ? [{}] : []));
    const both = reliability([...bad, ...good], 'kit')!;
    expect(both.groups.map(({ faults }) => faults)).toEqual([12, 1]);
    expect(both.comparisons).toMatchObject([{ a: 'A', b: 'B', verdict: 'more' }]);
    expect(both.parts).toMatchObject([{ part: 'spokes', faults: 13 }]);
    expect(both.all.km).toBe(10_000);
  });
  it('neither of two without a fault is told from the other', () =>
    expect(
      compareFaultRates(faultRate('A', [conversion('a', 'A', 10, [])]), faultRate('B', [conversion('b', 'B', 10, [])]))
        .words,
    ).toContain('nothing tells them apart'));
  it('early trouble and wear-out are told apart; conversions not ridden do not count', () => {
    const early = [1, 2, 3].map((k) => conversion(`a${k}`, 'A', 5000, [{ km: 20 * k }, { km: 60 }, { km: 150 }]));
    expect(reliability(early, 'kit')!.trend.verdict).toBe('early');
    const late = [1, 2, 3].map((k) =>
      conversion(`a${k}`, 'A', 5000, [{ km: 4300 + 100 * k }, { km: 4800 }, { km: 4900 }]),
    );
    expect(reliability(late, 'kit')!.trend.verdict).toBe('wear-out');
    expect(reliability([conversion('new', 'A', 0, [])], 'kit')).toBeUndefined();
    expect(faultCurve(early).at(-1)!.mean).toBeCloseTo(3, 9);
  });
  it('a fault on the day of fitting counts from the first metres', () =>
    expect(reliability([conversion('a', 'A', 900, [{ km: 0 }, { km: 0 }, { km: 1 }])], 'kit')!.trend.verdict).toBe(
      'early',
    ));
});

describe('lives of parts', () => {
  const replaced = (km: number, part: 'chain' | 'motor' | 'tyre', isEndOfLife = true) => ({ km, part, isEndOfLife });
  it('of the kit begin at fitting and at each replacement; what was taken off sound is cut off', () => {
    const lives = partLives(
      [
        { km: 5000, replacements: [replaced(1500, 'motor'), replaced(3200, 'motor'), replaced(4000, 'tyre')] },
        { km: 2500, replacements: [replaced(900, 'motor', false)] },
      ],
      'motor',
    )!;
    expect(lives).toMatchObject({ ended: 2, running: 3 });
    expect(lives.survival.points.map(({ at, atRisk }) => [at, atRisk])).toEqual([
      [1500, 4],
      [1700, 2],
    ]);
    expect(lives.words).toContain('2 ended, 3 still running.');
    expect(partLives([{ km: 900, replacements: [] }], 'motor')).toBeUndefined();
  });
  it('of the bike begin at the first replacement: how old they were when the kit came nobody knows', () => {
    const bikes = [
      { km: 5000, replacements: [replaced(300, 'chain'), replaced(1900, 'chain')] },
      { km: 4000, replacements: [] },
    ];
    const lives = partLives(bikes, 'chain')!;
    expect(lives).toMatchObject({ ended: 1, running: 1 });
    expect(lives.survival.points.map(({ at }) => at)).toEqual([1600]);
    expect(partLives([{ km: 5000, replacements: [replaced(300, 'chain')] }], 'chain')).toBeUndefined();
  });
});

describe('wear', () => {
  it('by hand: 0.30 % after 800 km lasts to 2 000 km', () => {
    const left = wearForecast('chain', [{ km: 800, value: 0.3 }], 800)!;
    expect(left.kmLeft).toBeCloseTo(1200, 6);
    expect(left.per1000Km).toBeCloseTo(0.375, 9);
    expect(left.interval95[0]).toBeLessThan(900);
  });
  it('a part that was not new tells no rate by one reading, and its own by two', () => {
    expect(wearForecast('chain', [{ km: 800, value: 0.4 }], 800, false)).toMatchObject({
      kmLeft: null,
      per1000Km: null,
    });
    const two = wearForecast(
      'chain',
      [
        { km: 0, value: 0.3 },
        { km: 800, value: 0.4 },
      ],
      800,
      false,
    )!;
    expect(two.per1000Km).toBeCloseTo(0.125, 9);
    expect(two.kmLeft).toBeCloseTo(2800, 6);
  });
  it('what was ridden since the last reading widens the span', () => {
    const readings = [{ km: 800, value: 0.3 }];
    const width = (now: number): number => {
      const { interval95, kmLeft } = wearForecast('chain', readings, now)!;
      return kmLeft! - interval95[0];
    };
    expect(width(1600)).toBeGreaterThan(0);
    expect(wearForecast('chain', readings, 1600)!.kmLeft! + 800).toBeCloseTo(
      wearForecast('chain', readings, 800)!.kmLeft!,
      6,
    );
  });
  it('at its limit nothing is left, a part that does not wear has no end', () => {
    expect(wearForecast('chain', [{ km: 900, value: 0.8 }], 900)).toMatchObject({ kmLeft: 0 });
    expect(wearForecast('brake-pads', [{ km: 500, value: 0.9 }], 700)).toMatchObject({ kmLeft: 0 });
    expect(wearForecast('brake-pads', [{ km: 900, value: 4 }], 900)).toMatchObject({ kmLeft: null });
    expect(wearForecast('spokes', [{ km: 5, value: 1 }], 5)).toBeUndefined();
    expect(wearForecast('chain', [], 5)).toBeUndefined();
  });
  it('holds the kilometre at which the gauge says so in 90 of 100, rates wandering', () => {
    const random = seededRandom(3);
    let held = 0;
    for (let trial = 0; trial < 200; trial++) {
      // Wear per 100 km wanders about its own mean: weather, load.
      const own = 0.03 * Math.exp(0.3 * standardNormal(random));
      const wear = [0];
      while (wear.at(-1)! < 1.2) wear.push(wear.at(-1)! + own * Math.exp(0.5 * standardNormal(random)));
      const gauge = (k: number): number => Math.round((wear[k]! + 0.04 * standardNormal(random)) * 20) / 20;
      const readings = [4, 8, 12].filter((k) => wear[k]! < 0.6).map((k) => ({ km: 100 * k, value: gauge(k) }));
      const now = readings.at(-1)?.km ?? 0;
      const left = wearForecast('chain', readings, now);
      if (!left) {
        held++;
        continue;
      }
      const end = 100 * wear.findIndex((value) => value + 0.04 * standardNormal(random) >= 0.75) - now;
      if (end >= left.interval95[0] - 50 && (left.interval95[1] === null || end <= left.interval95[1] + 50)) held++;
    }
    expect(held / 200).toBeGreaterThan(0.9);
  });
});

describe('a pack over its cycles', () => {
  const test = (cycles: number, share: number, airTemperatureC = 20) => ({
    cycles,
    share,
    kind: 'test' as const,
    airTemperatureC,
  });
  it('fades by the slope, tells when it falls below a share', () => {
    const ageing = packAgeing([test(0, 1), test(100, 0.97), test(200, 0.94), test(300, 0.91)], 'li-ion-nmc', 300, 0.7)!;
    expect(ageing.fadePer100).toBeCloseTo(3, 6);
    expect(ageing.verdict).toBe('fades');
    expect(ageing.cyclesLeft).toBeCloseTo(700, 6);
    expect(ageing.words).toContain('3 % in 100 full cycles');
  });
  it('two tests close together settle nothing, one tells nothing', () => {
    expect(packAgeing([test(0, 1), test(20, 0.98)], 'li-ion-nmc', 20, 0.7)!.verdict).toBe('open');
    expect(packAgeing([test(0, 1)], 'li-ion-nmc', 20, 0.7)).toBeUndefined();
    expect(packAgeing([test(5, 1), test(5, 0.9)], 'li-ion-nmc', 20, 0.7)).toBeUndefined();
  });
  it('a winter test is not taken for age; rides and tests have levels of their own', () => {
    const cold = packAgeing([test(0, 1), test(80, 0.99), test(160, 0.98 * 0.9, 5)], 'li-ion-nmc', 160, 0.7)!;
    expect(cold.fadePer100).toBeLessThan(4);
    const both = packAgeing(
      [
        test(0, 1),
        test(200, 0.96),
        { cycles: 100, share: 0.86, kind: 'ride', airTemperatureC: 20 },
        { cycles: 300, share: 0.82, kind: 'ride', airTemperatureC: 20 },
      ],
      'li-ion-nmc',
      300,
      0.7,
    )!;
    expect(both.fadePer100).toBeCloseTo(2, 0);
  });
  it('holds the true fade in 90 to 99 of 100', () => {
    const random = seededRandom(8);
    let held = 0;
    for (let trial = 0; trial < 300; trial++) {
      const readings = [0, 60, 130, 190, 250].map((cycles) =>
        test(cycles, (0.97 - 0.0002 * cycles) * (1 + 0.02 * standardNormal(random))),
      );
      const { interval95 } = packAgeing(readings, 'li-ion-nmc', 250, 0.7)!;
      const truth = (100 * 0.02) / 0.97;
      if (interval95[0] <= truth && truth <= interval95[1]) held++;
    }
    expect(held / 300).toBeGreaterThan(0.9);
    expect(held / 300).toBeLessThan(1);
  });
});

describe('resistance of a pack', () => {
  const test = (cycles: number, ohm: number, airTemperatureC = 20) => ({ cycles, ohm, airTemperatureC });
  it('grows by the slope on logarithms; a winter test is not taken for age', () => {
    const grows = resistanceGrowth([test(0, 0.1), test(100, 0.12), test(200, 0.144), test(300, 0.1728)])!;
    expect(grows.growthPer100).toBeCloseTo(20, 6);
    expect(grows.verdict).toBe('grows');
    const cold = resistanceGrowth([test(0, 0.1), test(100, 0.1), test(200, 0.1 * 1.3, 0)])!;
    expect(cold.growthPer100).toBeCloseTo(0, 6);
    expect(cold.words).toContain('do not tell yet');
    expect(resistanceGrowth([test(5, 0.1)])).toBeUndefined();
  });
  it('holds the true growth in 90 to 99 of 100', () => {
    const random = seededRandom(21);
    const held = Array.from({ length: 300 }, () => {
      const readings = [0, 80, 170, 240].map((cycles) =>
        test(cycles, 0.1 * 1.0008 ** cycles * Math.exp(0.06 * standardNormal(random))),
      );
      const [low, high] = resistanceGrowth(readings)!.interval95;
      const truth = 100 * (1.0008 ** 100 - 1);
      return low <= truth && truth <= high;
    }).filter(Boolean).length;
    expect(held / 300).toBeGreaterThan(0.9);
    expect(held / 300).toBeLessThan(0.995);
  });
});

describe('service', () => {
  const pace = { today: '2026-06-01', kmNow: 1000, kmPerWeek: 50 };
  const fitted = { day: '2026-01-01', km: 0 };
  const one = {
    id: 'x',
    part: 'chain',
    what: 'Chain',
    firstKm: 100,
    everyKm: 800,
    everyDays: null,
    drive: 'any',
  } as const;
  it('the first time counts from fitting, later from the last time; kilometres become a day', () => {
    expect(serviceDue([one], fitted, new Map(), pace)).toMatchObject([
      { state: 'overdue', kmLeft: -900, day: '2026-06-01' },
    ]);
    const done = new Map([['x', { day: '2026-05-01', km: 900 }]]);
    expect(serviceDue([one], fitted, done, pace)).toMatchObject([
      { state: 'fine', kmLeft: 700, day: addDays('2026-06-01', 98) },
    ]);
    expect(serviceDue([one], fitted, done, { ...pace, kmNow: 1695 })).toMatchObject([{ state: 'due', kmLeft: 5 }]);
    expect(serviceDue([one], fitted, done, { ...pace, kmNow: 1600, kmPerWeek: undefined })).toMatchObject([
      { state: 'soon', day: null },
    ]);
  });
  it('days and kilometres: whichever is first', () => {
    const both = { ...one, everyDays: 90 };
    expect(serviceDue([both], fitted, new Map([['x', { day: '2026-03-10', km: 990 }]]), pace)).toMatchObject([
      { state: 'soon', daysLeft: 7, day: '2026-06-08' },
    ]);
  });
  it('a mid motor is told of its chain sooner, a bike without a kit of no nuts', () => {
    const every = (drive: 'hub' | 'mid' | 'none', part: string): (number | null)[] =>
      itemsOf(USUAL_SERVICE, drive)
        .filter((item) => item.part === part && item.what === 'New chain')
        .map(({ everyKm }) => everyKm);
    expect(every('mid', 'chain')[0]!).toBeLessThan(every('hub', 'chain')[0]!);
    expect(itemsOf(USUAL_SERVICE, 'none').map(({ part }) => part)).not.toContain('axle-nuts');
  });
});

describe('follow-ups', () => {
  it('fall due by kilometres or days and are answered once', () => {
    const due = followUpsDue(USUAL_STAGES, { day: '2026-01-01', km: 40 }, new Set(['first-100-km']), {
      today: '2026-07-10',
      kmNow: 120,
      kmPerWeek: 30,
    });
    expect(due.map(({ state }) => state)).toEqual(['answered', 'due', 'later']);
    expect(due[2]!.day).toBe('2027-01-01');
  });
});

describe('what riders say of a kit', () => {
  const said = (kit: string, bike: string, trust: number, stage = 'year') => ({ kit, bike, stage, answers: { trust } });
  it('each bike once with its last word; middle, lowest and highest step', () => {
    const found = saidOfKits([said('A', 'one', 1), said('A', 'one', 4), said('A', 'two', 5), said('B', 'three', 2)]);
    expect(found).toEqual([
      { kit: 'A', stage: 'year', key: 'trust', bikes: 2, median: 4.5, lowest: 4, highest: 5 },
      { kit: 'B', stage: 'year', key: 'trust', bikes: 1, median: 2, lowest: 2, highest: 2 },
    ]);
    expect(saidOfKits([])).toEqual([]);
  });
  it('another time of asking is another column', () =>
    expect(saidOfKits([said('A', 'one', 1, 'half-year'), said('A', 'one', 4)]).map(({ stage }) => stage)).toEqual([
      'half-year',
      'year',
    ]));
});
