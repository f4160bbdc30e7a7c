import { pairsOf } from '../../statistics/index.js';
import type { MoreUnit } from './more-runs.js';

/** What the runs are, as the comparison takes them. */
export type DesignKind = 'blocked' | 'confounded' | 'covariate' | 'grouped' | 'independent' | 'mixed' | 'nested';

/** One run as the design sees it: its setup by index, and what it was ridden under. */
export interface DesignedRun {
  readonly setup: number;
  readonly value: number;
  /** The outing. */
  readonly block?: string;
  /** A rider, a day, a bike: one of many of its kind. */
  readonly group?: string;
  readonly covariate?: number;
}

export type ConfoundedBy = 'covariate' | 'group' | 'outing';
export interface RefusedPair {
  readonly a: number;
  readonly b: number;
  readonly by: ConfoundedBy;
}
export interface ChosenDesign {
  readonly design: DesignKind;
  /** What is ridden more of when more is needed. */
  readonly unit: MoreUnit;
  /** Outings, or groups, by number for each run; present where runs hang together. */
  readonly clusters?: readonly number[];
  readonly refused: readonly RefusedPair[];
}

/** With fewer outings than this their scatter is not known well enough to use what differs between them. */
export const MIN_OUTINGS_FOR_MIXED = 10;

/**
 * How runs are to be compared, from what they have in common: outing, group or covariate.
 *
 * Shapes: `setups` names indices 0…setups−1; a column counts when every run has it; the outing goes before the group.
 * Method: the table of docs/methods.md, "The design decides".
 */
export function chooseDesign(runs: readonly DesignedRun[], setups: number): ChosenDesign {
  const chosen = chooseByHanging(runs, setups);
  if (!runs.every(({ covariate }) => covariate !== undefined)) return chosen;
  const apart = pairsApart(runs, setups);
  const known = new Set(chosen.refused.map(({ a, b }) => `${a} ${b}`));
  return {
    ...chosen,
    design: chosen.design === 'independent' ? 'covariate' : chosen.design,
    refused: [...chosen.refused, ...apart.filter(({ a, b }) => !known.has(`${a} ${b}`))],
  };
}

function chooseByHanging(runs: readonly DesignedRun[], setups: number): ChosenDesign {
  if (runs.every(({ block }) => block !== undefined)) {
    const byOutings = chooseByOutings(runs, indexOf(runs.map(({ block }) => block!)), setups);
    return withGroupsKeptApart(byOutings, runs, setups);
  }
  if (runs.every(({ group }) => group !== undefined)) {
    const clusters = indexOf(runs.map(({ group }) => group!));
    const { refused, isConfounded, held } = apartByClusters(runs, clusters, setups, 'group');
    const keepsApart = held.every((own) => own.size === 1);
    return { design: isConfounded ? 'confounded' : 'grouped', unit: keepsApart ? 'group' : 'run', clusters, refused };
  }
  return { design: 'independent', unit: 'run', refused: [] };
}

/** Within an outing, too, a rider who only ever rides one of two setups cannot be told from it. */
function withGroupsKeptApart(chosen: ChosenDesign, runs: readonly DesignedRun[], setups: number): ChosenDesign {
  if (!runs.every(({ group }) => group !== undefined)) return chosen;
  const byGroups = apartByClusters(runs, indexOf(runs.map(({ group }) => group!)), setups, 'group');
  const known = new Set(chosen.refused.map(({ a, b }) => `${a} ${b}`));
  return {
    ...chosen,
    design: byGroups.isConfounded ? 'confounded' : chosen.design,
    refused: [...chosen.refused, ...byGroups.refused.filter(({ a, b }) => !known.has(`${a} ${b}`))],
  };
}

function chooseByOutings(runs: readonly DesignedRun[], clusters: readonly number[], setups: number): ChosenDesign {
  const { refused, isConfounded, held, components } = apartByClusters(runs, clusters, setups, 'outing');
  if (isConfounded) return { design: 'confounded', unit: 'outing', clusters, refused };
  const isNested = held.every((own) => own.size === 1);
  if (isNested) return { design: 'nested', unit: 'outing', clusters, refused };
  const whole = held.filter((own) => own.size === setups).length;
  const isConnected = new Set(components).size === 1;
  const isBlocked = isConnected && (held.length < MIN_OUTINGS_FOR_MIXED || 2 * whole >= held.length);
  return { design: isBlocked ? 'blocked' : 'mixed', unit: 'run', clusters, refused };
}

/** Pairs that no outing joins, directly or through others, and of which one was ridden in a single outing. */
function apartByClusters(
  runs: readonly DesignedRun[],
  clusters: readonly number[],
  setups: number,
  by: ConfoundedBy,
): { refused: RefusedPair[]; isConfounded: boolean; held: Set<number>[]; components: number[] } {
  const held: Set<number>[] = Array.from({ length: Math.max(...clusters) + 1 }, () => new Set());
  runs.forEach(({ setup }, i) => held[clusters[i]!]!.add(setup));
  const components = Array.from({ length: setups }, (_, s) => s);
  for (const own of held) {
    const joined = new Set([...own].map((s) => components[s]!));
    const lowest = Math.min(...joined);
    components.forEach((c, s) => {
      if (joined.has(c)) components[s] = lowest;
    });
  }
  const outingsOf = (component: number): number =>
    held.filter((own) => [...own].some((s) => components[s] === component)).length;
  const refused = pairsOf(setups)
    .filter(([a, b]) => components[a] !== components[b])
    .filter(([a, b]) => Math.min(outingsOf(components[a]!), outingsOf(components[b]!)) < 2)
    .map(([a, b]) => ({ a, b, by }));
  return { refused, isConfounded: refused.length === (setups * (setups - 1)) / 2, held, components };
}

/** Pairs whose ranges of the covariate do not overlap. */
function pairsApart(runs: readonly DesignedRun[], setups: number): RefusedPair[] {
  const ranges = Array.from({ length: setups }, (_, s) => {
    const own = runs.filter(({ setup }) => setup === s).map(({ covariate }) => covariate!);
    return { low: Math.min(...own), high: Math.max(...own) };
  });
  return pairsOf(setups)
    .filter(([a, b]) => ranges[a]!.low > ranges[b]!.high || ranges[b]!.low > ranges[a]!.high)
    .map(([a, b]) => ({ a, b, by: 'covariate' as const }));
}

/** Names numbered in the order in which they first appear. */
function indexOf(names: readonly string[]): number[] {
  const seen = new Map<string, number>();
  return names.map((name) => {
    if (!seen.has(name)) seen.set(name, seen.size);
    return seen.get(name)!;
  });
}
