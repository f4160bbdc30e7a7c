import { dot, solveSymmetric } from '../../numeric/index.js';
import type { HeatLoad } from './heat-points.js';

/** A motor as a sum of nodes that warm and cool each at its own pace; the last one is the slowest. */
export interface HeatModel {
  readonly timeConstantsS: readonly number[];
  /** K above the air at the start, of each node. */
  readonly startsK: readonly number[];
  /** K/s per unit of a load, [load][node]. */
  readonly gains: readonly (readonly number[])[];
  /** How far the air that the motor cools towards lies above the one that was noted, K. */
  readonly airOffsetK: number;
}

/** What is fitted: one value a point in each list. `airWeight` is that of the noted air beside one reading. */
export interface HeatReadings {
  readonly timeS: readonly number[];
  readonly riseK: readonly number[];
  readonly loads: readonly HeatLoad[];
  readonly airWeight: number;
  /** Speed as a share of the mean riding speed, one a point. */
  readonly pace?: readonly number[];
  /** Share of the cooling at riding speed that the wind of riding makes, 0 to 1; a standing motor sheds the rest. */
  readonly windShare?: number;
}

export interface HeatFit {
  readonly readings: HeatReadings;
  readonly model: HeatModel;
  /** K², of the residuals and of the air's offset by its weight. */
  readonly squares: number;
  readonly residuals: Float64Array;
  readonly nodes: readonly Node[];
}
interface Node extends NodePace {
  readonly tauS: number;
  /** To its start and to each load. */
  readonly responses: readonly Float64Array[];
}

/** A standing motor still sheds this share. */
const LEAST_COOLING = 0.05;
const SHORTEST_S = 30;
const LONGEST_S = 6 * 3600;
/** A quick node: a winding or a sensor's own pace. */
const SHORTEST_OF_TWO_S = 5;
const GRID_OF_ONE = 31;
const GRID_OF_TWO = 13;
/** Nodes closer than this are one. */
const MIN_RATIO = 2;
const MAX_ROUNDS = 40;
const CONVERGED = 1e-7;
/** Near enough to tell which of several curves fits best: by far less than what their criterion weighs. */
export const NEAR_ENOUGH = 1e-5;

/**
 * The motor's temperature rise above the air as one or two nodes driven by loads.
 *
 * `near`: time constants to start from instead of a grid. `converged`: share of the squares that a round has to gain to be followed by another.
 * Method: for given time constants the rise is linear in all else, which is solved for exactly; the time constants are
 * sought on a logarithmic grid and refined by Levenberg–Marquardt. The air's offset is held near 0 by `airWeight`.
 * Undefined where no time constants make the responses distinct.
 */
export function fitHeat(
  readings: HeatReadings,
  nodes: 1 | 2,
  near?: readonly number[],
  converged = CONVERGED,
): HeatFit | undefined {
  const start = near
    ? fitAt(
        readings,
        near.map((tauS) => nodeOf(readings, tauS)),
      )
    : bestOfGrid(readings, nodes);
  return start && refine(start, converged);
}

/** What a node of a time constant keeps of its rise between two points, and what a load there adds; neither asks what the load is. */
interface NodePace {
  readonly started: Float64Array;
  /** Time since the point before, in time constants. */
  readonly shares: Float64Array;
  readonly decays: Float64Array;
  readonly gains: Float64Array;
}

/** One node, with its response to its start and to each load: exact for a load that is straight between the points. */
function nodeOf(readings: HeatReadings, tauS: number, pace = paceOf(readings, tauS)): Node {
  const driven = readings.loads.map(({ values }) => drivenBy(values, pace.decays, pace.gains));
  return { ...pace, tauS, responses: [pace.started, ...driven] };
}

/** From the point before to this one, as a share of what it is at the mean riding speed: 1/R = a + b·v. */
function coolingAt({ pace, windShare = 0 }: HeatReadings, k: number): number {
  if (windShare === 0 || !pace) return 1;
  return Math.max(LEAST_COOLING, 1 + windShare * ((pace[k]! + pace[k - 1]!) / 2 - 1));
}

function paceOf(readings: HeatReadings, tau: number): NodePace {
  const { timeS } = readings;
  const n = timeS.length;
  const started = new Float64Array(n);
  const shares = new Float64Array(n);
  const decays = new Float64Array(n);
  const gains = new Float64Array(n);
  started[0] = 1;
  for (let k = 1; k < n; k++) {
    const here = tau / coolingAt(readings, k);
    const share = (timeS[k]! - timeS[k - 1]!) / here;
    const decay = Math.exp(-share);
    shares[k] = share;
    started[k] = started[k - 1]! * decay;
    decays[k] = decay;
    gains[k] = (here * (1 - decay)) / 2;
  }
  return { started, shares, decays, gains };
}

/** Of the grid's time constants, by the points of time: the same for every load that is tried on them. */
const pacesOfGrids = new WeakMap<
  HeatReadings['timeS'],
  Map<string, { pace: HeatReadings['pace']; nodes: NodePace[] }>
>();
function pacesOfGrid(readings: HeatReadings, grid: readonly number[]): NodePace[] {
  const { timeS, pace, windShare = 0 } = readings;
  const known = pacesOfGrids.get(timeS) ?? new Map<string, { pace: HeatReadings['pace']; nodes: NodePace[] }>();
  pacesOfGrids.set(timeS, known);
  const key = `${grid.length} ${windShare}`;
  const before = known.get(key);
  if (before && before.pace === pace) return before.nodes;
  const nodes = grid.map((tau) => paceOf(readings, tau));
  known.set(key, { pace, nodes });
  return nodes;
}

function drivenBy(values: readonly number[], decays: Float64Array, gains: Float64Array): Float64Array {
  const driven = new Float64Array(decays.length);
  for (let k = 1; k < driven.length; k++)
    driven[k] = driven[k - 1]! * decays[k]! + gains[k]! * (values[k]! + values[k - 1]!);
  return driven;
}

/** JᵀJ and Jᵀr of columns, the last of which is the air's offset. */
function normalEquations(
  columns: readonly Float64Array[],
  right: Float64Array,
  airWeight: number,
): { normal: Float64Array; projected: Float64Array } {
  const p = columns.length;
  const normal = new Float64Array(p * p);
  const projected = new Float64Array(p);
  for (let i = 0; i < p; i++) {
    for (let j = 0; j <= i; j++) normal[i * p + j] = normal[j * p + i] = dot(columns[i]!, columns[j]!);
    projected[i] = dot(columns[i]!, right);
  }
  normal[p * p - 1]! += airWeight;
  return { normal, projected };
}

/** All that is linear, for given nodes. */
function fitAt(readings: HeatReadings, nodes: readonly Node[]): HeatFit | undefined {
  const { riseK, loads, airWeight } = readings;
  const columns = [...nodes.flatMap(({ responses }) => responses), new Float64Array(riseK.length).fill(1)];
  const residuals = new Float64Array(riseK);
  const { normal, projected } = normalEquations(columns, residuals, airWeight);
  const coefficients = solveSymmetric(normal, projected);
  if (!coefficients) return undefined;
  for (let i = 0; i < columns.length; i++) {
    const column = columns[i]!;
    const coefficient = coefficients[i]!;
    for (let k = 0; k < residuals.length; k++) residuals[k] = residuals[k]! - coefficient * column[k]!;
  }
  const each = 1 + loads.length;
  const airOffsetK = coefficients.at(-1)!;
  let squares = airWeight * airOffsetK ** 2;
  for (const residual of residuals) squares += residual * residual;
  return {
    readings,
    squares,
    residuals,
    nodes,
    model: {
      timeConstantsS: nodes.map(({ tauS }) => tauS),
      startsK: nodes.map((_, node) => coefficients[node * each]!),
      gains: loads.map((_, load) => nodes.map((__, node) => coefficients[node * each + 1 + load]!)),
      airOffsetK,
    },
  };
}

function isAllowed(taus: readonly number[]): boolean {
  const slowest = taus.at(-1)!;
  if (!(slowest <= LONGEST_S && slowest >= SHORTEST_S)) return false;
  return taus.length === 1 || (taus[0]! >= SHORTEST_OF_TWO_S && slowest >= MIN_RATIO * taus[0]!);
}

type EquationsAt = (at: readonly number[]) => { normal: Float64Array; projected: Float64Array };

function equationsOfOne(nodes: readonly Node[], air: Float64Array, { riseK, airWeight }: HeatReadings): EquationsAt {
  const right = new Float64Array(riseK);
  return (at) => normalEquations([...at.flatMap((k) => nodes[k]!.responses), air], right, airWeight);
}
/** Each time constant stands in many pairs: products of its columns with the others are summed once. */
function equationsOfPairs(nodes: readonly Node[], air: Float64Array, { riseK, airWeight }: HeatReadings): EquationsAt {
  const columns = [...nodes.flatMap(({ responses }) => responses), air];
  const all = columns.length;
  const of = normalEquations(columns, new Float64Array(riseK), airWeight);
  const each = nodes[0]!.responses.length;
  return (at) => {
    const places = [...at.flatMap((k) => nodes[k]!.responses.map((_, j) => k * each + j)), all - 1];
    const p = places.length;
    const normal = new Float64Array(p * p);
    places.forEach((from, i) => places.forEach((to, j) => (normal[i * p + j] = of.normal[from * all + to]!)));
    return { normal, projected: Float64Array.from(places, (place) => of.projected[place]!) };
  };
}

function bestOfGrid(readings: HeatReadings, howMany: 1 | 2): HeatFit | undefined {
  const [shortest, count] = howMany === 1 ? [SHORTEST_S, GRID_OF_ONE] : [SHORTEST_OF_TWO_S, GRID_OF_TWO];
  const grid = Array.from({ length: count }, (_, k) => shortest * (LONGEST_S / shortest) ** (k / (count - 1)));
  const nodes = pacesOfGrid(readings, grid).map((pace, k) => nodeOf(readings, grid[k]!, pace));
  const air = new Float64Array(readings.riseK.length).fill(1);
  const equationsOf = howMany === 1 ? equationsOfOne : equationsOfPairs;
  const equations = equationsOf(nodes, air, readings);
  let best: { at: readonly number[]; explained: number } | undefined;
  const look = (...at: readonly number[]): void => {
    if (!isAllowed(at.map((k) => grid[k]!))) return;
    const { normal, projected } = equations(at);
    const coefficients = solveSymmetric(normal, projected);
    const explained = coefficients?.reduce((sum, value, i) => sum + value * projected[i]!, 0) ?? -Infinity;
    if (explained > (best?.explained ?? -Infinity)) best = { at, explained };
  };
  for (let k = 0; k < count; k++)
    if (howMany === 1) look(k);
    else for (let j = 0; j < k; j++) look(j, k);
  return (
    best &&
    fitAt(
      readings,
      best.at.map((k) => nodes[k]!),
    )
  );
}

/** Derivatives of the curve by its parameters: logarithms of the time constants, starts, gains [load][node], the air's offset. */
export function jacobianOf({ readings, model, nodes }: HeatFit): Float64Array[] {
  const byTime = nodes.map((node, k) => byLogTime(readings, model, node, k));
  const byResponse = nodes[0]!.responses.flatMap((_, j) => nodes.map(({ responses }) => responses[j]!));
  return [...byTime, ...byResponse, new Float64Array(readings.timeS.length).fill(1)];
}

/** Of one node's curve by the logarithm of its time constant, along the same recursion as the curve itself. */
function byLogTime({ timeS, loads }: HeatReadings, model: HeatModel, node: Node, place: number): Float64Array {
  const n = timeS.length;
  const derivative = new Float64Array(n);
  const warming = new Float64Array(n);
  loads.forEach(({ values }, load) => {
    const gain = model.gains[load]![place]!;
    for (let k = 0; k < n; k++) warming[k] = warming[k]! + gain * values[k]!;
  });
  let curve = model.startsK[place]!;
  for (let k = 1; k < n; k++) {
    const decay = node.decays[k]!;
    const driven = warming[k]! + warming[k - 1]!;
    // d decay / d ln τ = decay · Δt/τ; of the gain τ (1 − decay) / 2 it is itself less decay · Δt / 2.
    const byGain = node.gains[k]! - (decay * (timeS[k]! - timeS[k - 1]!)) / 2;
    derivative[k] = (derivative[k - 1]! + curve * node.shares[k]!) * decay + byGain * driven;
    curve = curve * decay + node.gains[k]! * driven;
  }
  return derivative;
}

function refine(start: HeatFit, converged: number): HeatFit {
  let best = start;
  const { readings } = start;
  let damping = 1e-3;
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const { normal, projected } = normalEquations(jacobianOf(best), best.residuals, readings.airWeight);
    const p = projected.length;
    // The noted air draws its offset back to 0.
    projected[p - 1]! -= readings.airWeight * best.model.airOffsetK;
    let gained = 0;
    for (let attempt = 0; attempt < 6 && gained === 0; attempt++) {
      const damped = normal.map((value, k) => (k % (p + 1) === 0 ? value * (1 + damping) : value));
      const step = solveSymmetric(damped, projected);
      const taus = best.model.timeConstantsS.map((tau, node) => tau * Math.exp(step?.[node] ?? NaN));
      const fit = isAllowed(taus)
        ? fitAt(
            readings,
            taus.map((tauS) => nodeOf(readings, tauS)),
          )
        : undefined;
      if (fit && fit.squares < best.squares) {
        gained = 1 - fit.squares / best.squares;
        best = fit;
        damping = Math.max(1e-9, damping / 5);
      } else damping *= 6;
    }
    if (gained < converged) return best;
  }
  return best;
}
