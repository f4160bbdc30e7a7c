import { derivationNumber as num, fromLimit, fromResolution } from '../figure.js';
import type { TestContext } from '../test-context.js';
import { MIN_ENERGY_WH, type EnergyByHand } from './manual-parts.js';
import type { ManualReadings } from './manual-readings.js';

/** Energy into the pack per energy from the socket, for an ordinary charger with a lithium pack. */
const CHARGE_EFFICIENCY = 0.86;
const CHARGE_EFFICIENCY_LIMIT = 0.06;
/** Of an efficiency that the tester stated. */
const STATED_EFFICIENCY_LIMIT = 0.03;
const DEFAULT_WALL_STEP_WH = 10;

/** What a meter in the socket counted until the pack was full again, Wh, less what the charger keeps. */
export function energyBySocket(
  { wallEnergyWh, wallStepWh = DEFAULT_WALL_STEP_WH }: ManualReadings,
  context: TestContext,
): EnergyByHand | undefined {
  if (wallEnergyWh === undefined || !(wallEnergyWh > MIN_ENERGY_WH)) return undefined;
  const { share, source, ...doubt } = chargeEfficiencyOf(context);
  const value = share * wallEnergyWh;
  return {
    value,
    formula: 'energy from the socket × share that reaches the pack',
    substituted: `${num(wallEnergyWh)} Wh × ${num(share)} = ${num(value)} Wh`,
    inputs: ['socket meter', source],
    contributions: [
      {
        source: `efficiency of charging (${source})`,
        standardUncertainty: doubt.standardUncertainty * wallEnergyWh,
        ...(doubt.degreesOfFreedom !== undefined && { degreesOfFreedom: doubt.degreesOfFreedom }),
        isSystematic: true,
      },
      { source: 'reading of the socket meter', standardUncertainty: share * fromResolution(wallStepWh) },
    ],
  };
}

/** What the tester said of the charger, or what was seen of it beside a logger, else an ordinary one. */
function chargeEfficiencyOf({ learned, charging }: TestContext): {
  share: number;
  source: string;
  standardUncertainty: number;
  degreesOfFreedom?: number;
} {
  const seen = learned?.chargeEfficiency;
  if (seen && seen.n > 0)
    return {
      share: seen.mean,
      source: `${seen.n} ${seen.n === 1 ? 'charge' : 'charges'} beside a logger`,
      standardUncertainty: seen.standardDeviation,
      degreesOfFreedom: seen.degreesOfFreedom,
    };
  if (charging?.efficiency !== undefined)
    return {
      share: charging.efficiency,
      source: 'as stated for the charger',
      standardUncertainty: fromLimit(STATED_EFFICIENCY_LIMIT),
    };
  return {
    share: CHARGE_EFFICIENCY,
    source: 'an ordinary charger',
    standardUncertainty: fromLimit(CHARGE_EFFICIENCY_LIMIT),
  };
}
