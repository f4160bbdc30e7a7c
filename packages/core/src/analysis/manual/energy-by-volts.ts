import { chargeAtRest, CHEMISTRIES, energyShareAt, type Chemistry, type UsableEnergy } from '../../battery/index.js';
import { say } from '../../units/index.js';
import { derivationNumber as num, derivationQuantity as qty, fromLimit, fromResolution, type Warn } from '../figure.js';
import type { TestContext } from '../test-context.js';
import { MIN_SHARE, type EnergyByHand } from './manual-parts.js';
import type { ManualReadings } from './manual-readings.js';

/** A typical voltage curve against this very cell, as a share of the charge: cells of one chemistry lie 5 % apart in the middle. */
const CURVE_LIMIT = 0.07;
const DEFAULT_VOLTAGE_STEP_V = 0.1;
/** Fresh off a charger that ends high, with a voltmeter that reads high. */
const ABOVE_FULL = 1.06;
/** Of the nominal voltage: what was run flat and rests has more. */
const BELOW_EMPTY = 0.6;

/** What the fall of the rest voltage says by the typical curve of the chemistry, Wh. */
export function energyByVolts(
  { restVoltageStartV: startV, restVoltageEndV: endV, voltageStepV = DEFAULT_VOLTAGE_STEP_V }: ManualReadings,
  { pack }: TestContext,
  usable: UsableEnergy | undefined,
  warn: Warn,
): EnergyByHand | undefined {
  if (startV === undefined || endV === undefined) return undefined;
  const chemistry = pack?.chemistry ?? 'li-ion-nmc';
  const cells = pack?.nominalVoltageV && Math.round(pack.nominalVoltageV / CHEMISTRIES[chemistry].nominalCellV);
  if (!usable || !cells) {
    warn('no-capacity', "The pack's capacity and voltage are not known: rest voltages cannot be turned into energy.");
    return undefined;
  }
  const odd = [startV, endV].find((volts) => isNoRestVoltage(volts / cells, chemistry));
  if (odd !== undefined) {
    warn(
      'voltage-not-of-pack',
      say`${qty(odd, 'V')} is no voltage of a pack of ${qty(pack.nominalVoltageV, 'V')} at rest: it gives no energy figure. Look at the comma, and at the pack of this setup.`,
    );
    return undefined;
  }
  const share = (volts: number): number => energyShareAt(chemistry, chargeAtRest(chemistry, volts / cells));
  const used = share(startV) - share(endV);
  if (used <= MIN_SHARE) {
    warn(
      'voltage-did-not-fall',
      'The rest voltage did not fall: it gives no energy figure. Was the pack at rest for half an hour?',
    );
    return undefined;
  }
  const step = fromResolution(voltageStepV);
  // How much a misread tenth of a volt moves the charge, where the curve lies.
  const slope = (volts: number): number => (share(volts + 0.2) - share(volts - 0.2)) / 0.4;
  const value = used * usable.energyWh;
  return {
    value,
    formula: 'share of the energy used by the rest voltages (typical curve) × usable energy',
    substituted: `(${num(share(startV))} − ${num(share(endV))}) × ${num(usable.energyWh)} Wh = ${num(value)} Wh`,
    inputs: ['rest voltages', usable.source],
    contributions: [
      {
        source: 'typical voltage curve',
        standardUncertainty: usable.energyWh * fromLimit(CURVE_LIMIT),
        isSystematic: true,
      },
      {
        source: 'reading of the voltmeter',
        standardUncertainty: usable.energyWh * step * Math.hypot(slope(startV), slope(endV)),
      },
      {
        source: `usable energy (${usable.source})`,
        standardUncertainty: used * usable.standardUncertaintyWh,
        isSystematic: true,
      },
    ],
  };
}

/** A cell at rest stands between empty and full, whatever it was ridden for. */
function isNoRestVoltage(cellV: number, chemistry: Chemistry): boolean {
  const { fullCellV, nominalCellV } = CHEMISTRIES[chemistry];
  return cellV > ABOVE_FULL * fullCellV || cellV < BELOW_EMPTY * nominalCellV;
}
