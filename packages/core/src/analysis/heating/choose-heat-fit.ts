import { estimateNoise } from '../../signal/index.js';
import { correlationInflation } from '../uneven-scatter.js';
import { settledOf, settledRise, slowestOf } from './heat-behaviour.js';
import { fitHeat, NEAR_ENOUGH, type HeatFit, type HeatReadings } from './heat-model.js';
import { scatterOf } from './heat-scatter.js';

/** Of a time constant of two, in shares of it: more than this and its node is not seen. */
const MAX_RELATIVE_ERROR = 0.3;
/** The air's thermometer and the motor's sensor are each right to 1 K. */
const AIR_STANDARD_K = Math.sqrt(2 / 3);
/** A fine display still rounds. */
const MIN_NOISE_K = 0.02;

/**
 * The simplest curve that the readings bear out: one node and the load that fits best; power and a square of the current
 * or force together, and then a second node, each only where it earns its place.
 *
 * Method: Akaike's criterion with the small-sample term, AICc = n·ln(S/n) + 2p + 2p(p + 1)/(n − p − 1) (Burnham & Anderson
 * 2002, 7.3), with n the readings that count once the autocorrelation of the nearest curve's residuals is allowed for.
 * A load must warm the motor, and both time constants must follow from the readings. The air is fitted as well, held to
 * the noted one as closely as two thermometers agree. Of a log that only cools, no load need be seen. Undefined where no
 * curve of a motor fits.
 */
export function chooseHeatFit(
  { timeS, riseK, loads, pace }: Omit<HeatReadings, 'airWeight'>,
  onlyCools = false,
): HeatFit | undefined {
  const noiseK = Math.max(MIN_NOISE_K, estimateNoise(riseK));
  const airWeight = (noiseK / AIR_STANDARD_K) ** 2;
  const fitOf = (chosen: HeatReadings['loads'], nodes: 1 | 2, windShare = 0, near?: HeatFit): HeatFit | undefined =>
    fitHeat(
      { timeS, riseK, loads: chosen, airWeight, ...(pace && { pace }), windShare },
      nodes,
      near?.model.timeConstantsS,
      NEAR_ENOUGH,
    );
  /** With more and more of the cooling by the wind, each from where the one before it ended. */
  const blown = (set: HeatReadings['loads']): HeatFit[] => {
    const fits: HeatFit[] = [];
    for (const share of WIND_SHARES) {
      const fit = fitOf(set, 1, share, fits.at(-1));
      if (fit) fits.push(fit);
    }
    return fits;
  };
  const power = loads.find(({ name }) => name === 'power');
  const squares = loads.filter((load) => load !== power);
  const sets = [
    ...(onlyCools ? [[]] : []),
    ...loads.map((load) => [load]),
    ...(power ? squares.map((square) => [power, square]) : []),
  ];
  const single = sets.flatMap((set) => fitOf(set, 1) ?? []);
  const double = sets.flatMap((set) => fitOf(set, 2) ?? []).filter((fit) => isDetermined(fit));
  // Only where it both rode and stood does the log tell what the wind of riding does.
  const hasBoth =
    pace !== undefined && pace.some((v) => v > 0.5) && pace.filter((v) => v < 0.1).length > 0.1 * pace.length;
  const windy = hasBoth ? sets.flatMap(blown) : [];
  const candidates = [...single, ...double, ...windy].filter(isMotor);
  if (candidates.length === 0) return undefined;
  const nearest = smallest(candidates, ({ squares: misfit }) => misfit);
  const counted = nearest.residuals.length / correlationInflation(nearest.residuals) ** 2;
  const chosen = smallest(candidates, (fit) => criterionOf(fit, counted));
  const best = (chosen.readings.windShare ?? 0) > 0 ? refineWind(chosen) : chosen;
  const scatter = scatterOf(best);
  if (!scatter) return best;
  // Readings that hang together count less beside the noted air than their number says.
  const held = { ...best.readings, airWeight: ((scatter.residualK * scatter.inflation) / AIR_STANDARD_K) ** 2 };
  return fitHeat(held, best.model.timeConstantsS.length === 2 ? 2 : 1, best.model.timeConstantsS);
}

/** Shares of the cooling by the wind of riding that are tried, and how finely the best is sought. */
const WIND_SHARES = [0.2, 0.4, 0.6, 0.8] as const;
const WIND_STEPS = [0.1, 0.05, 0.02, 0.01] as const;
function refineWind(start: HeatFit): HeatFit {
  let best = start;
  for (const step of WIND_STEPS)
    for (const by of [-step, step]) {
      const windShare = (best.readings.windShare ?? 0) + by;
      if (windShare <= 0 || windShare >= 0.95) continue;
      const fit = fitHeat({ ...best.readings, windShare }, 1, best.model.timeConstantsS);
      if (fit && fit.squares < best.squares) best = fit;
    }
  return best;
}

/** What is not known of the share of cooling by the wind, and what the time constant changes by with it, s per share. */
export interface WindScatter {
  readonly error: number;
  readonly tauPerShare: number;
}
/** Standard error of the share, from how the misfit bends about it; none where no share was fitted. */
export function windScatter(fit: HeatFit, residualK: number, inflation: number): WindScatter {
  const { windShare = 0 } = fit.readings;
  if (windShare === 0) return { error: 0, tauPerShare: 0 };
  const step = Math.min(0.05, windShare / 2, (1 - windShare) / 2);
  const at = (share: number): HeatFit | undefined =>
    fitHeat({ ...fit.readings, windShare: share }, 1, fit.model.timeConstantsS);
  const [below, above] = [at(windShare - step), at(windShare + step)];
  if (!below || !above) return { error: windShare, tauPerShare: slowestOf(fit.model) };
  const bend = (above.squares + below.squares - 2 * fit.squares) / step ** 2;
  return {
    error: bend > 0 ? residualK * inflation * Math.sqrt(2 / bend) : windShare,
    tauPerShare: Math.abs(slowestOf(above.model) - slowestOf(below.model)) / (2 * step),
  };
}

const START_SLACK_K = 5;
/** Each load warms the body, and in the end the whole; what only cools began warm. */
function isMotor({ model, readings }: HeatFit): boolean {
  // Nodes that begin far apart and only together make the first reading are no motor.
  const most = START_SLACK_K + Math.abs(readings.riseK[0]!);
  if (model.startsK.length > 1 && model.startsK.some((start) => Math.abs(start) > most)) return false;
  if (readings.loads.length === 0) return model.startsK.at(-1)! > 0;
  return readings.loads.every((_, j) => {
    const alone = readings.loads.map((__, k) => (k === j ? 1 : 0));
    return settledOf(model, alone).at(-1)! > 0 && settledRise(model, alone) > 0;
  });
}

/** A node slower than the log bends any curve a little, and means nothing. */
function isDetermined(fit: HeatFit): boolean {
  const scatter = scatterOf(fit);
  if (!scatter) return false;
  return fit.model.timeConstantsS.every(
    (_, node) => scatter.errorOf(({ timeConstantsS }) => Math.log(timeConstantsS[node]!)) < MAX_RELATIVE_ERROR,
  );
}

function smallest<T>(of: readonly T[], by: (one: T) => number): T {
  return of.reduce((a, b) => (by(b) < by(a) ? b : a));
}

function criterionOf({ squares, residuals, model, readings }: HeatFit, counted: number): number {
  const nodes = model.timeConstantsS.length;
  // Time constants, starts, gains, the air, and the scatter itself.
  const p = nodes * (2 + readings.loads.length) + 2 + ((readings.windShare ?? 0) > 0 ? 1 : 0);
  if (counted <= p + 1) return Infinity;
  return counted * Math.log(squares / residuals.length) + 2 * p + (2 * p * (p + 1)) / (counted - p - 1);
}
