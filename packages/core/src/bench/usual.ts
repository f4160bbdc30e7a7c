import type { KitFacts, PackFacts } from './facts.js';

/** A value taken because most parts of the kind have it, and why; never shown as if it had been measured. */
export interface Usual<T> {
  readonly value: T;
  readonly why: string;
}

/**
 * Wire as kits come with it for the limit they are sold with, not for one that was set higher afterwards: copper at no more than
 * 7 A per mm². Of what is usual always the weaker end is taken.
 */
const WIRES = [
  [10, 1.5],
  [17, 2.5],
  [28, 4],
  [42, 6],
] as const;
export function usualWire(soldForA: number | null): Usual<number> | null {
  const found = soldForA === null ? undefined : WIRES.find(([most]) => soldForA <= most);
  return found ? { value: found[1], why: `wires of ${found[1]} mm², as kits up to ${found[0]} A have` } : null;
}
/** Controllers hold their limit; what they draw for a moment is little more. */
export function usualPeak(limitA: number | null): Usual<number> | null {
  return limitA === null ? null : { value: 1.15 * limitA, why: 'a peak 15 % above the current limit' };
}
export const USUAL_WIRE_LENGTH: Usual<number> = { value: 1, why: 'wires of 1 m one way' };

const CONNECTORS = [
  [25, 30],
  [40, 45],
] as const;
export function usualConnector(soldForA: number | null): Usual<number> | null {
  const found = soldForA === null ? undefined : CONNECTORS.find(([most]) => soldForA <= most);
  return found ? { value: found[1], why: `connectors for ${found[1]} A, as kits up to ${found[0]} A have` } : null;
}

const isLithium = ({ chemistry }: PackFacts): boolean => chemistry !== 'lead-acid';
/** A pack's electronics carry one and a half times its capacity an hour or more; ordinary ones no more than 30 A. */
export function usualProtection(pack: PackFacts): Usual<number> | null {
  if (!isLithium(pack) || pack.capacityAh === null) return null;
  const value = Math.min(30, 1.5 * pack.capacityAh);
  return { value, why: `a BMS of ${Math.round(value)} A, as packs of ${pack.capacityAh} Ah have` };
}
export function usualPeakProtection(pack: PackFacts): Usual<number> | null {
  const continuous = pack.protectionContinuousA ?? usualProtection(pack)?.value ?? null;
  return continuous === null
    ? null
    : { value: 1.5 * continuous, why: 'a BMS that carries half as much again for seconds' };
}
/** Cells of 2.5 Ah have about 40 mΩ with their strips: it falls with the capacity and grows with the series. */
const CELL_OHM_AH = 0.1;
export function usualResistance(pack: PackFacts): Usual<number> | null {
  if (!isLithium(pack) || pack.capacityAh === null || pack.seriesCells === null) return null;
  return { value: (pack.seriesCells * CELL_OHM_AH) / pack.capacityAh, why: 'cells of ordinary resistance' };
}
export function usualChargeCurrent(pack: PackFacts): Usual<number> | null {
  return isLithium(pack) && pack.capacityAh !== null
    ? { value: 0.5 * pack.capacityAh, why: 'charging at no more than half the capacity an hour' }
    : null;
}

/** The highest at which electronics cut; lead-acid has none and has to be spared all the same. */
const CUT_OFF_CELL_V = { 'li-ion-nmc': 3, 'li-ion-lfp': 2.8, 'lead-acid': 1.75 } as const;
export function usualCutoff(packs: readonly PackFacts[]): Usual<number> | null {
  const cutoffs = packs.map(({ chemistry, seriesCells }): Usual<number> | null =>
    seriesCells === null
      ? null
      : {
          value: CUT_OFF_CELL_V[chemistry] * seriesCells,
          why: `${CUT_OFF_CELL_V[chemistry]} V a cell at the most`,
        },
  );
  const all = usualOfAll(cutoffs);
  return all && { value: Math.max(...all.value), why: all.why };
}

const KIT_MASSES = { 'front-hub': 3.6, 'rear-hub-geared': 4.6, 'rear-hub-direct': 7.2, mid: 5.4 } as const;
export function usualKitMass({ motorKind }: KitFacts): Usual<number> {
  const value = KIT_MASSES[motorKind];
  return { value, why: `a kit of ${value} kg, as those of this kind weigh` };
}
const WH_PER_KG = { lithium: 150, lead: 35 } as const;
export function usualPackMass(pack: PackFacts): Usual<number> | null {
  if (pack.capacityAh === null || pack.nominalVoltageV === null) return null;
  const value = (pack.capacityAh * pack.nominalVoltageV) / WH_PER_KG[isLithium(pack) ? 'lithium' : 'lead'];
  return { value, why: `${pack.name} at ${value.toFixed(1)} kg by its energy` };
}

/** Of each, where all of them have one; said once. */
export function usualOfAll<T>(usuals: readonly (Usual<T> | null)[]): Usual<readonly T[]> | null {
  const known = usuals.filter((usual): usual is Usual<T> => usual !== null);
  return known.length === usuals.length && known.length > 0
    ? { value: known.map(({ value }) => value), why: [...new Set(known.flatMap(({ why }) => why || []))].join(', ') }
    : null;
}
