import { CHARGE_TIME_LIMIT, CHEMISTRIES, chargeSlowness, usableEnergy } from '../battery/index.js';
import { estimate, missingOf, type EstimateOrReason } from './estimate.js';
import type { PackFacts, SetupFacts } from './facts.js';

export function fullVoltageV({ chemistry, seriesCells }: PackFacts): number | null {
  return seriesCells === null ? null : seriesCells * CHEMISTRIES[chemistry].fullCellV;
}

export interface PackEnergy {
  /** Capacity × nominal voltage over all packs; null while a pack's label is not known. */
  readonly nominalWh: number | null;
  readonly usable: EstimateOrReason;
  readonly capacityAh: number | null;
}

/** Energy of all packs of a setup together, in Wh. Packs in parallel add their capacities; the label and the usable part stand apart. */
export function packEnergy(packs: readonly PackFacts[]): PackEnergy {
  const labels = packs.map(({ capacityAh, nominalVoltageV }) =>
    capacityAh === null || nominalVoltageV === null ? null : capacityAh * nominalVoltageV,
  );
  const usable = packs.map((pack) =>
    usableEnergy({
      chemistry: pack.chemistry,
      ...(pack.capacityAh !== null && { capacityAh: pack.capacityAh }),
      ...(pack.nominalVoltageV !== null && { nominalVoltageV: pack.nominalVoltageV }),
      ...(pack.usableShare !== null && { usableShare: pack.usableShare }),
      ...(pack.measuredEnergyWh !== null && { measuredEnergyWh: pack.measuredEnergyWh }),
      ...(pack.measuredEnergyUncertaintyWh !== null && {
        measuredEnergyUncertaintyWh: pack.measuredEnergyUncertaintyWh,
      }),
    }),
  );
  const unknown = packs.filter((_, k) => usable[k] === undefined).map(({ name }) => `capacity and voltage of ${name}`);
  const energyWh = usable.reduce((sum, one) => sum + (one?.energyWh ?? 0), 0);
  // Twice the standard uncertainty; the doubt about a chemistry's usual share is common to all packs, so it adds up.
  const halfWh = 2 * usable.reduce((sum, one) => sum + (one?.standardUncertaintyWh ?? 0), 0);
  const allMeasured = packs.every(({ measuredEnergyWh }) => measuredEnergyWh !== null);
  return {
    nominalWh:
      packs.length > 0 && labels.every((label) => label !== null)
        ? labels.reduce((sum: number, label) => sum + label, 0)
        : null,
    usable:
      unknown.length > 0 || packs.length === 0
        ? { missing: packs.length === 0 ? ['a pack'] : unknown }
        : {
            value: energyWh,
            lower: energyWh - halfWh,
            upper: energyWh + halfWh,
            unit: 'Wh',
            basis: allMeasured ? 'measured from full to cut-off' : 'label × usable share of the chemistry',
          },
    capacityAh:
      packs.length > 0 && packs.every(({ capacityAh }) => capacityAh !== null)
        ? packs.reduce((sum, { capacityAh }) => sum + capacityAh!, 0)
        : null,
  };
}

/** A rule of thumb: consumption of a speed and a way of pedalling; editable by the tester. */
export interface ThumbRule {
  readonly name: string;
  readonly whPerKm: number;
  /** Where an ordinary ride of the kind lies, where that was worked out or learned; else 30 % either way. */
  readonly lowerWhPerKm?: number;
  readonly upperWhPerKm?: number;
  /** Where it comes from, in words; none: the tester's own. */
  readonly basis?: string;
}
/** Wind, load, stops and hills of an ordinary round move consumption by about this much. */
const THUMB_DOUBT = 0.3;

/**
 * Range by rule of thumb: usable energy of all packs, less a share kept back, ÷ consumption; a first figure until rides replace it. Units: km.
 * The span holds the doubt of the consumption and that of the energy, added up in quadrature on logarithms.
 */
export function thumbRange(
  { packs }: Pick<SetupFacts, 'packs'>,
  { whPerKm, name, lowerWhPerKm, upperWhPerKm, basis }: ThumbRule,
  reserveShare = 0,
): EstimateOrReason {
  const { usable } = packEnergy(packs);
  if ('missing' in usable) return usable;
  const kept = reserveShare > 0 ? ` less ${Math.round(reserveShare * 100)} % kept back` : '';
  const words = `usable energy${kept} ÷ ${Number(whPerKm.toPrecision(3))} Wh/km (${name}${basis ? `; ${basis}` : ''})`;
  const value = (usable.value * (1 - reserveShare)) / whPerKm;
  if (lowerWhPerKm === undefined || upperWhPerKm === undefined) return estimate(value, THUMB_DOUBT, 'km', words);
  const far = Math.hypot(Math.log(whPerKm / lowerWhPerKm), Math.log(usable.upper / usable.value));
  const near = Math.hypot(Math.log(upperWhPerKm / whPerKm), Math.log(usable.value / usable.lower));
  return { value, lower: value * Math.exp(-near), upper: value * Math.exp(far), unit: 'km', basis: words };
}

/**
 * Time to charge all packs from empty with one charger, one after another or in parallel alike. Units: h.
 * Method: constant-current part at the charger's current, then a taper that takes 2.5 times as long for its share.
 */
export function chargeTime({ packs, charger }: Pick<SetupFacts, 'packs' | 'charger'>): EstimateOrReason {
  const { capacityAh } = packEnergy(packs);
  const chemistry = packs[0]?.chemistry;
  const missing = missingOf({
    'a charger with its current': charger?.outputA ?? null,
    'capacity of every pack': capacityAh,
  });
  if (missing.length > 0 || chemistry === undefined) return { missing };
  const hours = (capacityAh! / charger!.outputA!) * chargeSlowness(chemistry);
  return estimate(hours, CHARGE_TIME_LIMIT, 'h', 'capacity ÷ charge current, with the taper at the end');
}

const DEFAULT_EFFICIENCY = 0.85;
const EFFICIENCY_DOUBT = 0.06;

export interface ChargeCost {
  readonly amount: number;
  readonly lower: number;
  readonly upper: number;
  readonly currency: string;
  readonly energyWh: number;
}

/** What one full charge costs at the socket, in the currency of the tariff. */
export function chargeCost({
  packs,
  charger,
  fit,
}: Pick<SetupFacts, 'packs' | 'charger' | 'fit'>): ChargeCost | { readonly missing: readonly string[] } {
  const { usable } = packEnergy(packs);
  const missing = [
    ...('missing' in usable ? usable.missing : []),
    ...missingOf({ 'price of electricity': fit.electricityPerKWh }),
  ];
  if ('missing' in usable || missing.length > 0) return { missing };
  const known = charger?.efficiency ?? null;
  const efficiency = known ?? DEFAULT_EFFICIENCY;
  const energyWh = usable.value / efficiency;
  const amount = (energyWh / 1000) * fit.electricityPerKWh!;
  const doubt = Math.hypot((usable.upper - usable.value) / usable.value, known === null ? EFFICIENCY_DOUBT : 0.02);
  return { amount, lower: amount * (1 - doubt), upper: amount * (1 + doubt), currency: fit.currency, energyWh };
}
