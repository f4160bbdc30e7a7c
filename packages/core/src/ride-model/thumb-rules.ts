import type { ConvertedSetup, ThumbRule } from '../bench/index.js';
import { requirePositive } from '../errors/index.js';
import { logNormalPrediction } from '../statistics/index.js';
import { EFFORTS, modelFromFacts, type Effort } from './model-from-facts.js';
import type { RideCourse, RideModel } from './parameters.js';
import { simulateRide } from './simulate-ride.js';

/** The ordinary round that a rule of thumb is worked out on, and half of the span that each part of it may move by. */
const ROUND = { lengthM: 1000, climbMPerKm: 8, stopsPerKm: 1, airTemperatureC: 15, windMps: 0 } as const;
interface Otherwise {
  readonly climbMPerKm?: number;
  readonly stopsPerKm?: number;
  readonly dragShare?: number;
  readonly rollingShare?: number;
  readonly riderShare?: number;
  readonly speedShare?: number;
  readonly windMps?: number;
}
const OTHERWISE: readonly (readonly [Otherwise, Otherwise])[] = [
  [{ climbMPerKm: 2 }, { climbMPerKm: 16 }],
  [{ stopsPerKm: 0 }, { stopsPerKm: 2 }],
  [{ dragShare: 0.8 }, { dragShare: 1.2 }],
  [{ rollingShare: 0.75 }, { rollingShare: 1.25 }],
  [{ speedShare: 0.92 }, { speedShare: 1.08 }],
  [{}, { windMps: 4 }],
];
const PEDALLED: readonly (readonly [Otherwise, Otherwise])[] = [[{ riderShare: 1.35 }, { riderShare: 0.65 }]];
/** What a motor takes from the pack for its work is known to about this much before any ride. */
const DRIVE_DOUBT = 0.1;
const HUMPS_PER_KM = 2;
const STEP_S = 0.05;

export type ThumbWay = 'throttle' | 'pedalling';
const WAYS: Readonly<Record<ThumbWay, { effort: Effort; speedKmh: number; words: string }>> = {
  throttle: { effort: 'throttle', speedKmh: 30, words: 'throttle only' },
  pedalling: { effort: 'steady', speedKmh: 23, words: 'moderate pedalling' },
};
/** Which rule a ride of an effort teaches. Cranks turned without force take from the pack what a throttle takes. */
export function thumbWayOf(effort: Effort | null): ThumbWay | undefined {
  if (effort === 'throttle' || effort === 'ghost') return 'throttle';
  return effort === 'light' || effort === 'steady' || effort === 'hard' ? 'pedalling' : undefined;
}

/** A rule that the ride model or own rides gave; its words name the conditions. */
export interface WorkedRule extends ThumbRule {
  readonly way: ThumbWay;
  readonly lowerWhPerKm: number;
  readonly upperWhPerKm: number;
  readonly basis: string;
}

/**
 * Rules of thumb of a setup, in Wh/km at the pack: by throttle alone near 30 km/h and with moderate pedalling near 23 km/h, or as fast as it gets.
 *
 * Method: the ride model on an ordinary round (8 m of climbing and one stop per km, calm, 15 °C), ridden again with each condition at either end
 * of what is usual; the effects add up in quadrature on logarithms. The span is for one ordinary ride, not for a hill or a storm.
 * A setup without a throttle has no rule for it.
 */
export function workedThumbRules(setup: ConvertedSetup): WorkedRule[] {
  const ways = (Object.keys(WAYS) as ThumbWay[]).filter((way) => isRidden(setup, way));
  return ways.map((way) => {
    const { effort, speedKmh, words } = WAYS[way];
    const { model } = modelFromFacts(setup, { effort, level: null, targetSpeedKmh: speedKmh });
    const usual = ride(model, {});
    const spans = [...OTHERWISE, ...(EFFORTS[effort].riderW > 0 ? PEDALLED : [])].map(([less, more]) => [
      Math.log(ride(model, less).whPerKm / usual.whPerKm),
      Math.log(ride(model, more).whPerKm / usual.whPerKm),
    ]);
    const down = Math.hypot(DRIVE_DOUBT, ...spans.map((pair) => Math.min(0, ...pair)));
    const up = Math.hypot(DRIVE_DOUBT, ...spans.map((pair) => Math.max(0, ...pair)));
    const name = `${words}, near ${Math.round(usual.speedKmh)} km/h`;
    return {
      way,
      name,
      whPerKm: usual.whPerKm,
      lowerWhPerKm: usual.whPerKm * Math.exp(-down),
      upperWhPerKm: usual.whPerKm * Math.exp(up),
      basis: 'worked out by the ride model: 8 m of climbing and one stop per km, calm, 15 °C',
    };
  });
}

function isRidden({ kit }: ConvertedSetup, way: ThumbWay): boolean {
  return way === 'pedalling' || kit.throttle !== 'none';
}

function ride(model: RideModel, otherwise: Otherwise): { whPerKm: number; speedKmh: number } {
  const { climbMPerKm, stopsPerKm, windMps } = { ...ROUND, ...otherwise };
  const { dragShare = 1, rollingShare = 1, riderShare = 1, speedShare = 1 } = otherwise;
  const { bike, rider } = model;
  const { terminalEnergyOutJ, terminalEnergyRegeneratedJ, movingS, trace } = simulateRide(
    {
      ...model,
      bike: {
        ...bike,
        dragAreaM2: bike.dragAreaM2 * dragShare,
        rollingResistanceCoefficient: bike.rollingResistanceCoefficient * rollingShare,
      },
      rider: {
        ...rider,
        powerW: rider.powerW * riderShare,
        targetSpeedMps: rider.targetSpeedMps * speedShare,
      },
    },
    roundOf(climbMPerKm, stopsPerKm),
    {
      airDensity: 1.225,
      airTemperatureC: ROUND.airTemperatureC,
      windMps,
      startStateOfCharge: 0.7,
      startMotorC: ROUND.airTemperatureC,
    },
    // One kilometre of many: at its beginning and its end the bike is under way.
    { stepS: STEP_S, startSpeedMps: 0.9 * rider.targetSpeedMps },
  );
  const km = (trace.distanceM.at(-1) ?? 0) / 1000;
  requirePositive({ movingS, km });
  return {
    whPerKm: Math.max(0.5, (terminalEnergyOutJ - terminalEnergyRegeneratedJ) / 3600 / km),
    speedKmh: (km * 3600) / movingS,
  };
}

function roundOf(climbMPerKm: number, stopsPerKm: number): RideCourse {
  const { lengthM } = ROUND;
  const humps = (lengthM / 1000) * HUMPS_PER_KM;
  const top = climbMPerKm / HUMPS_PER_KM;
  const stops = Math.round((lengthM / 1000) * stopsPerKm);
  return {
    lengthM,
    profile: Array.from({ length: 2 * humps + 1 }, (_, k) => ({
      distanceM: (k * lengthM) / (2 * humps),
      altitudeM: k % 2 === 0 ? 0 : top,
    })),
    stops: Array.from({ length: stops }, (_, k) => ({ distanceM: ((k + 0.5) * lengthM) / stops, dwellS: 10 })),
  };
}

/** From this many rides on their own scatter says where the next one will lie. */
const ENOUGH_RIDES = 5;
/** Scatter between ordinary rides of one bike on logarithms, until there are enough of them to say it themselves. */
const USUAL_SCATTER = 0.12;
const NORMAL_975 = 1.96;

/**
 * A rule of thumb that own rides have taught: the middle of their consumption and where the next such ride will lie.
 *
 * Method: from five rides on a log-normal prediction interval of them alone; with fewer, their mean and the rule as worked out weighed by
 * their precision on logarithms (normal with known variances), a scatter of 12 % between rides taken as usual.
 * Rides in Wh/km, > 0, of one way of riding.
 */
export function learnedRule(rule: WorkedRule, ridesWhPerKm: readonly number[]): WorkedRule {
  const rides = ridesWhPerKm.filter((value) => value > 0);
  const n = rides.length;
  if (n === 0) return rule;
  const basis = `${n === 1 ? 'one own ride' : `${n} own rides`}${n < ENOUGH_RIDES ? ' and the ride model' : ''}`;
  if (n >= ENOUGH_RIDES) {
    const next = logNormalPrediction(rides, 0.95);
    if (next.ok)
      return {
        ...rule,
        basis,
        whPerKm: next.value.median,
        lowerWhPerKm: next.value.lower,
        upperWhPerKm: next.value.upper,
      };
  }
  const prior = Math.log(rule.upperWhPerKm / rule.lowerWhPerKm) / (2 * NORMAL_975);
  const own = USUAL_SCATTER / Math.sqrt(n);
  const mean = rides.reduce((sum, value) => sum + Math.log(value), 0) / n;
  const [wPrior, wOwn] = [1 / prior ** 2, 1 / own ** 2];
  const middle = (wPrior * Math.log(rule.whPerKm) + wOwn * mean) / (wPrior + wOwn);
  const half = NORMAL_975 * Math.sqrt(1 / (wPrior + wOwn) + USUAL_SCATTER ** 2);
  return {
    ...rule,
    basis,
    whPerKm: Math.exp(middle),
    lowerWhPerKm: Math.exp(middle - half),
    upperWhPerKm: Math.exp(middle + half),
  };
}
