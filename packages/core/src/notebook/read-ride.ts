import {
  contradictionsOf,
  TEST_KIND_NAMES,
  TEST_KINDS,
  type Contradiction,
  type ManualReadings,
  type MotorTouch,
  type TestKind,
} from '../analysis/index.js';
import type { Effort } from '../ride-model/index.js';
import { convertUnit } from '../units/index.js';
import { NOTEBOOK_COLUMNS, type NotebookCells, type NotebookColumn, type NotebookKey } from './columns.js';
import { readDay, readDuration, readNumber, readPair } from './read-cells.js';

/** One ride out of a notebook. */
export interface NotebookRide {
  /** ISO day. */
  readonly date: string;
  readonly setup: string;
  /** Empty: on the road. */
  readonly course: string;
  readonly testKind: TestKind;
  readonly way: Effort | null;
  readonly level: string;
  readonly payloadKg: number | null;
  readonly gauge: { readonly start: number; readonly end: number; readonly bars: number } | null;
  readonly emptied: boolean;
  readonly perceivedEffort: number | null;
  readonly airTemperatureC: number | null;
  readonly notes: string;
  readonly readings: ManualReadings;
}
export interface CellProblem {
  readonly key: NotebookKey;
  readonly message: string;
}
export interface ReadNotebookRide {
  readonly ride: NotebookRide;
  readonly problems: readonly CellProblem[];
}
export interface NotebookOptions {
  /** How many bars the gauge shows when full; asked for where bars were noted and it is not known. */
  readonly barsWhenFull?: number;
  /** Of a course by its name, km, where it is known. */
  readonly lengthKmOf?: (course: string) => number | undefined;
  /** Distances in miles, and days with slashes written month first. */
  readonly isImperial?: boolean;
  /** Today, ISO: a ride of a later day was typed wrongly. */
  readonly today?: string;
}

const WAYS: readonly (readonly [RegExp, Effort])[] = [
  [/throttle|gas/i, 'throttle'],
  [/ghost|without force|turn/i, 'ghost'],
  [/off|legs|without motor|no motor|aus/i, 'off'],
  [/light|easy|leicht/i, 'light'],
  [/hard|strong|fest/i, 'hard'],
  [/steady|pedal|normal|ruhig|tret/i, 'steady'],
];
const TOUCHES: readonly (readonly [RegExp, MotorTouch])[] = [
  [/cannot|can not|can't|too hot|burn/i, 'cannot-be-held'],
  [/held|hot/i, 'can-be-held'],
  [/warm/i, 'warm'],
  [/cool|cold|kalt/i, 'cool'],
];

/** "4:35" of a climb is minutes or, up a long pass, hours: nothing but its length tells. "0:25" and "25:30" say it themselves. */
const HOURS_OR_MINUTES = /^[1-8]:[0-5]\d$/;
const SHORT_RIDES: ReadonlySet<TestKind> = new Set(['assist-response', 'coast-down', 'hill-climb', 'top-speed']);

/**
 * A row of a notebook as a ride, or what is wrong in which cell. Nothing is guessed: an empty cell is not known.
 *
 * Units: distance and speeds as the person's units say (km or miles), the rest as labelled. Steps are those of what was written:
 * "12.4" counts in tenths, "25 min" in minutes.
 */
export function readNotebookRide(cells: NotebookCells, options: NotebookOptions): ReadNotebookRide {
  const problems: CellProblem[] = [];
  const text = (key: NotebookKey): string => (cells[key] ?? '').trim();
  const wrong = (key: NotebookKey, message: string): undefined => void problems.push({ key, message });
  const number = (key: NotebookKey, least: number, most: number): number | undefined => {
    if (text(key) === '') return undefined;
    const value = readNumber(text(key));
    if (value === undefined) return wrong(key, `“${text(key)}” is not a number.`);
    return value >= least && value <= most ? value : wrong(key, `Between ${least} and ${most}.`);
  };
  /** Before and after, out of one cell or two. */
  const pair = (
    both: NotebookKey,
    first: NotebookKey,
    second: NotebookKey,
    most: number,
  ): readonly [number, number] | undefined => {
    if (text(both) !== '') {
      const read = readPair(text(both));
      if (!read) return wrong(both, `Write before and after, for example “${hintOf(both)}”.`);
      return checkedPair(both, read[0], read[1], most);
    }
    const [before, after] = [number(first, 0, most), number(second, 0, most)];
    if (before === undefined && after === undefined) return undefined;
    return checkedPair(after === undefined ? second : first, before, after, most);
  };
  /** One number of two tells nothing of what was used, and the other is not guessed. */
  const checkedPair = (
    key: NotebookKey,
    before: number | undefined,
    after: number | undefined,
    most: number,
  ): readonly [number, number] | undefined => {
    if (before === undefined || after === undefined)
      return wrong(key, 'Both are needed: before the ride and after it.');
    return Math.max(before, after) > most ? wrong(key, `At most ${most}.`) : [before, after];
  };
  const list = (key: NotebookKey): readonly number[] | undefined => {
    if (text(key) === '') return undefined;
    const values = text(key)
      .split(/[\s;/]+/)
      .map(readNumber);
    if (values.some((value) => value === undefined || value < 0 || value > 60))
      return wrong(key, 'Seconds of each try, for example 0.8 1.1 0.9.');
    return values as number[];
  };
  const km = (value: number | undefined): number | undefined =>
    value === undefined || !options.isImperial ? value : convertUnit(value, 'mi', 'km');
  const stepKm = (key: NotebookKey): number => km(stepOf(text(key)))!;

  const date = readDay(text('date'), options.isImperial);
  if (date === undefined) wrong('date', text('date') === '' ? 'Which day?' : 'A day such as 2026-04-12 or 12.4.2026.');
  if (date !== undefined && options.today !== undefined && date > options.today)
    wrong('date', `${date} is still to come: was the day typed after the month, or the year wrong?`);
  if (text('setup') === '') wrong('setup', 'Which setup was ridden?');
  const testKind = kindOf(text('test'));
  if (testKind === undefined)
    wrong('test', `One of ${TEST_KIND_NAMES.map((kind) => TEST_KINDS[kind].label).join(', ')}.`);
  const way = text('way') === '' ? null : (WAYS.find(([words]) => words.test(text('way')))?.[1] ?? undefined);
  if (way === undefined) wrong('way', 'Steady, light, hard, throttle, ghost or off.');
  const touch = text('touch') === '' ? null : TOUCHES.find(([words]) => words.test(text('touch')))?.[1];
  if (touch === undefined) wrong('touch', 'Cool, warm, hot (can be held), or cannot be held.');

  const trip = km(number('distance', 0.01, 1000));
  const odometer = pair('odometer', 'odometerStart', 'odometerEnd', 1_000_000);
  if (odometer && odometer[1] <= odometer[0])
    wrong(text('odometer') === '' ? 'odometerEnd' : 'odometer', 'The counter after has to be more than before.');
  const distanceKm = trip ?? (odometer && km(odometer[1] - odometer[0]));
  const isShort = testKind !== undefined && SHORT_RIDES.has(testKind);
  const wayKm = distanceKm ?? (isShort ? options.lengthKmOf?.(text('course')) : undefined);
  const duration = text('time') === '' ? undefined : readDuration(text('time'), wayKm);
  if (isShort && wayKm === undefined && HOURS_OR_MINUTES.test(text('time')))
    wrong('time', 'Minutes or hours? Write 4 min 35 s or 0:04:35, or the distance.');
  if (text('time') !== '' && !duration) wrong('time', 'A time such as 0:25, 25 min or 1 h 5 min.');

  const gauge = gaugeOf();
  const volts = pair('volts', 'voltsStart', 'voltsEnd', 120);
  const heart = text('heart') === '' ? undefined : readPair(text('heart'));
  if (text('heart') !== '' && !heart) wrong('heart', 'One or two numbers, for example 132 158.');
  const barsOut = barsOutOf();
  const speed = (key: NotebookKey): number | undefined => km(number(key, 0.1, 150));
  const mean = speed('mean');
  const readings: ManualReadings = withoutUndefined({
    tripDistanceKm: trip,
    tripStepKm: trip === undefined ? undefined : stepKm('distance'),
    odometerStartKm: odometer && km(odometer[0]),
    odometerEndKm: odometer && km(odometer[1]),
    odometerStepKm: odometer && km(stepOf(text('odometer') || text('odometerEnd'))),
    durationS: duration?.seconds,
    durationStepS: duration?.stepS,
    displayMeanKmh: mean,
    displayStepKmh: mean === undefined ? undefined : stepKm('mean'),
    highestSpeedKmh: speed('highest'),
    highestSpeedBackKmh: speed('highestBack'),
    lowestSpeedKmh: speed('lowest'),
    restVoltageStartV: volts?.[0],
    restVoltageEndV: volts?.[1],
    voltageStepV: volts ? stepOf(text('volts') || text('voltsEnd')) : undefined,
    wallEnergyWh: number('socket', 1, 20_000),
    wallStepWh: text('socket') === '' ? undefined : Math.max(1, stepOf(text('socket'))),
    highestPowerW: number('power', 1, 20_000),
    highestCurrentA: number('current', 0.1, 300),
    // In whichever order: the highest is the higher one.
    meanHeartRateBpm: heart && Math.min(heart[0] ?? heart[1], heart[1]),
    peakHeartRateBpm: heart?.[0] === undefined ? undefined : Math.max(heart[0], heart[1]),
    motorTouch: touch ?? undefined,
    helpAfterS: list('helpAfter'),
    runOnS: list('runOn'),
    brakeCutoffS: list('brakeCut'),
    cutBacks: number('cutBacks', 0, 1000),
    chargeHours: number('chargeHours', 0.1, 100),
    barsOut: barsOut.length > 0 ? barsOut : undefined,
  });
  for (const { code } of contradictionsOf(readings)) wrong(...mendOf(code, cells));
  const air = number('air', -40, 130);
  const ride: NotebookRide = {
    date: date ?? '',
    setup: text('setup'),
    course: text('course'),
    testKind: testKind ?? 'range',
    way: way ?? null,
    level: text('level').slice(0, 20),
    payloadKg: number('payload', 0, 300) ?? null,
    gauge,
    emptied: /^(y|yes|x|1|true|ja|until empty|empty)$/i.test(text('emptied')),
    perceivedEffort: number('felt', 0, 10) ?? null,
    airTemperatureC: air === undefined ? null : options.isImperial ? (air - 32) / 1.8 : air,
    notes: text('notes'),
    readings,
  };
  if (Object.keys(readings).length === 0 && gauge === null)
    wrong('distance', 'Nothing was read off on this ride: a distance, a time, bars or volts.');
  return { ride, problems };

  function gaugeOf(): NotebookRide['gauge'] {
    if (text('percent') !== '') {
      const [before, after] = readPair(text('percent')) ?? [];
      const read = checkedPair('percent', before, after, 100);
      return read ? checked('percent', { start: read[0], end: read[1], bars: 100 }) : null;
    }
    const read = pair('bars', 'barsStart', 'barsEnd', 100);
    if (!read) return null;
    if (options.barsWhenFull === undefined)
      return wrong('bars', 'How many bars does this gauge show when full? Say it for the setup.') ?? null;
    return checked('bars', { start: read[0], end: read[1], bars: options.barsWhenFull });
  }
  function checked(key: NotebookKey, read: NonNullable<NotebookRide['gauge']>): NotebookRide['gauge'] {
    if (read.start > read.bars) return wrong(key, `The gauge has ${read.bars} when full.`) ?? null;
    if (read.end > read.start) return wrong(key, 'More after the ride than before.') ?? null;
    return read;
  }
  function barsOutOf(): { km: number; left: number }[] {
    if (text('barsOut') === '') return [];
    const found = [
      ...text('barsOut').matchAll(/(\d+(?:[.,]\d+)?)\s*(?:left)?\s*(?:at|@)\s*(?:km\s*)?(\d+(?:[.,]\d+)?)/gi),
    ];
    if (found.length === 0) wrong('barsOut', 'For example: 4 left at 6.2, 3 left at 13.');
    return found.map(([, left, at]) => ({
      left: Number(left!.replace(',', '.')),
      km: km(Number(at!.replace(',', '.')))!,
    }));
  }
}

/** The cell to look at first, and what to look at. */
function mendOf(code: Contradiction['code'], cells: NotebookCells): [NotebookKey, string] {
  switch (code) {
    case 'distances-disagree':
      return [
        (cells.odometer ?? '').trim() === '' ? 'odometerEnd' : 'odometer',
        'The trip distance and the odometer do not say the same: one is written wrongly.',
      ];
    case 'too-fast':
      return ['time', 'No bike goes this far in this time: look at the distance and the time.'];
    case 'too-slow':
      return ['time', 'This far in this time is slower than pushing: look at the distance and the time.'];
    case 'mean-too-low':
      return ['mean', 'Below distance over time: look at the average, the distance and the time.'];
    case 'highest-below-mean':
      return ['highest', 'Below the average, or below distance over time: one of them is written wrongly.'];
    case 'lowest-above-highest':
      return ['lowest', 'Above the highest: were they exchanged?'];
    case 'bar-after-the-end':
      return ['barsOut', 'A bar went out further on than the ride went.'];
    case 'peak-below-mean':
      return ['heart', 'The highest is below the average.'];
  }
}

function hintOf(key: NotebookKey): string {
  const column: NotebookColumn = NOTEBOOK_COLUMNS.find((one) => one.key === key)!;
  return column.hint ?? '';
}

function kindOf(cell: string): TestKind | undefined {
  if (cell === '') return 'range';
  const words = cell.toLowerCase();
  return TEST_KIND_NAMES.find(
    (kind) =>
      kind === words || TEST_KINDS[kind].label.toLowerCase().startsWith(words) || kind.replace('-', ' ') === words,
  );
}

/** "12.4" counts in tenths; a whole number in ones; of several numbers the finest. */
function stepOf(cell: string): number {
  const decimals = [...cell.matchAll(/\d+(?:[.,](\d+))?/g)].map(([, part = '']) => part.length);
  return 10 ** -Math.min(3, Math.max(0, ...decimals));
}

function withoutUndefined<T extends object>(values: T): { [K in keyof T]: Exclude<T[K], undefined> } {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as never;
}
