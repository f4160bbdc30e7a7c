import type { ConvertedSetup } from '../facts.js';
import { isAtLeast, isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';
import {
  USUAL_WIRE_LENGTH,
  usualConnector,
  usualPeak,
  usualPeakProtection,
  usualProtection,
  usualWire,
} from '../usual.js';

/** Protection is rated at room temperature and ages. */
export const PROTECTION_MARGIN = 1.2;
/** Resistivity of copper at 20 °C in Ω·mm²/m (IEC 60028: 1/58). */
export const COPPER_OHM_MM2_PER_M = 1 / 58;
export const DROP_LIMIT_SHARE = 0.03;
/** Bundled and insulated wire in a frame stays below about 30 K over its surroundings. */
export const DENSITY_LIMIT_A_PER_MM2 = 7;

/** The current the controller draws at most: what was set, else the kit's limit. */
export function drawnA({ kit, settings }: Pick<ConvertedSetup, 'kit' | 'settings'>): number | null {
  return settings.currentLimitA ?? kit.currentLimitA;
}
const wantDrawn = (setup: ConvertedSetup) =>
  want('kit', 'currentLimitA', 'current limit of the controller', drawnA(setup));

export const PROTECTION_CURRENT: Rule = {
  id: 'protection-current',
  title: 'Controller current against the BMS',
  group: 'electrical',
  severity: 'stop',
  basis:
    'BMS continuous current ≥ 1.2 × the controller’s limit. Several packs: see “Share of each pack”. Lead-acid has no BMS: its fuse protects it.',
  applies: ({ packs }) => packs.length === 1 && packs[0]!.chemistry !== 'lead-acid',
  assess: (setup) =>
    withKnown(
      {
        drawn: wantDrawn(setup),
        carried: want(
          'pack',
          'protectionContinuousA',
          'BMS continuous current',
          setup.packs[0]!.protectionContinuousA,
          usualProtection(setup.packs[0]!),
        ),
      },
      ({ drawn, carried }) =>
        verdict(
          isAtLeast(carried, drawn * PROTECTION_MARGIN),
          say`${amount(drawn, 'A')} × ${PROTECTION_MARGIN} = ${amount(drawn * PROTECTION_MARGIN, 'A', 3)}; BMS carries ${amount(carried, 'A')}`,
          say`Lower the controller’s limit to ${amount(carried / PROTECTION_MARGIN, 'A', 3)}, or use a pack that carries ${amount(drawn * PROTECTION_MARGIN, 'A', 3)}.`,
        ),
    ),
};

export const PROTECTION_PEAK: Rule = {
  id: 'protection-peak',
  title: 'Peak current against the BMS',
  group: 'electrical',
  severity: 'caution',
  basis:
    'Peak current of the controller against the BMS peak rating: above it the pack switches off on a start or a climb.',
  applies: ({ packs }) => packs.length === 1 && packs[0]!.chemistry !== 'lead-acid',
  assess: ({ kit, packs }) =>
    withKnown(
      {
        peak: want(
          'kit',
          'peakCurrentA',
          'peak current of the controller',
          kit.peakCurrentA,
          usualPeak(kit.currentLimitA),
        ),
        carried: want(
          'pack',
          'protectionPeakA',
          'BMS peak current',
          packs[0]!.protectionPeakA,
          usualPeakProtection(packs[0]!),
        ),
      },
      ({ peak, carried }) =>
        verdict(
          isAtLeast(carried, peak),
          say`peak ${amount(peak, 'A')}; BMS peak rating ${amount(carried, 'A')}`,
          say`Set a softer start or a lower limit, or use a stronger pack.`,
        ),
    ),
};

export const CONNECTORS: Rule = {
  id: 'connectors',
  title: 'Connectors for the current',
  group: 'electrical',
  severity: 'stop',
  basis: 'The weakest connector between pack and controller against the controller’s limit.',
  applies: ({ packs }) => packs.length > 0,
  assess: (setup) => {
    const packs = setup.packs.map(({ connectorA }) => connectorA);
    return withKnown(
      {
        drawn: wantDrawn(setup),
        kit: want(
          'kit',
          'connectorA',
          'rating of the controller’s connector',
          setup.kit.connectorA,
          usualConnector(setup.kit.currentLimitA),
        ),
        pack: want(
          'pack',
          'connectorA',
          'rating of the pack’s connector',
          packs.every((rating) => rating !== null) ? Math.min(...packs.map((rating) => rating)) : null,
          usualConnector(setup.kit.currentLimitA),
        ),
      },
      ({ drawn, kit, pack }) =>
        verdict(
          isAtLeast(Math.min(kit, pack), drawn),
          say`${amount(drawn, 'A')} through connectors rated ${amount(kit, 'A')} and ${amount(pack, 'A')}`,
          say`Use connectors rated for at least ${amount(drawn, 'A')} on both sides. Check which pin is plus before joining: swapped pairs destroy the controller.`,
        ),
    );
  },
};

const wire = (setup: ConvertedSetup) => ({
  drawn: wantDrawn(setup),
  area: want('kit', 'wireMm2', 'cross-section of the wires', setup.kit.wireMm2, usualWire(setup.kit.currentLimitA)),
});

export const WIRE_DROP: Rule = {
  id: 'wire-drop',
  title: 'Voltage drop in the wires',
  group: 'electrical',
  severity: 'caution',
  basis: 'There and back through copper at 20 °C (1/58 Ω·mm²/m): at most 3 % of the nominal voltage.',
  applies: ({ packs }) => packs.length > 0,
  assess: (setup) =>
    withKnown(
      {
        ...wire(setup),
        length: want('kit', 'wireLengthM', 'length of the wires, one way', setup.kit.wireLengthM, USUAL_WIRE_LENGTH),
        nominal: want('pack', 'nominalVoltageV', 'nominal voltage of the pack', setup.packs[0]!.nominalVoltageV),
      },
      ({ drawn, area, length, nominal }) => {
        const drop = (2 * length * drawn * COPPER_OHM_MM2_PER_M) / area;
        const limit = DROP_LIMIT_SHARE * nominal;
        return verdict(
          isAtMost(drop, limit),
          say`2 × ${amount(length, 'm')} of ${amount(area, 'mm²')} at ${amount(drawn, 'A')}: ${amount(drop, 'V', 3)} lost, ${amount(drop * drawn, 'W', 3)} of heat; at most ${amount(limit, 'V', 3)}`,
          say`Use wire of at least ${amount((area * drop) / limit, 'mm²', 3)}, or make it shorter.`,
        );
      },
    ),
};

export const WIRE_HEAT: Rule = {
  id: 'wire-heat',
  title: 'Wires for the current',
  group: 'electrical',
  severity: 'stop',
  basis: 'At most 7 A per mm² of copper, bundled in a frame.',
  applies: ({ packs }) => packs.length > 0,
  assess: (setup) =>
    withKnown(wire(setup), ({ drawn, area }) =>
      verdict(
        isAtMost(drawn / area, DENSITY_LIMIT_A_PER_MM2),
        say`${amount(drawn, 'A')} ÷ ${amount(area, 'mm²')} = ${amount(drawn / area, 'A/mm²', 3)}; at most ${amount(DENSITY_LIMIT_A_PER_MM2, 'A/mm²')}`,
        say`Use wire of at least ${amount(drawn / DENSITY_LIMIT_A_PER_MM2, 'mm²', 3)}.`,
      ),
    ),
};

export const FUSE: Rule = {
  id: 'fuse',
  title: 'Fuse between load and wire',
  group: 'electrical',
  severity: 'stop',
  basis:
    'The fuse carries the controller’s limit and blows before the wire is overloaded (10 A per mm² for a short time).',
  applies: ({ packs }) => packs.length > 0,
  assess: (setup) => {
    const fuses = setup.packs.map(({ fuseA }) => fuseA);
    const count = setup.packs.length;
    return withKnown(
      {
        ...wire(setup),
        fuse: want(
          'pack',
          'fuseA',
          'fuse of every pack',
          fuses.every((fuse) => fuse !== null) ? Math.min(...fuses.map((fuse) => fuse)) : null,
        ),
      },
      ({ drawn, area, fuse }) => {
        const [least, most] = [drawn / count, area * FUSE_DENSITY_A_PER_MM2];
        return verdict(
          isAtLeast(fuse, least) && isAtMost(fuse, most),
          say`fuse ${amount(fuse, 'A')}; load ${amount(least, 'A', 3)} a pack, wire takes ${amount(most, 'A', 3)}`,
          fuse < least
            ? say`It blows on a climb: use one of ${amount(least, 'A', 3)} to ${amount(most, 'A', 3)}.`
            : say`The wire burns before it blows: use one of at most ${amount(most, 'A', 3)}, close to the pack.`,
        );
      },
    );
  },
};
export const FUSE_DENSITY_A_PER_MM2 = 10;
