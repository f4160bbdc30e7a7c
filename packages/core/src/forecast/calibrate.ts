import type { CommandFit, Learnt } from './command-fit.js';
import { factorForLosses, fitCommand } from './fit-command.js';
import { fitController, fitHeat, heatFactor } from './fit-heat.js';
import { fitMotion, type MotionFit } from './fit-motion.js';
import type { PartFit } from './part-fit.js';
import { fitPack } from './fit-pack.js';
import { fitRegain, type RegainFit } from './fit-regain.js';
import {
  fixedOf,
  fromScale,
  PARAMETER_NAMES,
  PARAMETERS,
  priorsOf,
  toScale,
  type FixedOfBike,
  type KnownOfBike,
  type ParameterName,
  type Parameters,
  type Prior,
  type Priors,
} from './parameters.js';
import type { RideRecord } from './ride-record.js';
import { whatWasRidden, type Ridden } from './what-was-ridden.js';

export interface LearntParameter {
  readonly name: ParameterName;
  readonly value: number;
  readonly interval95: readonly [number, number];
  /** `prior`: the rides said little of it that was not thought before. */
  readonly from: 'data' | 'prior';
}

/** Another number wherever the same rides teach something else: what was kept of them is then learned anew. */
export const CALIBRATION_VERSION = 2;

/** A bike as its rides show it, with the doubt that is left. */
export interface Calibration {
  readonly fixed: FixedOfBike;
  readonly priors: Priors;
  readonly command: CommandFit;
  /** Parts learned together; independent of each other. */
  readonly parts: readonly PartFit[];
  readonly motion: MotionFit;
  /** Where braking was seen to charge. */
  readonly regain?: RegainFit;
  readonly parameters: readonly LearntParameter[];
  readonly ridden: Ridden | undefined;
}

/** A parameter is the data's when its doubt is less than this share of what it was. */
const LEARNED_SHARE = 0.6;

/**
 * Learns a bike from its rides, part by part: motion and losses, order for help, pack, heat. Without rides all stays at the priors.
 * Shapes: any number of rides. Fails: never; what the rides do not tell stays as it was thought, and says so.
 */
export function calibrate(records: readonly RideRecord[], known: KnownOfBike): Calibration {
  const fixed = fixedOf(known);
  const priors = priorsOf(known);
  const road = records.filter(({ facts }) => facts.isOnRoad !== false);
  const motion = fitMotion(
    road.filter(({ powerW }) => powerW.some((value) => !Number.isNaN(value))),
    priors,
    fixed,
  );
  const value = (name: ParameterName): number => {
    const j = motion.names.indexOf(name);
    return fromScale(name, j < 0 ? toScale(name, priors[name].value) : motion.estimate[j]!);
  };
  const losses = {
    driveEfficiency: value('driveEfficiency'),
    copperLoss: value('copperLoss'),
    ironDrag: value('ironDrag'),
    idlePower: value('idlePower'),
    isGeared: fixed.isGeared,
    isAlwaysTurning: fixed.isAlwaysTurning,
  };
  const command = fitCommand(road, priors, fixed, losses);
  const regain = fitRegain(road, { dragArea: value('dragArea'), rolling: value('rolling') });
  const parts = [
    motion,
    fitPack(records, priors, fixed),
    fitHeat(road, priors, losses),
    fitController(road, priors, losses),
    ...(['fullCurrent', 'fullForce', 'noLoadSpeed'] as const).map((name) => alone(name, command[name])),
  ].filter((part) => part !== undefined);
  return {
    fixed,
    priors,
    command,
    parts,
    motion,
    ...(regain && { regain }),
    parameters: listed(parts, priors, command),
    ridden: whatWasRidden(road),
  };
}

/** Another kit on the same bike, another day: what both share is not quite the same. */
const OTHER_DAY_SD = 0.06;

/** What a calibration teaches of the bike itself, for another setup on it; nothing of what its rides did not tell. */
export function sharedByBike({ parts, parameters }: Calibration): NonNullable<KnownOfBike['ofSameBike']> {
  const of = (name: 'dragArea' | 'rolling'): Prior | undefined => {
    const part = parts.find(({ names }) => names.includes(name));
    const found = parameters.find((parameter) => parameter.name === name);
    if (!part || !found || part.used === 0) return undefined;
    const j = part.names.indexOf(name);
    return { value: found.value, sd: Math.hypot(Math.sqrt(part.covariance[j * part.names.length + j]!), OTHER_DAY_SD) };
  };
  const [dragArea, rolling] = [of('dragArea'), of('rolling')];
  return { ...(dragArea && { dragArea }), ...(rolling && { rolling }) };
}

function alone(name: ParameterName, { value, sd, from, atLeast }: Learnt): PartFit {
  return {
    names: [name],
    estimate: [toScale(name, value)],
    covariance: [sd * sd],
    used: from === 'data' ? 1 : 0,
    ...(atLeast !== undefined && { atLeast }),
  };
}

function listed(parts: readonly PartFit[], priors: Priors, command: CommandFit): LearntParameter[] {
  return PARAMETER_NAMES.map((name) => {
    const part = parts.find(({ names }) => names.includes(name));
    const j = part ? part.names.indexOf(name) : -1;
    const centre = part ? part.estimate[j]! : toScale(name, priors[name].value);
    const sd = part ? Math.sqrt(part.covariance[j * part.names.length + j]!) : priors[name].sd;
    const isCommand = name === 'fullCurrent' || name === 'fullForce' || name === 'noLoadSpeed';
    return {
      name,
      value: fromScale(name, centre),
      interval95: [
        Math.max(part?.atLeast ?? -Infinity, fromScale(name, centre - 1.96 * sd)),
        fromScale(name, centre + 1.96 * sd),
      ],
      from: isCommand ? command[name].from : sd < LEARNED_SHARE * priors[name].sd ? 'data' : 'prior',
    };
  });
}

/** A ride of it showed how warm its controller gets. */
export function knowsController({ parts }: Pick<Calibration, 'parts'>): boolean {
  return parts.some(({ names, used }) => used > 0 && names.includes('controllerByPull'));
}

/** The most probable parameters. */
export function centreOf(calibration: Calibration): Parameters {
  return sampleOf(calibration, () => 0).parameters;
}

/** One draw of the parameters, and how far each group of them was moved (standard normals by parameter). */
export function sampleOf(
  { parts, priors, command }: Calibration,
  normal: () => number,
): { parameters: Parameters; moved: Readonly<Record<ParameterName, number>> } {
  const parameters: Partial<Record<ParameterName, number>> = {};
  const moved: Partial<Record<ParameterName, number>> = {};
  for (const { names, estimate, covariance, atLeast = -Infinity } of parts) {
    const shift = correlated(covariance, names.length, normal);
    names.forEach((name, j) => {
      parameters[name] = Math.max(atLeast, fromScale(name, estimate[j]! + shift[j]!));
      moved[name] = shift[j]!;
    });
  }
  followLosses(parts, priors, command, parameters);
  for (const name of PARAMETER_NAMES) {
    if (parameters[name] !== undefined) continue;
    moved[name] = priors[name].sd * normal();
    parameters[name] = fromScale(name, toScale(name, priors[name].value) + moved[name]);
  }
  return { parameters: parameters as Parameters, moved: moved as Record<ParameterName, number> };
}

/**
 * The order for help was learned from the power that was drawn: with other losses it makes another pull of the same power. What warms was learned with the losses at their most probable: a motor that loses more needs as much more to warm and cool, as far as the
 * rides told it. Else both doubts would be counted against each other.
 */
function followLosses(
  parts: readonly PartFit[],
  priors: Priors,
  command: CommandFit,
  parameters: Partial<Record<ParameterName, number>>,
): void {
  const { copperLoss, idlePower } = parameters;
  if (copperLoss !== undefined && idlePower !== undefined) {
    const name = command.law === 'force' ? 'fullForce' : 'noLoadSpeed';
    parameters[name] = parameters[name]! * factorForLosses(command, { copperLoss, idlePower });
  }
  const heat = parts.find(({ names }) => names.includes('sensorHeat'));
  if (!heat?.heatSeen || copperLoss === undefined || idlePower === undefined) return;
  const more = Math.log(heatFactor(heat.heatSeen, { copperLoss, idlePower }));
  heat.names.forEach((name, j) => {
    // All of them times the same is what other losses do; the prior holds some of it back: (1 − Σ·Σ₀⁻¹)·1.
    const held = heat.names.reduce(
      (sum, other, k) => sum + heat.covariance[j * heat.names.length + k]! / priors[other].sd ** 2,
      0,
    );
    const learned = 1 - Math.min(1, held);
    parameters[name] = parameters[name]! * Math.exp(learned * more);
  });
}

/** Normal numbers with a covariance, by its Cholesky factor. */
function correlated(covariance: readonly number[], p: number, normal: () => number): Float64Array {
  const lower = new Float64Array(p * p);
  for (let i = 0; i < p; i++)
    for (let j = 0; j <= i; j++) {
      let sum = covariance[i * p + j]!;
      for (let k = 0; k < j; k++) sum -= lower[i * p + k]! * lower[j * p + k]!;
      lower[i * p + j] = i === j ? Math.sqrt(Math.max(0, sum)) : lower[j * p + j]! > 0 ? sum / lower[j * p + j]! : 0;
    }
  const z = Float64Array.from({ length: p }, normal);
  return Float64Array.from({ length: p }, (_, i) => {
    let sum = 0;
    for (let k = 0; k <= i; k++) sum += lower[i * p + k]! * z[k]!;
    return sum;
  });
}

export const GROUP_LABELS = {
  resistance: 'drag and rolling',
  motor: 'motor and drive',
  pack: 'pack',
  heat: 'heat of the motor',
  controller: 'heat of the controller',
  wind: 'wind',
  rider: 'rider and way of riding',
  day: 'from ride to ride',
  instrument: 'instruments',
} as const;
export type Group = keyof typeof GROUP_LABELS;
export function groupOf(name: ParameterName): Group {
  return PARAMETERS[name].group;
}
