import { seededRandom, standardNormal, solveSymmetric } from '../numeric/index.js';
import { GROUP_LABELS, groupOf, centreOf, sampleOf, type Calibration, type Group } from './calibrate.js';
import { PARAMETER_NAMES, type Parameters } from './parameters.js';
import { ridePath, type PathBike, type PathColumns, type PathOutcome, type PathRiding } from './ride-path.js';
import { beyondWhatWasRidden } from './beyond-ridden.js';
import { figuresOfPath, FORECAST_FIGURES, type FigureKey } from './path-figures.js';
import { airOf, wayOf, type Scenario } from './scenario.js';
import type { Trust } from './trust.js';

export interface ForecastFigure {
  readonly key: FigureKey;
  readonly label: string;
  readonly value: number;
  readonly unit: string;
  readonly interval95: readonly [number, number];
  /** Shares of the variance, largest first. */
  readonly contributions: readonly { readonly source: string; readonly share: number }[];
}
/** Along the way: the most probable ride, and the band that holds 95 in 100. */
export interface ForecastPoint {
  readonly distanceM: number;
  readonly altitudeM: number;
  readonly speedKmh: number;
  readonly powerW: number;
  readonly chargeLeftShare: number;
  readonly chargeBand: readonly [number, number];
  readonly motorTemperatureC: number;
  readonly temperatureBand: readonly [number, number];
}
export interface ForecastWarning {
  readonly code: string;
  readonly message: string;
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

const DAY = {
  windStated: 0.4,
  windUnknown: 1.3,
  riderStated: 0.06,
  riderUsual: 0.25,
  demand: 0.015,
  startShare: 0.01,
  airK: 1,
  massKg: 0.4,
} as const;
const USUAL_RIDER_W = 80;
const USUAL_AIR_C = 15;
const USUAL_RESERVE = 0.1;
const INSTRUMENT: Partial<Record<FigureKey, number>> = {
  energyOut: 0.01,
  netConsumption: 0.01,
  time: 0.003,
  meanSpeed: 0.003,
  minSpeed: 0.005,
  rangeWithReserve: 0.01,
  rangeToCutoff: 0.01,
};
/** What the picture of a bike cannot be better than, σ of the logarithm: another day on the same way. */
const MODEL: Partial<Record<FigureKey, number>> = {
  energyOut: 0.012,
  netConsumption: 0.012,
  time: 0.006,
  meanSpeed: 0.006,
  minSpeed: 0.015,
  rangeWithReserve: 0.015,
  rangeToCutoff: 0.015,
};
/** Of a temperature's rise. */
const RISE_MODEL = 0.05;

/** A day's luck beside the parameters, in standard normals. */
interface Day {
  readonly wind: number;
  readonly rider: number;
  readonly demand: number;
  readonly start: number;
  readonly air: number;
  readonly mass: number;
  readonly ramp: number;
}
const DAY_GROUPS: Record<keyof Day, Group> = {
  wind: 'wind',
  rider: 'rider',
  demand: 'rider',
  start: 'pack',
  air: 'day',
  mass: 'day',
  ramp: 'rider',
};
const CALM_DAY: Day = { wind: 0, rider: 0, demand: 0, start: 0, air: 0, mass: 0, ramp: 0 };

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
    const { parameters, moved } = sampleOf(calibration.parts, calibration.priors, normal);
    const day = Object.fromEntries(Object.keys(CALM_DAY).map((key) => [key, normal()])) as unknown as Day;
    const columns = columnsOf();
    const outcome = ride(parameters, day, columns);
    drawn.push({
      figures: figuresOfPath(outcome, parameters, context),
      draws: [...PARAMETER_NAMES.map((name) => moved[name]), ...Object.values(day)],
      outcome,
      columns,
      noise: { time: normal(), energy: normal(), other: normal(), rise: normal() },
    });
  }
  const groups: Group[] = [
    ...PARAMETER_NAMES.map(groupOf),
    ...(Object.keys(CALM_DAY) as (keyof Day)[]).map((key) => DAY_GROUPS[key]),
  ];
  const startC = scenario.startMotorC ?? airOf(scenario, USUAL_AIR_C).temperatureC;
  const figures = FORECAST_FIGURES.flatMap(({ key, label, unit }): ForecastFigure[] => {
    const value = likelyFigures[key];
    if (!Number.isFinite(value)) return [];
    const usable = drawn.filter((sample) => Number.isFinite(sample.figures[key]));
    // A figure that most rides do not have is none.
    if (usable.length < samples / 2) return [];
    const isRise = key === 'motorTemperaturePeak';
    // Of the charge, what is used is unsure by a share, not what is left.
    const size =
      key === 'chargeLeftShare'
        ? Math.max(0, scenario.startShare - value)
        : isRise
          ? Math.max(1, Math.abs(value - startC))
          : Math.abs(value);
    const instrument = isRise ? 0.5 : (INSTRUMENT[key] ?? 0) * size;
    const beyond = dayScatter(key, trust);
    const model = isRise ? Math.hypot(RISE_MODEL, beyond) * size : Math.hypot(MODEL[key] ?? 0, beyond) * size;
    // Time and mean speed, energy and consumption miss together.
    const { of, sign } = NOISE[key];
    const values = usable.map(
      (sample) => sample.figures[key] + sign * Math.hypot(instrument, model) * sample.noise[of],
    );
    return [
      {
        key,
        label,
        unit,
        value,
        interval95: heldIn(key, interval(values, value)),
        contributions: contributionsOf(
          usable.map((sample) => sample.draws),
          usable.map((sample) => sample.figures[key]),
          groups,
          { instrument: instrument ** 2, day: model ** 2 },
        ),
      },
    ];
  });
  const share = (is: (outcome: PathOutcome) => boolean): number =>
    drawn.filter(({ outcome }) => is(outcome)).length / Math.max(1, samples);
  const ends = drawn.map(({ outcome }) => outcome.endedBy).filter((end) => end !== 'finish');
  return {
    figures,
    along: alongOf(
      middle,
      drawn.map(({ columns }) => columns),
      scenario,
    ),
    warnings: beyondWhatWasRidden(calibration, scenario, way, likely),
    notThere: {
      share: ends.length / Math.max(1, samples),
      by:
        (['cut-off', 'stall', 'time'] as const).find(
          (end) => ends.filter((e) => e === end).length * 2 >= ends.length && ends.length > 0,
        ) ?? null,
    },
    belowReserve: share((outcome) => outcome.endShare < (scenario.reserveShare ?? USUAL_RESERVE)),
    cutBack: share(({ cutBackM }) => cutBackM > 0),
  };
}

/** Bike, riding, air and start of one path. */
export function setOut(
  { fixed, command, motion }: Calibration,
  scenario: Scenario,
  parameters: Parameters,
  day: Day,
  lengthM: number,
): {
  bike: PathBike;
  riding: PathRiding;
  air: { density: number; temperatureC: number; headWindMps: number };
  start: { share: number; motorC: number; speedMps: number };
} {
  const { riding, secondPack, windMps } = scenario;
  const air = airOf(scenario, USUAL_AIR_C);
  const temperatureC = air.temperatureC + DAY.airK * day.air;
  const level = riding.level === undefined ? undefined : command.levels.find((seen) => seen.level === riding.level);
  const demand = riding.demand ?? (level ? level.demand + level.sd * day.demand : 1);
  const { mean: told, sd: fromRideToRide } = motion.rider;
  const riderDoubt = Math.hypot(
    riding.riderPowerW === undefined ? DAY.riderUsual : DAY.riderStated,
    motion.isRiderTold ? fromRideToRide : 0,
  );
  const stops = Math.floor(((riding.stopsPerKm ?? 0) * lengthM) / 1000);
  const share = secondPack ? parameters.capacity / (parameters.capacity + secondPack.capacityAh) : 1;
  return {
    bike: {
      parameters: {
        ...parameters,
        capacity: parameters.capacity / share,
        // A second pack in parallel is taken to resist as the first does for its size.
        packResistance: parameters.packResistance * share,
        slowResistance: parameters.slowResistance * share,
      },
      fixed,
      law: command.law,
      massKg: scenario.totalMassKg + (secondPack?.massKg ?? 0) + DAY.massKg * day.mass,
      cutBackFromC: fixed.temperatureLimitC ?? Infinity,
      cutBackToC: (fixed.temperatureLimitC ?? Infinity) + 20,
    },
    riding: {
      demand: Math.min(1, Math.max(0, demand * Math.exp(level ? 0 : DAY.demand * day.demand))),
      targetMps: riding.targetSpeedKmh === undefined ? Infinity : riding.targetSpeedKmh / 3.6,
      riderW:
        (riding.riderPowerW ?? USUAL_RIDER_W) * Math.exp((motion.isRiderTold ? told : 0) + riderDoubt * day.rider),
      stopsM: Array.from({ length: stops }, (_, k) => ((k + 0.5) * lengthM) / stops),
      dwellS: 12,
      rampS: 1 + 0.4 * Math.max(-2, Math.min(2, day.ramp)),
    },
    air: {
      temperatureC,
      density: air.density * (1 - (DAY.airK * day.air) / 290),
      headWindMps: (windMps ?? 0) + (windMps === undefined ? DAY.windUnknown : DAY.windStated) * day.wind,
    },
    start: {
      share: Math.min(1, scenario.startShare + DAY.startShare * day.start),
      motorC: scenario.startMotorC ?? temperatureC,
      speedMps: 2,
    },
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
  motorTemperaturePeak: { of: 'rise', sign: 1 },
  lowestVoltage: { of: 'other', sign: 1 },
  secondsToLimit: { of: 'rise', sign: -1 },
  riderShare: { of: 'other', sign: 1 },
};
/** Where nothing was checked. */
const UNCHECKED = { energy: 0.04, time: 0.02, rise: 0.12 } as const;

function dayScatter(key: FigureKey, trust: Trust | undefined): number {
  const { of } = NOISE[key];
  return of === 'other' ? 0 : (trust?.[of]?.beyond ?? UNCHECKED[of]);
}

function interval(values: readonly number[], centre: number): readonly [number, number] {
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number): number => {
    const position = share * (sorted.length - 1);
    const low = Math.floor(position);
    const high = Math.min(sorted.length - 1, low + 1);
    return sorted[low]! + (position - low) * (sorted[high]! - sorted[low]!);
  };
  return [Math.min(centre, at(0.022)), Math.max(centre, at(0.978))];
}

function heldIn(key: FigureKey, [low, high]: readonly [number, number]): readonly [number, number] {
  return key === 'chargeLeftShare'
    ? [Math.max(0, low), Math.min(1, high)]
    : key === 'motorTemperaturePeak'
      ? [low, high]
      : [Math.max(0, low), high];
}

/** Shares of a figure's variance by group: Σ β·cov(draw, figure) of the linear regression on the draws; what it leaves counts as the day's. */
function contributionsOf(
  draws: readonly (readonly number[])[],
  values: readonly number[],
  groups: readonly Group[],
  added: { readonly instrument: number; readonly day: number },
): ForecastFigure['contributions'] {
  const n = values.length;
  const p = groups.length;
  const meanOf = (xs: readonly number[]): number => xs.reduce((sum, x) => sum + x, 0) / n;
  const yMean = meanOf(values);
  const means = groups.map((_, j) => meanOf(draws.map((row) => row[j]!)));
  const normal = new Float64Array(p * p);
  const right = new Float64Array(p);
  let variance = 0;
  draws.forEach((row, i) => {
    const y = values[i]! - yMean;
    variance += (y * y) / n;
    for (let a = 0; a < p; a++) {
      const xa = row[a]! - means[a]!;
      right[a]! += (xa * y) / n;
      for (let b = 0; b <= a; b++) normal[a * p + b]! += (xa * (row[b]! - means[b]!)) / n;
    }
  });
  for (let a = 0; a < p; a++) {
    for (let b = 0; b < a; b++) normal[b * p + a] = normal[a * p + b]!;
    normal[a * p + a] = normal[a * p + a]! * 1.001 + 1e-18;
  }
  const beta = solveSymmetric(normal, right);
  const total = variance + added.instrument + added.day;
  if (!(total > 0)) return [];
  const shares = new Map<Group, number>([
    ['instrument', added.instrument / total],
    ['day', added.day / total],
  ]);
  let explained = 0;
  if (beta)
    groups.forEach((group, j) => {
      const part = Math.max(0, beta[j]! * right[j]!);
      explained += part;
      shares.set(group, (shares.get(group) ?? 0) + part / total);
    });
  const scale = explained > variance ? variance / explained : 1;
  return [...shares]
    .map(([group, part]) => ({
      source: GROUP_LABELS[group],
      share: group === 'instrument' || group === 'day' ? part : part * scale,
    }))
    .filter(({ share }) => share > 0.005)
    .sort((a, b) => b.share - a.share);
}

function emptyColumns(lengthM: number, points: number): PathColumns {
  const column = (): Float64Array => new Float64Array(points + 1).fill(NaN);
  return {
    everyM: lengthM / points,
    timeS: column(),
    speedMps: column(),
    powerW: column(),
    voltageV: column(),
    share: column(),
    motorC: column(),
    energyJ: column(),
  };
}

function alongOf(middle: PathColumns, samples: readonly PathColumns[], { profile }: Scenario): ForecastPoint[] {
  const first = profile[0]!.distanceM;
  let segment = 1;
  const altitudeAt = (distanceM: number): number => {
    while (segment < profile.length - 1 && profile[segment]!.distanceM - first < distanceM) segment++;
    const [a, b] = [profile[segment - 1]!, profile[segment]!];
    return (
      a.altitudeM + ((b.altitudeM - a.altitudeM) * (distanceM - (a.distanceM - first))) / (b.distanceM - a.distanceM)
    );
  };
  const band = (of: (columns: PathColumns) => Float64Array, k: number): readonly [number, number] => {
    const values = samples.map((columns) => of(columns)[k]!).filter((value) => !Number.isNaN(value));
    const centre = of(middle)[k]!;
    return values.length === 0 ? [centre, centre] : interval(values, centre);
  };
  const points: ForecastPoint[] = [];
  for (let k = 0; k < middle.timeS.length; k++) {
    if (Number.isNaN(middle.timeS[k]!)) break;
    points.push({
      distanceM: k * middle.everyM,
      altitudeM: altitudeAt(k * middle.everyM),
      speedKmh: middle.speedMps[k]! * 3.6,
      powerW: middle.powerW[k]!,
      chargeLeftShare: middle.share[k]!,
      chargeBand: band(({ share }) => share, k),
      motorTemperatureC: middle.motorC[k]!,
      temperatureBand: band(({ motorC }) => motorC, k),
    });
  }
  return points;
}
