import { usableEnergy, type UsableEnergy } from '../../battery/index.js';
import { say } from '../../units/index.js';
import { derivationQuantity as qty, makeFigure, type Figure, type Warn } from '../figure.js';
import type { TestContext } from '../test-context.js';
import { energyByBars, energyByEdges } from './energy-by-gauge.js';
import { energyBySocket } from './energy-by-socket.js';
import { energyByVolts } from './energy-by-volts.js';
import type { ManualReadings } from './manual-readings.js';

/** Sources that lie further apart than so many standard uncertainties do not tell of one ride. */
const APART = 3;
/** More than a label says, for a pack that holds more; beyond it something was counted twice. */
const MORE_THAN_PACK = 1.25;

/**
 * Energy a ride took, by socket meter, by gauge bars and by rest voltages: each where its readings are there, each
 * with the uncertainty its source deserves. The first of the list is the one with the smallest. None where two of them
 * cannot both be true, or where it is more than the pack holds: that is told.
 */
export function manualEnergy(
  manualReadings: ManualReadings,
  context: TestContext,
  warn: Warn,
  distanceKm?: number,
): Figure[] {
  const { pack, airTemperatureC } = context;
  const usable =
    pack && usableEnergy({ ...pack, ...(airTemperatureC !== undefined && { temperatureC: airTemperatureC }) });
  const found = [
    energyBySocket(manualReadings, context),
    energyByBars(context, usable, warn),
    energyByEdges(manualReadings, context, distanceKm, usable),
    energyByVolts(manualReadings, context, usable, warn),
  ]
    .flatMap((parts) =>
      parts ? [makeFigure({ key: 'energyOut', label: 'Energy out of the battery', unit: 'Wh', n: 1, ...parts })] : [],
    )
    .sort((a, b) => a.standardUncertainty - b.standardUncertainty);
  return areOfOneRide(found, warn) && found.every((energy) => isInPack(energy, usable, warn)) ? found : [];
}

function areOfOneRide([best, ...others]: readonly Figure[], warn: Warn): boolean {
  const other = others.find(
    ({ value, standardUncertainty }) =>
      Math.abs(value - best!.value) > APART * Math.hypot(standardUncertainty, best!.standardUncertainty),
  );
  if (!best || !other) return true;
  warn(
    'energies-disagree',
    say`By ${sourceOf(best)} the ride took ${qty(best.value, 'Wh')}, by ${sourceOf(other)} ${qty(other.value, 'Wh')}: both cannot be true. No energy, no consumption and no range; look at what was written, at the cells of the pack, and whether the charge was of this ride alone.`,
  );
  return false;
}

function isInPack({ value, standardUncertainty }: Figure, usable: UsableEnergy | undefined, warn: Warn): boolean {
  if (!usable || value - 2 * standardUncertainty <= MORE_THAN_PACK * usable.energyWh + 2 * usable.standardUncertaintyWh)
    return true;
  warn(
    'more-than-pack',
    say`${qty(value, 'Wh')} are more than the pack holds, ${qty(usable.energyWh, 'Wh')}: no energy, no consumption and no range. Was it charged on the way, or more than this ride charged for?`,
  );
  return false;
}

const sourceOf = ({ derivation }: Figure): string => derivation.inputs[0]!;
