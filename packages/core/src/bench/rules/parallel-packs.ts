import { fullVoltageV } from '../pack-energy.js';
import type { ConvertedSetup } from '../facts.js';
import { isAtLeast, isAtMost, verdict, want, withKnown, type Rule, type Wanted } from '../rule.js';
import { amount, say } from '../../units/index.js';
import { usualChargeCurrent, usualOfAll, usualProtection, usualResistance } from '../usual.js';
import { drawnA } from './current.js';

/** Before the first joining. */
export const DIFFERENCE_LIMIT_V = 0.5;
/** A pack counts as full this far below the full voltage of its cells. */
export const FULL_TOLERANCE_PER_CELL_V = 0.05;

/** Several, and with electronics that each have to carry their share. */
const haveProtection = ({ packs }: ConvertedSetup): boolean =>
  packs.length > 1 && packs.every(({ chemistry }) => chemistry !== 'lead-acid');
const areSeveral = ({ packs }: ConvertedSetup): boolean => packs.length > 1;
const all = <T>(values: readonly (T | null)[]): readonly T[] | null =>
  values.every((value) => value !== null) ? values : null;

/** Of every pack, or not known. */
function restVoltages({ packs, fit }: Pick<ConvertedSetup, 'fit' | 'packs'>): Wanted<readonly number[]> {
  const known = fit.restVoltagesV.length >= packs.length ? fit.restVoltagesV : null;
  return want('fit', 'restVoltagesV', 'voltage of every pack at rest', known);
}

/** Shares of the current in parallel packs: as their conductances. Units: Ω in, fractions of one out. */
export function currentShares(resistancesOhm: readonly number[]): number[] {
  const total = resistancesOhm.reduce((sum, r) => sum + 1 / r, 0);
  return resistancesOhm.map((r) => 1 / r / total);
}

/** Current that flows from the fuller into the emptier pack at the moment they are joined, in A. */
export function equalisingCurrentA(differenceV: number, resistancesOhm: readonly [number, number]): number {
  return Math.abs(differenceV) / (resistancesOhm[0] + resistancesOhm[1]);
}

export const PACKS_SERIES: Rule = {
  id: 'packs-series',
  title: 'Packs with the same cells in series',
  group: 'packs',
  severity: 'stop',
  basis: 'Packs of different voltage are never joined in parallel.',
  applies: areSeveral,
  assess: ({ packs }) =>
    withKnown(
      { counts: want('pack', 'seriesCells', 'cells in series of every pack', all(packs.map((p) => p.seriesCells))) },
      ({ counts }) =>
        verdict(
          new Set(counts).size === 1,
          say`${counts.join(' and ')} cells in series`,
          say`Never join them. Use packs of the same series count, or ride them one after the other.`,
        ),
    ),
};

export const PACKS_CHEMISTRY: Rule = {
  id: 'packs-chemistry',
  title: 'Packs of one chemistry',
  group: 'packs',
  severity: 'stop',
  basis: 'Chemistries have different voltages over their charge; joined, one drives current into the other.',
  applies: areSeveral,
  assess: ({ packs }) =>
    verdict(
      new Set(packs.map(({ chemistry }) => chemistry)).size === 1,
      say`${packs.map(({ chemistry }) => chemistry).join(' and ')}`,
      say`Never join them. Use packs of one chemistry.`,
    ),
};

export const PACKS_FULL: Rule = {
  id: 'packs-full',
  title: 'Packs full before they are joined',
  group: 'packs',
  severity: 'stop',
  basis: 'Both packs at rest within 0.05 V per cell of full.',
  applies: areSeveral,
  assess: ({ packs, fit }) =>
    withKnown(
      {
        rest: restVoltages({ packs, fit }),
        full: want('pack', 'seriesCells', 'cells in series of every pack', all(packs.map(fullVoltageV))),
        cells: want('pack', 'seriesCells', 'cells in series of every pack', all(packs.map((p) => p.seriesCells))),
      },
      ({ rest, full, cells }) => {
        const least = full.map((v, k) => v - cells[k]! * FULL_TOLERANCE_PER_CELL_V);
        return verdict(
          least.every((limit, k) => isAtLeast(rest[k]!, limit)),
          say`at rest ${packs.map((_, k) => `${rest[k]!} V (full ${Number(full[k]!.toFixed(1))} V)`).join(', ')}`,
          say`Charge every pack full with its own charger and let it rest before joining.`,
        );
      },
    ),
};

export const PACKS_DIFFERENCE: Rule = {
  id: 'packs-difference',
  title: 'Difference before joining',
  group: 'packs',
  severity: 'stop',
  basis:
    'At most 0.5 V apart, and the current this drives, ΔV ÷ (R₁ + R₂), no more than either pack may be charged with.',
  applies: areSeveral,
  assess: ({ packs, fit }) => {
    const known = fit.restVoltagesV.slice(0, packs.length);
    // At one voltage nothing flows, whatever the resistances.
    if (known.length === packs.length && new Set(known).size === 1)
      return verdict(true, say`all at ${amount(known[0]!, 'V', 4)}: no current flows from one into the other`);
    return withKnown(
      {
        rest: restVoltages({ packs, fit }),
        resistances: want(
          'pack',
          'resistanceOhm',
          'internal resistance of every pack',
          all(packs.map((p) => p.resistanceOhm)),
          usualOfAll(packs.map(usualResistance)),
        ),
        charge: want(
          'pack',
          'maxChargeA',
          'maximum charge current of every pack',
          all(packs.map((p) => p.maxChargeA)),
          usualOfAll(packs.map(usualChargeCurrent)),
        ),
      },
      ({ rest, resistances, charge }) => {
        const of = rest.slice(0, packs.length);
        const [high, low] = [of.indexOf(Math.max(...of)), of.indexOf(Math.min(...of))];
        const difference = of[high]! - of[low]!;
        // Equal voltages: the same pack is found twice, and no current flows.
        const current =
          high === low || difference === 0
            ? 0
            : equalisingCurrentA(difference, [resistances[high]!, resistances[low]!]);
        const limit = Math.min(...charge);
        return verdict(
          isAtMost(difference, DIFFERENCE_LIMIT_V) && isAtMost(current, limit),
          say`${amount(difference, 'V', 3)} apart drive ${amount(current, 'A', 3)} from one into the other; at most ${amount(DIFFERENCE_LIMIT_V, 'V')} and ${amount(limit, 'A')}`,
          say`Do not join them now. Charge each full with its own charger, let them rest, measure again.`,
        );
      },
    );
  },
};

export const JOINER: Rule = {
  id: 'joiner-rating',
  title: 'Joiner for the current',
  group: 'packs',
  severity: 'stop',
  basis: 'Packs are joined by a device rated above the controller’s limit.',
  applies: areSeveral,
  assess: (setup) => {
    const joiner = setup.addOns.find(({ kind }) => kind === 'pack-joiner');
    if (!joiner)
      return verdict(
        false,
        say`${setup.packs.length} packs and no joiner among the add-ons`,
        say`Add a joiner rated above the controller’s limit.`,
      );
    return withKnown(
      {
        drawn: want('kit', 'currentLimitA', 'current limit of the controller', drawnA(setup)),
        rated: want('add-on', 'ratedA', 'rating of the joiner', joiner.ratedA),
      },
      ({ drawn, rated }) =>
        verdict(
          rated > drawn,
          say`joiner ${amount(rated, 'A')}; controller draws ${amount(drawn, 'A')}`,
          say`Use a joiner rated above ${amount(drawn, 'A')}, or lower the controller’s limit.`,
        ),
    );
  },
};

export const PACK_SHARES: Rule = {
  id: 'pack-shares',
  title: 'Share of each pack',
  group: 'packs',
  severity: 'stop',
  basis: 'The current divides as the conductances 1/R; each pack’s BMS has to carry its share.',
  applies: haveProtection,
  assess: (setup) =>
    withKnown(
      {
        drawn: want('kit', 'currentLimitA', 'current limit of the controller', drawnA(setup)),
        resistances: want(
          'pack',
          'resistanceOhm',
          'internal resistance of every pack',
          all(setup.packs.map((p) => p.resistanceOhm)),
          usualOfAll(setup.packs.map(usualResistance)),
        ),
        carried: want(
          'pack',
          'protectionContinuousA',
          'BMS continuous current of every pack',
          all(setup.packs.map((p) => p.protectionContinuousA)),
          usualOfAll(setup.packs.map(usualProtection)),
        ),
      },
      ({ drawn, resistances, carried }) => {
        const parts = currentShares(resistances).map((share) => share * drawn);
        return verdict(
          parts.every((part, k) => isAtMost(part, carried[k]!)),
          say`${setup.packs.map(({ name }, k) => `${name}: ${Number(parts[k]!.toFixed(1))} A of ${carried[k]!} A`).join('; ')}`,
          say`Lower the controller’s limit, or pair packs of like size.`,
        );
      },
    ),
};
