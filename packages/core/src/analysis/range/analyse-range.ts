import type { CleanLog } from '../../logs/index.js';
import { oncePer } from '../../numeric/index.js';
import { warnInto } from '../figure.js';
import type { Contribution, Figure, FigureWarning, Warn } from '../figure.js';
import { DEFAULT_INSTRUMENT, type InstrumentErrors } from '../instrument.js';
import { logFlags } from '../quality/log-flags.js';
import type { TestContext } from '../test-context.js';
import { climbedFigure, distanceContributions, distanceFigure } from './distance-figures.js';
import {
  chargeFigure,
  consumptionFigures,
  energyFigures,
  warnOfClip,
  warnOfCounter,
  warnOfGaps,
} from './energy-figures.js';
import { measureEnergy } from './measure-energy.js';
import { addMotionFigures } from './motion-figures.js';
import { addRangeFigures } from './range-figures.js';
import { correctToReference } from './reference-correction.js';
import { rideDistance, type RideDistance } from './ride-distance.js';
import { addRiderFigures } from './rider-figures.js';

export interface RangeAnalysis {
  readonly figures: readonly Figure[];
  readonly warnings: readonly FigureWarning[];
}

/**
 * Range and consumption of one ride.
 *
 * Figures: `distance`, `movingTime`, `meanMovingSpeed`, `energyOut`, `energyRegenerated`, `netConsumption`,
 * `grossConsumption`, `chargeUsed`, `climbed`, `rangeToCutoff`, `rangeWithReserve` (metered), `rangeRiddenToEmpty`,
 * `rangeRuleOfThumb`, `rangeByGauge`, `netConsumptionAtReference`. What the log cannot carry is named in a warning.
 * Method: docs/methods.md, "range"; uncertainty after JCGM 100:2008.
 */
export function analyseRange(log: CleanLog, context: TestContext = {}): RangeAnalysis {
  return rangeOf(log)(context);
}
/** A battery test asks for it twice. */
const rangeOf = oncePer((log: CleanLog) => oncePer((context: TestContext) => findRange(log, context)));

function findRange(log: CleanLog, context: TestContext): RangeAnalysis {
  const instrument: InstrumentErrors = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const figures: Figure[] = [];
  const warnings: FigureWarning[] = [...logFlags(log)];
  const warn = warnInto(warnings);

  const distance = rideDistance(log);
  const distanceKm = (distance?.distanceM ?? 0) / 1000;
  const distanceParts = distance ? distanceContributions(distance, instrument, log.report) : [];
  if (distance && distanceKm > 0) figures.push(distanceFigure(log, distance, distanceParts));
  else
    warn(
      'no-distance',
      'The log has no distance, no speed and no positions, or they show no movement: no per-km figure can be given.',
    );
  if (log.hasClock) {
    addMotionFigures(log, figures, distance, distanceKm, distanceParts, instrument, warn);
    addRiderFigures(log, figures);
  } else warn('no-clock', 'The track has no times: distance and climbing can be given, but no speed, time or energy.');

  const climbed = distance && climbedFigure(log, distance, instrument);
  if (climbed) figures.push(climbed);
  else warn('no-altitude', 'The log has no altitude (or too few readings of it): climbing cannot be given.');

  if (log.hasClock) addEnergy({ log, context, instrument, distance, distanceParts }, figures, warn);
  return { figures, warnings };
}

interface MeasuredRide {
  readonly log: CleanLog;
  readonly context: TestContext;
  readonly instrument: InstrumentErrors;
  readonly distance: RideDistance | undefined;
  readonly distanceParts: readonly Contribution[];
}

function addEnergy(
  { log, context, instrument, distance, distanceParts }: MeasuredRide,
  figures: Figure[],
  warn: Warn,
): void {
  const charge = chargeFigure(log, instrument);
  const measured = measureEnergy(log, instrument);
  if ('missing' in measured) {
    if (charge) figures.push(charge);
    warn('no-energy', measured.missing);
    return;
  }
  const { energy } = measured;
  warnOfGaps(energy, log, warn);
  warnOfCounter(energy, log, warn);
  warnOfClip(energy, warn);
  figures.push(...energyFigures(energy));
  if (charge) figures.push(charge);
  if (!distance || !(distance.distanceM > 0)) return;
  const distanceKm = distance.distanceM / 1000;
  const [net, gross] = consumptionFigures(energy, distanceKm, distanceParts);
  figures.push(net, gross);
  addRangeFigures(net, distanceKm, log, context, figures, warn);
  const corrected = correctToReference(net, log, distance, context);
  if (!corrected) return;
  figures.push(corrected.figure);
  corrected.warnings.forEach(({ code, message, said }) => warn(code, said ?? message));
}
