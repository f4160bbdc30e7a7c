import { seededRandom, standardNormal } from '../numeric/index.js';
import { alongOf, emptyColumns, type ForecastPoint } from './along-way.js';
import { groupOf, centreOf, knowsController, sampleOf, type Calibration, type Group } from './calibrate.js';
import { contributionsOf, type Contributions } from './contributions.js';
import { middle95 } from './middle-95.js';
import { PARAMETER_NAMES, type Parameters } from './parameters.js';
import type { PathColumns, PathOutcome } from './path.js';
import { ridePath } from './ride-path.js';
import { beyondWhatWasRidden } from './beyond-ridden.js';
import { farthestReturn } from './farthest-return.js';
import { figuresOfPath, FORECAST_FIGURES, RETURN_FIGURE, type FigureKey } from './path-figures.js';
import { CALM_DAY, DAY_GROUPS, DAY_KEYS, setOut, USUAL_AIR_C, USUAL_RESERVE, type Day } from './set-out.js';
import { airOf, wayOf, type ForecastWarning, type Scenario } from './scenario.js';
import type { Trust } from './trust.js';

export interface ForecastFigure {
  readonly key: FigureKey | typeof RETURN_FIGURE.key;
  readonly label: string;
  readonly value: number;
  readonly unit: string;
  readonly interval95: readonly [number, number];
  /** Shares of the variance, largest first. */
  readonly contributions: Contributions;
}
export interface Forecast {
  readonly figures: readonly ForecastFigure[];
  readonly along: readonly ForecastPoint[];
  readonly warnings: readonly ForecastWarning[];
  /** How many in 100 rides would not get to the end, and by what. */
  readonly notThere: { readonly share: number; readonly by: 'cut-off' | 'stall' | 'time' | null };
  /** The charge falls to the reserve before the end in so many of 100. */
  readonly belowReserve: number;
  /** Help is cut back by heat somewhere in so many of 100. */
  readonly cutBack: number;
}

export interface ForecastOptions {
  readonly samples?: number;
  readonly seed?: number;
  readonly points?: number;
  readonly trust?: Trust;
}

const INSTRUMENT: Partial<Record<FigureKey, number>> = {
  energyOut: 0.01,
  netConsumption: 0.01,
  time: 0.003,
  meanSpeed: 0.003,
  minSpeed: 0.005,
  rangeWithReserve: 0.01,
  rangeToCutoff: 0.01,
  packChange: 0.01,
};
/** What the picture of a bike cannot be better than, σ of the logarithm: another day on the same way. */
const MODEL: Partial<Record<FigureKey, number>> = {
  energyOut: 0.01,
  netConsumption: 0.01,
  time: 0.006,
  meanSpeed: 0.006,
  minSpeed: 0.015,
  rangeWithReserve: 0.015,
  rangeToCutoff: 0.015,
  packChange: 0.015,
};
/** Of a temperature's rise. */
const RISE_MODEL = 0.04;

/**
 * A ride that nobody rode yet: figures with the interval that the next ride lies in, in 95 of 100, and what each is unsure by.
 *
 * Method: `ridePath` for draws of the calibrated parameters and of the day; what forecasts of this bike's own rides missed by (`trust`) and what
 * a picture cannot be better than are added. Contributions by linear regression of the drawn figures on the draws. Same seed, same answer.
 * Fails: throws `bad-scenario` for a way or conditions that cannot be.
 */
export function forecast(calibration: Calibration, scenario: Scenario, options: ForecastOptions = {}): Forecast {
  const { samples = 400, seed = 1, points = 200, trust } = options;
  const way = wayOf(scenario);
  const random = seededRandom(seed);
  const normal = (): number => standardNormal(random);
  const columnsOf = (): PathColumns => emptyColumns(way.lengthM, points);
  const ride = (parameters: Parameters, day: Day, columns: PathColumns): PathOutcome => {
    const { bike, riding, air, start } = setOut(calibration, scenario, parameters, day, way.lengthM);
    return ridePath(bike, way, riding, air, start, columns);
  };
  const centre = centreOf(calibration);
  const middle = columnsOf();
  const likely = ride(centre, CALM_DAY, middle);
  const context = { calibration, scenario, isPartial: likely.endedBy !== 'finish' };
  const likelyFigures = figuresOfPath(likely, centre, context);
  const drawn: {
    figures: Record<FigureKey, number>;
    draws: number[];
    outcome: PathOutcome;
    columns: PathColumns;
    noise: Record<NoiseKind, number>;
  }[] = [];
  for (let k = 0; k < samples; k++) {
    const { parameters, moved } = sampleOf(calibration, normal);
    const day = Object.fromEntries(DAY_KEYS.map((key) => [key, normal()])) as Record<keyof Day, number>;
    const columns = columnsOf();
    const outcome = ride(parameters, day, columns);
    drawn.push({
      figures: figuresOfPath(outcome, parameters, context),
      draws: [...PARAMETER_NAMES.map((name) => moved[name]), ...DAY_KEYS.map((name) => day[name])],
      outcome,
      columns,
      noise: { time: normal(), energy: normal(), other: normal(), rise: normal() },
    });
  }
  const groups: Group[] = [...PARAMETER_NAMES.map(groupOf), ...DAY_KEYS.map((key) => DAY_GROUPS[key])];
  const startC = scenario.startMotorC ?? airOf(scenario, USUAL_AIR_C).temperatureC;
  const figures = FORECAST_FIGURES.flatMap(({ key, label, unit }): ForecastFigure[] => {
    const value = likelyFigures[key];
    if (!Number.isFinite(value)) return [];
    const usable = drawn.filter((sample) => Number.isFinite(sample.figures[key]));
    // A figure that most rides do not have is none.
    if (usable.length < samples / 2) return [];
    if (key === 'controllerTemperaturePeak' && !knowsController(calibration)) return [];
    const isRise = isTemperature(key);
    // Of the charge, what is used is unsure by a share, not what is left.
    const size =
      key === 'chargeLeftShare'
        ? Math.max(0, scenario.startShare - value)
        : isRise
          ? Math.max(1, Math.abs(value - startC))
          : Math.abs(value);
    const instrument = isRise ? 0.5 : (INSTRUMENT[key] ?? 0) * size;
    const model = scatterOf(key, trust) * size;
    // Time and mean speed, energy and consumption miss together.
    const { of, sign } = NOISE[key];
    const within = withinOf(key, trust);
    const values = usable.map(
      (sample) =>
        value + within * (sample.figures[key] - value) + sign * Math.hypot(instrument, model) * sample.noise[of],
    );
    return [
      {
        key,
        label,
        unit,
        value,
        interval95: heldIn(key, middle95(values, value)),
        contributions: contributionsOf(
          usable.map((sample) => sample.draws),
          usable.map((sample) => sample.figures[key]),
          groups,
          { instrument: (instrument / within) ** 2, day: (model / within) ** 2 },
        ),
      },
    ];
  });
  const share = (is: (outcome: PathOutcome) => boolean): number =>
    drawn.filter(({ outcome }) => is(outcome)).length / Math.max(1, samples);
  const ends = drawn.map(({ outcome }) => outcome.endedBy).filter((end) => end !== 'finish');
  const range = figures.find(({ key }) => key === 'rangeWithReserve');
  const home = range && returnFigure(range, farthestReturn(calibration, scenario, centre, likely));
  const [energyOff, riseOff] = [scatterOf('energyOut', trust), scatterOf('motorTemperaturePeak', trust)];
  const ways = drawn.map(({ columns, noise }) => ({
    columns,
    usedOff: energyOff * noise.energy,
    riseOff: riseOff * noise.rise,
    controllerOff: scatterOf('controllerTemperaturePeak', trust) * noise.other,
  }));
  const reserveShare = scenario.reserveShare ?? USUAL_RESERVE;
  const belowReserve = drawn.filter(({ outcome: { usedShare } }, k) => {
    return scenario.startShare - usedShare * (1 + ways[k]!.usedOff) < reserveShare;
  }).length;
  return {
    figures: home ? [...figures, home] : figures,
    along: alongOf(middle, ways, scenario, {
      hasController: knowsController(calibration),
      riseWithin: withinOf('motorTemperaturePeak', trust),
    }),
    warnings: beyondWhatWasRidden(calibration, scenario, way, likely),
    notThere: {
      share: ends.length / Math.max(1, samples),
      by:
        (['cut-off', 'stall', 'time'] as const).find(
          (end) => ends.filter((e) => e === end).length * 2 >= ends.length && ends.length > 0,
        ) ?? null,
    },
    belowReserve: belowReserve / Math.max(1, samples),
    cutBack: share(({ cutBackM }) => cutBackM > 0),
  };
}

type NoiseKind = 'time' | 'energy' | 'rise' | 'other';
/** Which figures miss together, and which way. */
const NOISE: Record<FigureKey, { readonly of: NoiseKind; readonly sign: 1 | -1 }> = {
  time: { of: 'time', sign: 1 },
  meanSpeed: { of: 'time', sign: -1 },
  minSpeed: { of: 'time', sign: -1 },
  energyOut: { of: 'energy', sign: 1 },
  netConsumption: { of: 'energy', sign: 1 },
  chargeLeftShare: { of: 'energy', sign: -1 },
  rangeWithReserve: { of: 'energy', sign: -1 },
  rangeToCutoff: { of: 'energy', sign: -1 },
  packChange: { of: 'energy', sign: -1 },
  motorTemperaturePeak: { of: 'rise', sign: 1 },
  controllerTemperaturePeak: { of: 'other', sign: 1 },
  lowestVoltage: { of: 'other', sign: 1 },
  secondsToLimit: { of: 'rise', sign: -1 },
  riderShare: { of: 'other', sign: 1 },
};
/** Where nothing was checked. */
const UNCHECKED = { energy: 0.04, time: 0.02, rise: 0.12 } as const;

/** What the picture of a bike and this bike's own checks missed, as a share: of a temperature of its rise, of a charge of what is used. */
function scatterOf(key: FigureKey, trust: Trust | undefined): number {
  const { of } = NOISE[key];
  // Nobody checks how warm a controller was foretold: as the motor before its checks.
  if (key === 'controllerTemperaturePeak') return Math.hypot(RISE_MODEL, UNCHECKED.rise);
  const checked = of === 'other' ? 0 : (trust?.[of]?.beyond ?? UNCHECKED[of]);
  return Math.hypot(isTemperature(key) || of === 'rise' ? RISE_MODEL : (MODEL[key] ?? 0), checked);
}

/** Its checks saw these alone: what the pack holds no forecast of a single ride tries. */
const CHECKED: ReadonlySet<FigureKey> = new Set([
  'time',
  'meanSpeed',
  'energyOut',
  'netConsumption',
  'motorTemperaturePeak',
]);

/** Where this bike's checks came out closer than its draws allow for, the draws count for less; of what was not checked they count whole. */
function withinOf(key: FigureKey, trust: Trust | undefined): number {
  const { of } = NOISE[key];
  return of === 'other' || !CHECKED.has(key) ? 1 : (trust?.[of]?.within ?? 1);
}

/** As unsure as the range; not more than the whole way. */
function returnFigure(range: ForecastFigure, farthestM: (factor: number) => number): ForecastFigure | undefined {
  const [low, high] = range.interval95;
  const value = farthestM(1) / 1000;
  if (!(value > 0) || !(low > 0)) return undefined;
  return {
    ...RETURN_FIGURE,
    value,
    interval95: [farthestM(range.value / low) / 1000, farthestM(range.value / high) / 1000],
    contributions: range.contributions,
  };
}

function isTemperature(key: FigureKey): boolean {
  return key === 'motorTemperaturePeak' || key === 'controllerTemperaturePeak';
}

function heldIn(key: FigureKey, [low, high]: readonly [number, number]): readonly [number, number] {
  if (isTemperature(key)) return [low, high];
  return [Math.max(0, low), key === 'chargeLeftShare' || key === 'riderShare' ? Math.min(1, high) : high];
}
