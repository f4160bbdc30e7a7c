import { say } from '../../units/index.js';
import { systematic } from '../contributions.js';
import { derivationQuantity as qty, fromLimit, fromResolution, makeFigure, type Figure, type Warn } from '../figure.js';
import { DISPLAY_POWER_LIMIT, displayStepOf } from './display-power.js';
import { ratio, wheelSizeInDisplay } from './manual-parts.js';
import type { ManualReadings } from './manual-readings.js';

/** One look at a display that wavers: speed by this much, power by this share, either way. */
const WAVERS_KMH = 0.5;
const WAVERS_SHARE = 0.1;
const DEFAULT_SPEED_STEP_KMH = 0.1;

/**
 * The small table of a ride through the assist levels: what the display showed steadily at each, so many km/h and W.
 * Figures: `steadySpeedLevel…`, `meanPowerLevel…`, `consumptionLevel…`, as from a log, with what a display leaves open.
 */
export function addLevelTable(manualReadings: ManualReadings, figures: Figure[], warn: Warn): void {
  const rows = manualReadings.levelTable ?? [];
  if (rows.length === 0) {
    warn('no-levels', 'No speed or watts were noted by level. Note the steady speed and the watts at each level.');
    return;
  }
  for (const { level, speedKmh, powerW } of rows) {
    const speed = speedKmh === undefined ? undefined : speedAt(level, speedKmh, manualReadings);
    const power = powerW === undefined ? undefined : powerAt(level, powerW);
    if (speed) figures.push(speed);
    if (power) figures.push(power);
    if (!speed || !power || !(speed.value > 0)) continue;
    const [key, label] = [`consumptionLevel${level}`, `Consumption, level ${level}`];
    figures.push(ratio(key, label, power, speed, 'Wh/km', 'watts ÷ speed, as shown'));
  }
}

function speedAt(level: number, kmh: number, { displayStepKmh = DEFAULT_SPEED_STEP_KMH }: ManualReadings): Figure {
  return makeFigure({
    key: `steadySpeedLevel${level}`,
    label: `Steady speed, level ${level}`,
    value: kmh,
    unit: 'km/h',
    n: 1,
    contributions: [
      wheelSizeInDisplay(kmh),
      { source: 'one look at a speed that wavers', standardUncertainty: fromLimit(WAVERS_KMH), isRectangular: true },
      { source: 'step of the display', standardUncertainty: fromResolution(displayStepKmh) },
    ],
    formula: 'as shown while it was steady',
    substituted: say`${qty(kmh, 'km/h')}`,
    inputs: ['display'],
  });
}

function powerAt(level: number, watts: number): Figure {
  return makeFigure({
    key: `meanPowerLevel${level}`,
    label: `Mean power, level ${level}`,
    value: watts,
    unit: 'W',
    n: 1,
    contributions: [
      systematic('what the display goes by', fromLimit(DISPLAY_POWER_LIMIT * watts)),
      {
        source: 'one look at a power that wavers',
        standardUncertainty: fromLimit(WAVERS_SHARE * watts),
        isRectangular: true,
      },
      { source: 'step of the display', standardUncertainty: fromResolution(displayStepOf(watts)) },
    ],
    formula: 'as shown while it was steady',
    substituted: say`${qty(watts, 'W')}`,
    inputs: ['display'],
  });
}
