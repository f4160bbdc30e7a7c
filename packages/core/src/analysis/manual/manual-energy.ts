import { usableEnergy } from '../../battery/index.js';
import { makeFigure, type Figure, type Warn } from '../figure.js';
import type { TestContext } from '../test-context.js';
import { energyByBars, energyByEdges } from './energy-by-gauge.js';
import { energyBySocket } from './energy-by-socket.js';
import { energyByVolts } from './energy-by-volts.js';
import type { ManualReadings } from './manual-readings.js';

/**
 * Energy a ride took, by socket meter, by gauge bars and by rest voltages: each where its readings are there, each
 * with the uncertainty its source deserves. The first of the list is the one with the smallest.
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
  return [
    energyBySocket(manualReadings, context),
    energyByBars(context, usable, warn),
    energyByEdges(manualReadings, context, distanceKm, usable),
    energyByVolts(manualReadings, context, usable, warn),
  ]
    .flatMap((parts) =>
      parts ? [makeFigure({ key: 'energyOut', label: 'Energy out of the battery', unit: 'Wh', n: 1, ...parts })] : [],
    )
    .sort((a, b) => a.standardUncertainty - b.standardUncertainty);
}
