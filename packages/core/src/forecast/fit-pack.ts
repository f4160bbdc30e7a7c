import { chargeAtRest } from '../battery/index.js';
import { fitWithPriors, neighbourInflation } from '../numeric/index.js';
import type { PartFit } from './part-fit.js';
import { cellVoltage, fromScale, toScale, type FixedOfBike, type ParameterName, type Priors } from './parameters.js';
import type { RideRecord } from './ride-record.js';

export const PACK_PARAMETERS = [
  'packResistance',
  'slowResistance',
  'cellOffset',
  'cellSlope',
  'capacity',
] as const satisfies readonly ParameterName[];

/** The slow part of the sag settles at this pace, s. */
export const SLOW_S = 45;
/** Colder packs resist more, by this share of the resistance at 20 °C for each kelvin below. */
export const COLD_PER_K = 0.015;
const EVERY_S = 4;
/** Curves of cells differ along their length by so much, V of one cell: no voltage is believed better. */
const CURVE_V = 0.008;
const START_DOUBT = 0.12;
/** A ride must use so much of the charge before it tells how much there is: less of the curve is any cell's. */
const DEEP_SHARE = 0.45;
const MOST_PAIRS = 4000;

export function coldFactor(airTemperatureC: number): number {
  return 1 + COLD_PER_K * Math.max(0, 20 - airTemperatureC);
}

/**
 * Resistances, voltage curve's offset and charge of a pack from voltage and current of rides; each ride begins at a charge of its own.
 * Method: V = n·(U₀(s) + δ) − R₀·I − U₁, τ·U₁' = R₁·I − U₁, s = s₀ − ∫I/C; `fitWithPriors`.
 */
export function fitPack(records: readonly RideRecord[], priors: Priors, fixed: FixedOfBike): PartFit | undefined {
  const useful = records.filter(({ voltageV, currentA }) =>
    voltageV.some((v, k) => v > 5 && !Number.isNaN(currentA[k]!)),
  );
  if (useful.length === 0) return undefined;
  const seconds = useful.reduce((sum, { count }) => sum + count, 0);
  const every = Math.max(EVERY_S, Math.ceil(seconds / MOST_PAIRS));
  const pairs = useful.flatMap((record, ride) => pairsOf(record, ride, every));
  const q = PACK_PARAMETERS.length;
  const p = q + useful.length;
  const priorMean = new Float64Array(p);
  const priorSd = new Float64Array(p).fill(START_DOUBT);
  PACK_PARAMETERS.forEach((name, j) => {
    priorMean[j] = toScale(name, priors[name].value);
    priorSd[j] = priors[name].sd;
  });
  const isDeep = pairs.some(({ usedAh }) => usedAh > DEEP_SHARE * priors.capacity.value);
  if (!isDeep) priorSd[q - 1] = 1e-4;
  useful.forEach((record, k) => {
    const first = pairs.find(({ ride }) => ride === k);
    const restV = first ? first.voltageV + first.currentA * priors.packResistance.value : fixed.seriesCells * 3.9;
    priorMean[q + k] = Math.min(1, Math.max(0.1, chargeAtRest(fixed.chemistry, restV / fixed.seriesCells)));
  });
  const sizeV = fixed.seriesCells * CURVE_V;
  const fit = fitWithPriors({
    priorMean,
    priorSd,
    residualCount: pairs.length,
    correlation: neighbourInflation,
    residuals: (x, into) => {
      const [ohm, slow, offset, slope, capacity] = PACK_PARAMETERS.map((name, j) => fromScale(name, x[j]!)) as [
        number,
        number,
        number,
        number,
        number,
      ];
      pairs.forEach((pair, i) => {
        const start = x[q + pair.ride]!;
        const share = start - pair.usedAh / capacity;
        const cellV = cellVoltage(fixed, share, offset, slope);
        const beyond = Math.max(0, share - 1) + Math.min(0, share);
        const cold = pair.cold;
        into[i] =
          (pair.voltageV - fixed.seriesCells * (cellV + beyond) + cold * (ohm * pair.currentA + slow * pair.slowA)) /
          sizeV;
      });
    },
  });
  const told = isDeep ? q : q - 1;
  return {
    names: PACK_PARAMETERS.slice(0, told),
    estimate: Array.from(fit.estimate.slice(0, told)),
    covariance: Array.from({ length: told * told }, (_, k) => fit.covariance[Math.floor(k / told) * p + (k % told)]!),
    used: pairs.length,
  };
}

interface Pair {
  readonly ride: number;
  readonly voltageV: number;
  readonly currentA: number;
  /** The current as the slow part has followed it. */
  readonly slowA: number;
  readonly usedAh: number;
  readonly cold: number;
}

function pairsOf({ voltageV, currentA, count, facts }: RideRecord, ride: number, every: number): Pair[] {
  const pairs: Pair[] = [];
  const cold = coldFactor(facts.airTemperatureC);
  const keep = Math.exp(-1 / SLOW_S);
  let [slowA, usedAh] = [0, 0];
  for (let k = 0; k < count; k++) {
    const [volts, amps] = [voltageV[k]!, currentA[k]!];
    const current = Number.isNaN(amps) ? slowA : amps;
    slowA = keep * slowA + (1 - keep) * current;
    usedAh += current / 3600;
    if (k % every === 0 && volts > 5 && !Number.isNaN(amps))
      pairs.push({ ride, voltageV: volts, currentA: amps, slowA, usedAh, cold });
  }
  return pairs;
}
