import fc from 'fast-check';
import {
  columnOf,
  NOTEBOOK_COLUMNS,
  readNotebookRide,
  readNotebookTable,
  splitPasted,
  type NotebookCells,
} from './index.js';
import { readDay, readDuration, readNumber, readPair } from './read-cells.js';

const read = (cells: NotebookCells, options = {}) =>
  readNotebookRide({ date: '2026-04-12', setup: 'A', ...cells }, { barsWhenFull: 5, ...options });

describe('cells as people write them', () => {
  it.each([
    ['12.4', 12.4],
    ['12,4 km', 12.4],
    ['1 204', 1204],
    ['41.8V', 41.8],
    ['−3', -3],
    ['about 5', undefined],
    ['1.2.3', undefined],
  ])('a number: %s', (cell, value) => expect(readNumber(cell)).toBe(value));
  it.each([
    ['5 3', [5, 3]],
    ['5 → 3', [5, 3]],
    ['5-3', [5, 3]],
    ['41,8 / 38,2 V', [41.8, 38.2]],
    ['100 % - 62 %', [100, 62]],
    ['from', undefined],
    ['3', [undefined, 3]],
    ['1 2 3', undefined],
  ])('before and after: %s', (cell, pair) => expect(readPair(cell)).toEqual(pair));
  it.each([
    ['2026-04-12', '2026-04-12'],
    ['12.4.2026', '2026-04-12'],
    ['12/4/26', '2026-04-12'],
    ['4/25/2026', '2026-04-25'],
    ['31.4.2026', undefined],
    ['yesterday', undefined],
  ])('a day: %s', (cell, day) => expect(readDay(cell)).toBe(day));
  it('a day written month first, where people do', () => {
    expect(readDay('4/12/2026', true)).toBe('2026-04-12');
    expect(readDay('25/4/2026', true)).toBe('2026-04-25');
    expect(readDay('12.4.2026', true)).toBe('2026-04-12');
  });
  it.each([
    ['25 min', 9, 1500, 60],
    ['25', 9, 1500, 60],
    ['0:25:10', 9, 1510, 1],
    ['25:10', 9, 1510, 1],
    ['1:05', 24, 3900, 60],
    ['1:05', 0.4, 65, 1],
    ['1 h 5 min', undefined, 3900, 60],
    ['3 min 20 s', undefined, 200, 1],
  ])('a time: %s with %s km', (cell, km, seconds, stepS) => expect(readDuration(cell, km)).toEqual({ seconds, stepS }));
});

describe('a page of a notebook', () => {
  const page = [
    'Datum;Rad;Strecke km;Zeit;Balken;Spannung vor;Spannung nach;Farbe',
    '12.4.2026;Vorne;9,4;25 min;5 3;41,9;39,6;rot',
    ';;;;;;;',
    '19.4.2026;Vorne;9,3;25:10;5 3;41,9;39,7;blau',
  ].join('\n');
  it('is read by its own words, and what means nothing is said', () => {
    const { rows, unknown } = readNotebookTable(splitPasted(page));
    expect(unknown).toEqual(['Farbe']);
    expect(rows).toHaveLength(2);
    const { ride, problems } = read(rows[0]!);
    expect(problems).toEqual([]);
    expect(ride).toMatchObject({
      date: '2026-04-12',
      setup: 'Vorne',
      gauge: { start: 5, end: 3, bars: 5 },
      readings: {
        tripDistanceKm: 9.4,
        tripStepKm: 0.1,
        durationS: 1500,
        restVoltageStartV: 41.9,
        restVoltageEndV: 39.6,
      },
    });
  });
  it('without a header is taken in the order of the grid', () => {
    const { rows } = readNotebookTable(splitPasted('2026-04-12\tA\tQuay\tthrottle\t6.1\t0:15\t5 4\t41.9 40.2'));
    expect(read(rows[0]!).ride).toMatchObject({ course: 'Quay', way: 'throttle', readings: { tripDistanceKm: 6.1 } });
  });
  it('in miles becomes kilometres, with its step', () => {
    const { rows, isImperial } = readNotebookTable(splitPasted('date,kit,distance (mi),avg\n2026-04-12,A,6.2,14'));
    expect(isImperial).toBe(true);
    const { readings } = read(rows[0]!, { isImperial }).ride;
    expect(readings.tripDistanceKm).toBeCloseTo(9.978, 3);
    expect(readings.tripStepKm).toBeCloseTo(0.1609, 4);
    expect(readings.displayMeanKmh).toBeCloseTo(22.53, 2);
  });
  it.each<[string, NotebookCells, string]>([
    ['no day', { date: '', distance: '3' }, 'date'],
    ['no setup', { setup: '', distance: '3' }, 'setup'],
    ['a distance in words', { distance: 'far' }, 'distance'],
    ['more bars after than before', { bars: '3 5' }, 'bars'],
    ['more bars than the gauge has', { bars: '8 5' }, 'bars'],
    ['an odometer that runs backwards', { odometer: '1200 1190' }, 'odometer'],
    ['a way nobody knows', { distance: '3', way: 'sideways' }, 'way'],
    ['nothing read off', { notes: 'nice' }, 'distance'],
  ])('says in which cell it is wrong: %s', (_what, cells, key) =>
    expect(read(cells).problems.map((problem) => problem.key)).toContain(key),
  );
  it('asks about a day that is still to come', () =>
    expect(read({ date: '4/12/2026', distance: '9' }, { today: '2026-05-01' }).problems[0]!.key).toBe('date'));
  it('asks for the other of two readings, and for the size of a gauge, instead of guessing them', () => {
    for (const cells of [
      { bars: '3' },
      { percent: '62 %' },
      { volts: '38.2' },
      { barsEnd: '3' },
      { voltsStart: '41' },
    ]) {
      const { ride, problems } = read({ distance: '9', ...cells });
      expect(problems).toHaveLength(1);
      expect(problems[0]!.message).toContain('Both are needed');
      expect([ride.gauge, ride.readings.restVoltageEndV]).toEqual([null, undefined]);
    }
    const unsized = read({ bars: '4 2' }, { barsWhenFull: undefined });
    expect(unsized.problems[0]!.message).toContain('How many bars does this gauge show when full');
    expect(read({ percent: '100 62' }).ride.gauge).toEqual({ start: 100, end: 62, bars: 100 });
  });
  it('knows both directions, tries of help and brake, cut-backs and hours on the charger', () =>
    expect(
      read({
        highest: '31',
        highestBack: '29,5',
        helpAfter: '0.8 1.1',
        brakeCut: '0.3; 0.4',
        cutBacks: '2',
        chargeHours: '4,5',
      }).ride.readings,
    ).toEqual({
      highestSpeedKmh: 31,
      highestSpeedBackKmh: 29.5,
      helpAfterS: [0.8, 1.1],
      brakeCutoffS: [0.3, 0.4],
      cutBacks: 2,
      chargeHours: 4.5,
    }));
  it('knows where bars went out, how the motor felt to the hand, and pulse', () => {
    expect(
      read({ barsOut: '4 left at 6.2, 3 left at 13,5', touch: 'hot, could be held', heart: '132/158' }).ride.readings,
    ).toEqual({
      barsOut: [
        { left: 4, km: 6.2 },
        { left: 3, km: 13.5 },
      ],
      motorTouch: 'can-be-held',
      meanHeartRateBpm: 132,
      peakHeartRateBpm: 158,
    });
  });
  it('knows each column by its own label', () =>
    expect(NOTEBOOK_COLUMNS.map(({ label }) => columnOf(label)?.key)).toEqual(NOTEBOOK_COLUMNS.map(({ key }) => key)));
  it('tells minutes from hours of a climb by its length, and asks where that is not known', () => {
    const climb = (time: string, lengthKm?: number) =>
      read({ test: 'hill climb', course: 'Chapel Hill', time }, { lengthKmOf: () => lengthKm });
    expect(climb('4:35', 1.2)).toMatchObject({ ride: { readings: { durationS: 275 } }, problems: [] });
    expect(climb('1:05', 14)).toMatchObject({ ride: { readings: { durationS: 3900 } }, problems: [] });
    expect(climb('4:35').problems).toMatchObject([{ key: 'time' }]);
    for (const [time, seconds] of [
      ['4 min 35 s', 275],
      ['0:04:35', 275],
      ['0:12', 720],
      ['12:30', 750],
    ] as const)
      expect(climb(time)).toMatchObject({ ride: { readings: { durationS: seconds } }, problems: [] });
    expect(read({ test: 'range', time: '1:05' }).ride.readings.durationS).toBe(3900);
  });
  it('takes the higher of two pulses for the highest', () => {
    expect(read({ distance: '25', heart: '158 132' }).ride.readings).toMatchObject({
      meanHeartRateBpm: 132,
      peakHeartRateBpm: 158,
    });
  });
  it.each([
    [{ distance: '25', odometer: '100 160' }, 'odometer'],
    [{ distance: '25', odometerStart: '100', odometerEnd: '160' }, 'odometerEnd'],
    [{ odometer: '1.234 1.259', time: '1:05' }, 'time'],
    [{ distance: '25', time: '65 s' }, 'time'],
    [{ distance: '25', time: '1:05', mean: '2.1' }, 'mean'],
    [{ distance: '25', mean: '23', highest: '20' }, 'highest'],
    [{ distance: '25', highest: '22', lowest: '30' }, 'lowest'],
    [{ distance: '25', barsOut: '4 left at 62' }, 'barsOut'],
  ])('names the cell to look at where %p cannot all be true', (cells, key) => {
    expect(read(cells).problems.map((problem) => problem.key)).toEqual([key]);
  });
  it('never throws, whatever stands in a cell', () =>
    fc.assert(
      fc.property(
        fc.dictionary(fc.constantFrom(...NOTEBOOK_COLUMNS.map(({ key }) => key)), fc.string({ maxLength: 20 })),
        (cells) => {
          const { ride, problems } = read(cells);
          expect(problems.every(({ message }) => message.length > 3)).toBe(true);
          // What could not be read is left out, never carried on as no number.
          for (const value of Object.values(ride.readings).flat())
            if (typeof value === 'number') expect(Number.isFinite(value)).toBe(true);
        },
      ),
      { numRuns: 500 },
    ));
});
