import fc from 'fast-check';
import {
  clusteredRate,
  kaplanMeier,
  meanCumulativeFunction,
  poissonRate,
  powerLawProcess,
} from '../statistics/index.js';
import {
  addDays,
  daysBetween,
  kmAt,
  odometerLine,
  readPasted,
  serviceDue,
  USUAL_SERVICE,
  type OdometerEntry,
} from './index.js';

const day = fc.integer({ min: 0, max: 2000 }).map((k) => addDays('2022-01-01', k));
const entry: fc.Arbitrary<OdometerEntry> = fc.record({
  day,
  way: fc.constantFrom('reading' as const, 'trip' as const, 'rebase' as const),
  km: fc.integer({ min: 0, max: 20_000 }),
});
const ride = fc.record({ day, km: fc.integer({ min: 1, max: 120 }) });
const units = fc.array(
  fc.record({ events: fc.integer({ min: 0, max: 12 }), exposure: fc.double({ min: 0.1, max: 9, noNaN: true }) }),
  {
    minLength: 1,
    maxLength: 9,
  },
);
const watched = fc
  .array(
    fc.record({
      end: fc.integer({ min: 10, max: 5000 }),
      shares: fc.array(fc.double({ min: 0.01, max: 1, noNaN: true }), { maxLength: 6 }),
    }),
    { minLength: 1, maxLength: 8 },
  )
  .map((list) => list.map(({ end, shares }) => ({ end, events: shares.map((share) => share * end) })));

describe('an odometer, whatever is written down', () => {
  it('never runs back, and is the same in any order of entry', () =>
    fc.assert(
      fc.property(fc.array(entry, { maxLength: 12 }), fc.array(ride, { maxLength: 8 }), (entries, rides) => {
        const line = odometerLine(entries, rides);
        for (let k = 1; k < line.points.length; k++) {
          expect(line.points[k]!.km).toBeGreaterThanOrEqual(line.points[k - 1]!.km);
          expect(line.points[k]!.day >= line.points[k - 1]!.day).toBe(true);
        }
        expect(odometerLine([...entries].reverse(), [...rides].reverse()).points).toEqual(line.points);
      }),
    ));
  it('of rides alone is their sum; between two days it lies between theirs', () =>
    fc.assert(
      fc.property(fc.array(ride, { minLength: 1, maxLength: 12 }), day, (rides, asked) => {
        const line = odometerLine([], rides);
        expect(line.points.at(-1)!.km).toBe(rides.reduce((sum, { km }) => sum + km, 0));
        const km = kmAt(line, asked)!;
        expect(km).toBeGreaterThanOrEqual(line.points[0]!.km);
        expect(km).toBeLessThanOrEqual(line.points.at(-1)!.km);
      }),
    ));
});

describe('days', () => {
  it('count there and back', () =>
    fc.assert(
      fc.property(day, fc.integer({ min: -800, max: 800 }), (from, n) =>
        expect(daysBetween(from, addDays(from, n))).toBe(n),
      ),
    ));
});

describe('faults, whatever was counted', () => {
  it('a rate lies in its interval, which is never narrower than chance makes it; another unit of length changes nothing', () =>
    fc.assert(
      fc.property(units, fc.double({ min: 0.01, max: 100, noNaN: true }), (list, scale) => {
        const found = clusteredRate(list);
        if (!found.ok) throw new Error(found.reason);
        const { rate, interval } = found.value;
        const exact = poissonRate({
          events: list.reduce((sum, { events }) => sum + events, 0),
          exposure: list.reduce((sum, { exposure }) => sum + exposure, 0),
        });
        expect(interval[0]).toBeLessThanOrEqual(rate);
        expect(interval[1]).toBeGreaterThanOrEqual(rate);
        expect(interval[0]).toBeLessThanOrEqual(exact.interval[0] * (1 + 1e-12));
        expect(interval[1]).toBeGreaterThanOrEqual(exact.interval[1] * (1 - 1e-12));
        const other = clusteredRate(list.map(({ events, exposure }) => ({ events, exposure: exposure * scale })));
        if (!other.ok) throw new Error(other.reason);
        expect(other.value.interval[1] * scale).toBeCloseTo(interval[1], 6);
      }),
    ));
  it('a mean number of faults never falls and ends at all faults where all were watched to the end', () =>
    fc.assert(
      fc.property(watched, (list) => {
        const points = meanCumulativeFunction(list);
        for (let k = 1; k < points.length; k++) expect(points[k]!.mean).toBeGreaterThanOrEqual(points[k - 1]!.mean);
        const alike = list.map(({ events }) => ({ end: 6000, events }));
        const all = alike.reduce((sum, { events }) => sum + events.length, 0);
        expect(meanCumulativeFunction(alike).at(-1)?.mean ?? 0).toBeCloseTo(all / list.length, 9);
      }),
    ));
  it('a trend, where there is one to tell, expects as many faults as came', () =>
    fc.assert(
      fc.property(watched, (list) => {
        const trend = powerLawProcess(list);
        if (!trend.ok) return;
        const { scale, shape, n } = trend.value;
        expect(list.reduce((sum, { end }) => sum + scale * end ** shape, 0)).toBeCloseTo(n, 5);
      }),
    ));
  it('what survives never grows, and is one minus the share gone where nothing was cut off', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 50 }), { minLength: 1, maxLength: 20 }), (lives) => {
        const { points } = kaplanMeier(lives.map((life) => ({ life, isFailed: true })));
        for (const { at, surviving, interval } of points) {
          expect(surviving).toBeCloseTo(lives.filter((life) => life > at).length / lives.length, 9);
          expect(interval[0]).toBeLessThanOrEqual(surviving + 1e-12);
          expect(interval[1]).toBeGreaterThanOrEqual(surviving - 1e-12);
        }
      }),
    ));
});

describe('service, however far a bike was ridden', () => {
  it('the most urgent comes first, and more kilometres never make a thing less urgent', () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 20_000 }), fc.integer({ min: 0, max: 3000 }), (kmNow, more) => {
        const fitted = { day: '2025-01-01', km: 0 };
        const at = (km: number) =>
          serviceDue(USUAL_SERVICE, fitted, new Map(), { today: '2025-02-01', kmNow: km, kmPerWeek: 40 });
        const order = ['overdue', 'due', 'soon', 'fine'];
        const states = at(kmNow).map(({ state }) => order.indexOf(state));
        expect([...states].sort((a, b) => a - b)).toEqual(states);
        const later = new Map(at(kmNow + more).map(({ item, state }) => [item.id, order.indexOf(state)]));
        for (const { item, state } of at(kmNow)) expect(later.get(item.id)!).toBeLessThanOrEqual(order.indexOf(state));
      }),
    ));
});

describe('what is pasted, whatever it is', () => {
  it('ends in entries or in problems with their lines, never in an exception', () =>
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (text) => {
        const { entries, problems } = readPasted(`day\tbike\twhat\tkm\n${text}`);
        expect(entries.length + problems.length).toBeGreaterThanOrEqual(0);
        for (const { line } of [...entries, ...problems]) expect(line).toBeGreaterThan(0);
      }),
    ));
});
