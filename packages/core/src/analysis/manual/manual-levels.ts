import { mean } from '../../numeric/index.js';
import { say } from '../../units/index.js';
import { systematic } from '../contributions.js';
import {
  derivationQuantity as qty,
  fromLimit,
  fromResolution,
  makeFigure,
  type Contribution,
  type Figure,
  type Warn,
} from '../figure.js';
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
  for (const level of new Set(rows.map((row) => row.level))) {
    const looks = rows.filter((row) => row.level === level);
    const speeds = looks.flatMap(({ speedKmh }) => speedKmh ?? []);
    const powers = looks.flatMap(({ powerW }) => powerW ?? []);
    const speed = speeds.length === 0 ? undefined : speedAt(level, speeds, manualReadings);
    const power = powers.length === 0 ? undefined : powerAt(level, powers);
    if (speed) figures.push(speed);
    if (power) figures.push(power);
    if (!speed || !power || !(speed.value > 0)) continue;
    const [key, label] = [`consumptionLevel${level}`, `Consumption, level ${level}`];
    figures.push(ratio(key, label, power, speed, 'Wh/km', 'watts ÷ speed, as shown'));
  }
}

function speedAt(
  level: number,
  looks: readonly number[],
  { displayStepKmh = DEFAULT_SPEED_STEP_KMH }: ManualReadings,
): Figure {
  const kmh = mean(looks);
  return makeFigure({
    key: `steadySpeedLevel${level}`,
    label: `Steady speed, level ${level}`,
    value: kmh,
    unit: 'km/h',
    n: looks.length,
    contributions: [
      wheelSizeInDisplay(kmh),
      atOneLook('speed', looks, fromLimit(WAVERS_KMH)),
      { source: 'step of the display', standardUncertainty: fromResolution(displayStepKmh) },
    ],
    formula: looks.length === 1 ? 'as shown while it was steady' : 'mean of what was shown while it was steady',
    substituted: say`${qty(kmh, 'km/h')}`,
    inputs: ['display'],
  });
}

function powerAt(level: number, looks: readonly number[]): Figure {
  const watts = mean(looks);
  return makeFigure({
    key: `meanPowerLevel${level}`,
    label: `Mean power, level ${level}`,
    value: watts,
    unit: 'W',
    n: looks.length,
    contributions: [
      systematic('what the display goes by', fromLimit(DISPLAY_POWER_LIMIT * watts)),
      atOneLook('power', looks, fromLimit(WAVERS_SHARE * watts)),
      { source: 'step of the display', standardUncertainty: fromResolution(displayStepOf(watts)) },
    ],
    formula: looks.length === 1 ? 'as shown while it was steady' : 'mean of what was shown while it was steady',
    substituted: say`${qty(watts, 'W')}`,
    inputs: ['display'],
  });
}

/** One look says how far it wavers only by experience; several say it themselves where they lie further apart. */
function atOneLook(what: string, looks: readonly number[], usual: number): Contribution {
  if (looks.length === 1)
    return { source: `one look at a ${what} that wavers`, standardUncertainty: usual, isRectangular: true };
  const middle = mean(looks);
  const seen = Math.sqrt(looks.reduce((sum, look) => sum + (look - middle) ** 2, 0) / (looks.length - 1));
  const n = looks.length;
  return seen > usual
    ? { source: `scatter of ${n} looks`, standardUncertainty: seen / Math.sqrt(n), degreesOfFreedom: n - 1 }
    : { source: `${n} looks at a ${what} that wavers`, standardUncertainty: usual / Math.sqrt(n) };
}
