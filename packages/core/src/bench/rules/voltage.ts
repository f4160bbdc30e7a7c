import { fullVoltageV } from '../pack-energy.js';
import { isAtLeast, isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import { usualCutoff } from '../usual.js';
import { amount, say } from '../../units/index.js';

/** Labels of one nominal voltage differ by this much: 13 cells are sold as 46.8 and as 48 V. */
export const SAME_VOLTAGE_SHARE = 0.04;
/** A step up such as 48 → 52 V; more is another system. */
export const STEP_UP_SHARE = 0.1;

export const NOMINAL_VOLTAGE: Rule = {
  id: 'nominal-voltage',
  title: 'Pack voltage against the kit',
  group: 'electrical',
  severity: 'stop',
  basis:
    'Pack and kit of the same nominal voltage (within 4 %), or a step up of at most 10 % that both controller and display are rated for when the pack is full.',
  applies: ({ packs }) => packs.length > 0,
  assess: ({ kit, packs }) => {
    const pack = packs[0]!;
    return withKnown(
      {
        packV: want('pack', 'nominalVoltageV', 'nominal voltage of the pack', pack.nominalVoltageV),
        kitV: want('kit', 'nominalVoltageV', 'nominal voltage of the kit', kit.nominalVoltageV),
      },
      ({ packV, kitV }) => {
        const ratio = packV / kitV;
        const step = say`${amount(packV, 'V')} pack on a ${amount(kitV, 'V')} kit`;
        if (isAtMost(Math.abs(ratio - 1), SAME_VOLTAGE_SHARE)) return verdict(true, [...step, ...say`: the same`]);
        if (ratio < 1 || !isAtMost(ratio, 1 + STEP_UP_SHARE))
          return verdict(
            false,
            [...step, ...say`: ${ratio < 1 ? 'too low, the controller cuts off early or does not start' : 'too high'}`],
            say`Use a pack of ${amount(kitV, 'V')}.`,
          );
        return withKnown(
          {
            full: want('pack', 'seriesCells', 'cells in series of the pack', fullVoltageV(pack)),
            controller: want(
              'kit',
              'controllerMaxV',
              'highest voltage the controller is rated for',
              kit.controllerMaxV,
            ),
            display: want('kit', 'displayMaxV', 'highest voltage the display is rated for', kit.displayMaxV),
          },
          ({ full, controller, display }) =>
            verdict(
              isAtMost(full, Math.min(controller, display)),
              [
                ...step,
                ...say`, a step up: full ${amount(full, 'V')}; controller to ${amount(controller, 'V')}, display to ${amount(display, 'V')}`,
              ],
              say`Full, the pack gives more than ${controller < display ? 'the controller' : 'the display'} bears. Use a pack of ${amount(kitV, 'V')}.`,
            ),
        );
      },
    );
  },
};

export const CUT_OFF: Rule = {
  id: 'cut-off',
  title: 'Low-voltage cut-off above the BMS cut-off',
  group: 'electrical',
  severity: 'caution',
  basis: 'The controller has to stop before the BMS does: that one cuts without warning, lights and all.',
  applies: ({ packs }) => packs.length > 0,
  assess: ({ kit, packs, settings }) => {
    const cuts = packs.map(({ protectionCutoffV }) => protectionCutoffV);
    return withKnown(
      {
        controller: want('kit', 'cutoffV', 'controller’s low-voltage cut-off', settings.cutoffV ?? kit.cutoffV),
        pack: want(
          'pack',
          'protectionCutoffV',
          'BMS cut-off voltage',
          cuts.every((cut) => cut !== null) ? Math.max(...cuts.map((cut) => cut)) : null,
          usualCutoff(packs),
        ),
      },
      ({ controller, pack }) =>
        verdict(
          controller > pack,
          say`controller ${amount(controller, 'V')}, pack ${amount(pack, 'V')}`,
          say`Set the controller’s cut-off above ${amount(pack, 'V')}.`,
        ),
    );
  },
};

/** Chargers of the right kind are this close to what the cells add up to. */
export const CHARGER_TOLERANCE_V = 0.3;

export const CHARGER_VOLTAGE: Rule = {
  id: 'charger-voltage',
  title: 'Charger voltage',
  group: 'electrical',
  severity: 'stop',
  basis:
    'Cells in series × full-cell voltage (lithium-ion 4.2 V: 10s 42.0, 13s 54.6, 14s 58.8 V; iron phosphate 3.65 V; lead-acid 2.45 V), within 0.3 V.',
  applies: ({ packs }) => packs.length > 0,
  assess: ({ charger, packs }) =>
    withKnown(
      {
        chosen: want('charger', 'charger', 'a charger', charger),
        output: want('charger', 'outputV', 'output voltage of the charger', charger ? charger.outputV : 0),
        full: want('pack', 'seriesCells', 'cells in series of the pack', packs[0] ? fullVoltageV(packs[0]) : null),
      },
      ({ output, full }) =>
        verdict(
          isAtMost(Math.abs(output - full), CHARGER_TOLERANCE_V),
          say`charger ${amount(output, 'V')}; ${packs[0]!.seriesCells!} cells in series are full at ${amount(full, 'V')}`,
          output > full
            ? say`Never connect it: it overcharges the cells. Use a charger of ${amount(full, 'V')}.`
            : say`The pack never gets full. Use a charger of ${amount(full, 'V')}.`,
        ),
    ),
};

export const CHARGER_CHEMISTRY: Rule = {
  id: 'charger-chemistry',
  title: 'Charger for this chemistry',
  group: 'electrical',
  severity: 'stop',
  basis: 'Chemistries are charged to different voltages in different ways.',
  applies: ({ charger }) => charger !== null,
  assess: ({ charger, packs }) =>
    withKnown(
      { made: want('charger', 'chemistry', 'chemistry the charger is made for', charger!.chemistry) },
      ({ made }) =>
        verdict(
          packs.every(({ chemistry }) => chemistry === made),
          say`charger for ${made}; ${packs.map(({ chemistry }) => chemistry).join(', ')} packs`,
          say`Never connect it. Use the charger made for this pack.`,
        ),
    ),
};

export const CHARGER_CURRENT: Rule = {
  id: 'charger-current',
  title: 'Charge current',
  group: 'electrical',
  severity: 'stop',
  basis: 'Charger current against what each pack may be charged with.',
  applies: ({ charger, packs }) => charger !== null && packs.length > 0,
  assess: ({ charger, packs }) => {
    const limits = packs.map(({ maxChargeA }) => maxChargeA);
    return withKnown(
      {
        output: want('charger', 'outputA', 'output current of the charger', charger!.outputA),
        limit: want(
          'pack',
          'maxChargeA',
          'maximum charge current of every pack',
          limits.every((limit) => limit !== null) ? Math.min(...limits.map((limit) => limit)) : null,
        ),
      },
      ({ output, limit }) =>
        verdict(
          isAtLeast(limit, output),
          say`charger ${amount(output, 'A')}; pack up to ${amount(limit, 'A')}`,
          say`Use a charger of at most ${amount(limit, 'A')}. Charge in sight, above freezing, never a damaged pack.`,
        ),
    );
  },
};
