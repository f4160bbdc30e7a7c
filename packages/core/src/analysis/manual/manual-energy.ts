import { usableEnergy, type PackKnowledge, type UsableEnergy } from '../../battery/index.js';
import { say } from '../../units/index.js';
import { derivationQuantity as qty, makeFigure, type Figure, type Warn } from '../figure.js';
import type { TestContext } from '../test-context.js';
import { energyByBars, energyByEdges } from './energy-by-gauge.js';
import { energyBySocket } from './energy-by-socket.js';
import { energyByVolts } from './energy-by-volts.js';
import type { ManualReadings } from './manual-readings.js';

/** Sources that lie further apart than so many standard uncertainties do not tell of one ride. */
const APART = 3;
/** A pack that holds less than this share of its label is no aged one but another. */
const LEAST_OF_LABEL = 0.5;
/** More than a label says, for a pack that holds more; beyond it something was counted twice. */
const MORE_THAN_PACK = 1.25;

/**
 * Energy a ride took, by socket meter, by gauge bars and by rest voltages: each where its readings are there, each
 * with the uncertainty its source deserves. The first of the list is the one with the smallest. None where two of them
 * cannot both be true, or where it is more than the pack holds: that is told. A socket meter that says less than gauge and volts
 * by the label tells of a pack that has aged: it counts alone.
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
  const kept = withoutLabel(found, warn);
  return areOfOneRide(kept, warn) && kept.every((energy) => isInPack(energy, pack, usable, warn)) ? kept : [];
}

function areApart(a: Figure, b: Figure): boolean {
  return Math.abs(a.value - b.value) > APART * Math.hypot(a.standardUncertainty, b.standardUncertainty);
}

/** What rests on the label goes where a socket meter says that the pack has less. */
function withoutLabel(found: readonly Figure[], warn: Warn): Figure[] {
  const socket = found.find((energy) => sourceOf(energy) === 'socket meter');
  const isByLabel = ({ derivation }: Figure): boolean => derivation.inputs.some((input) => input.startsWith('label '));
  const above = found.find(
    (energy) =>
      socket &&
      isByLabel(energy) &&
      areApart(energy, socket) &&
      socket.value < energy.value &&
      socket.value >= LEAST_OF_LABEL * energy.value,
  );
  if (!socket || !above) return [...found];
  warn(
    'pack-below-label',
    say`By ${sourceOf(above)} and the pack’s label the ride took ${qty(above.value, 'Wh')}, by the socket meter ${qty(socket.value, 'Wh')}: the pack seems to hold less than its label says. The socket meter counts; a capacity test would tell.`,
  );
  return found.filter((energy) => !isByLabel(energy));
}

function areOfOneRide([best, ...others]: readonly Figure[], warn: Warn): boolean {
  const other = best && others.find((energy) => areApart(energy, best));
  if (!best || !other) return true;
  warn(
    'energies-disagree',
    say`By ${sourceOf(best)} the ride took ${qty(best.value, 'Wh')}, by ${sourceOf(other)} ${qty(other.value, 'Wh')}: both cannot be true. No energy, no consumption and no range; look at what was written, at the cells of the pack, and whether the charge was of this ride alone.`,
  );
  return false;
}

/** Whatever share of it is meant to be used: a gentle ride takes more out of lead-acid blocks than is usual. */
function isInPack(
  { value, standardUncertainty }: Figure,
  pack: PackKnowledge | undefined,
  usable: UsableEnergy | undefined,
  warn: Warn,
): boolean {
  if (!usable) return true;
  const holdsWh = Math.max(usable.energyWh, (pack?.capacityAh ?? 0) * (pack?.nominalVoltageV ?? 0));
  if (value - 2 * standardUncertainty <= MORE_THAN_PACK * holdsWh) return true;
  warn(
    'more-than-pack',
    say`${qty(value, 'Wh')} are more than the pack holds, ${qty(holdsWh, 'Wh')}: no energy, no consumption and no range. Was it charged on the way, or more than this ride charged for?`,
  );
  return false;
}

const sourceOf = ({ derivation }: Figure): string => derivation.inputs[0]!;
