import { mean } from '../../numeric/index.js';
import { say } from '../../units/index.js';
import { systematic } from '../contributions.js';
import {
  derivationNumber as num,
  derivationQuantity as qty,
  fromLimit,
  fromResolution,
  makeFigure,
  type Figure,
  type Warn,
} from '../figure.js';
import type { TestContext } from '../test-context.js';
import { DISPLAY_POWER_LIMIT, displayStepOf } from './display-power.js';
import { unevenDirections } from './manual-top-speed.js';
import { THUMB_LIMIT_S, wheelSizeInDisplay } from './manual-parts.js';
import { MOTOR_TOUCHES, type ManualReadings } from './manual-readings.js';

/** Between what happens and what is felt, a rider is late by up to this, and much the same each time. */
const FELT_LATE_S = 0.2;
const DEFAULT_SPEED_STEP_KMH = 0.1;
/** Voltmeters of displays and controllers. */
const DISPLAY_VOLTAGE_LIMIT = 0.015;

const FELT = [
  ['helpAfterS', 'latency', 'Delay until assist, as felt'],
  ['runOnS', 'overrun', 'Run-on after pedalling stops, as felt'],
  ['brakeCutoffS', 'brakeCutoff', 'Brake cut-off, as felt'],
] as const;

/** Times felt at several starts or stops: mean, scatter, the thumb and how late one feels it. Units: s. */
export function addFeltTimes(manualReadings: ManualReadings, figures: Figure[], warn: Warn): void {
  let has = false;
  for (const [reading, key, label] of FELT) {
    const times = manualReadings[reading] ?? [];
    if (times.length === 0) continue;
    has = true;
    const value = mean(times);
    const variance = times.reduce((sum, t) => sum + (t - value) ** 2, 0) / Math.max(1, times.length - 1);
    figures.push(
      makeFigure({
        key,
        label,
        value,
        unit: 's',
        n: times.length,
        contributions: [
          systematic('feeling it late', fromLimit(FELT_LATE_S)),
          times.length > 1
            ? {
                source: 'scatter of the starts',
                standardUncertainty: Math.sqrt(variance / times.length),
                degreesOfFreedom: times.length - 1,
              }
            : { source: 'one start only', standardUncertainty: fromLimit(0.5 * Math.max(value, 0.5)) },
          {
            source: 'thumb or count',
            standardUncertainty: (Math.SQRT2 * fromLimit(THUMB_LIMIT_S)) / Math.sqrt(times.length),
          },
        ],
        formula: 'mean of the times felt',
        substituted: `${num(value)} s over ${times.length}`,
        inputs: ['stopwatch'],
      }),
    );
  }
  has = addCrankTurns(manualReadings, figures) || has;
  if (!has)
    warn('no-felt-time', 'No time until help, run-on or brake cut-off was noted. Time or count several starts.');
}

const QUARTER_DEG = 90;
/** One rider counts the quarter that was passed, another the one that was begun. */
const COUNTED_LIMIT_DEG = 0.5 * QUARTER_DEG;

/** Turn of the crank until help, counted in quarter turns over several starts. Units: degrees. */
function addCrankTurns({ helpAfterQuarterTurns: turns = [] }: ManualReadings, figures: Figure[]): boolean {
  if (turns.length === 0) return false;
  const value = QUARTER_DEG * mean(turns);
  const variance = turns.reduce((sum, t) => sum + (QUARTER_DEG * t - value) ** 2, 0) / Math.max(1, turns.length - 1);
  const scatterDeg = Math.sqrt(variance / turns.length);
  // Starts that are all alike fall into the same quarter each time: more of them do not tell where in it.
  const quarterDeg = fromResolution(QUARTER_DEG);
  figures.push(
    makeFigure({
      key: 'crankTurn',
      label: 'Crank turn before assist, counted',
      value,
      unit: 'deg',
      n: turns.length,
      contributions: [
        systematic('which quarter is counted', fromLimit(COUNTED_LIMIT_DEG)),
        turns.length === 1
          ? { source: 'one start only', standardUncertainty: fromLimit(QUARTER_DEG) }
          : scatterDeg > quarterDeg
            ? { source: 'scatter of the starts', standardUncertainty: scatterDeg, degreesOfFreedom: turns.length - 1 }
            : { source: 'seen in quarter turns', standardUncertainty: quarterDeg },
      ],
      formula: 'mean of the quarter turns counted × 90°',
      substituted: `${num(mean(turns))} × 90° over ${turns.length}`,
      inputs: ['counted'],
    }),
  );
  return true;
}

/** Heat of the motor by hand: an interval of °C, never a reading. */
export function addTouch(manualReadings: ManualReadings, context: TestContext, figures: Figure[]): void {
  const { motorTouch, temperatures = [] } = manualReadings;
  if (motorTouch === undefined || temperatures.some(({ place }) => place === 'motor')) return;
  const touch = MOTOR_TOUCHES[motorTouch];
  const airC = context.airTemperatureC;
  const toC = Math.max(touch.toC, (airC ?? 0) + 2);
  const fromC = touch.fromC ?? Math.min(toC - 2, airC ?? 5);
  const middle = (fromC + toC) / 2;
  const contributions = [systematic('heat by hand', fromLimit((toC - fromC) / 2))];
  figures.push(
    makeFigure({
      key: 'housingTemperature',
      label: 'Motor housing, by hand',
      value: middle,
      unit: '°C',
      n: 1,
      contributions,
      formula: 'middle of what the word means',
      substituted: say`“${touch.label.toLowerCase()}”: ${qty(fromC, '°C')} to ${qty(toC, '°C')}`,
      inputs: ['hand'],
      warnings: [
        {
          code: 'housing-only',
          message: 'The housing, not the winding: under load the winding is tens of degrees hotter.',
        },
      ],
    }),
  );
}

/** What a display or phone shows at most, and the lowest speed up a climb: with the doubt of its wheel size and its step. */
export function addDisplayExtremes(manualReadings: ManualReadings, isClimb: boolean, figures: Figure[]): void {
  const { highestSpeedKmh, highestSpeedBackKmh, lowestSpeedKmh, highestPowerW, typicalPowerW } = manualReadings;
  const { highestCurrentA, lowestVoltageV } = manualReadings;
  const step = manualReadings.displayStepKmh ?? DEFAULT_SPEED_STEP_KMH;
  const speed = (key: string, label: string, value: number, warnings: Figure['warnings'] = []): void => {
    figures.push(
      makeFigure({
        key,
        label,
        value,
        unit: 'km/h',
        n: 1,
        contributions: [
          wheelSizeInDisplay(value),
          { source: 'step of the display', standardUncertainty: fromResolution(step) },
        ],
        formula: 'as shown',
        substituted: say`${qty(value, 'km/h')}`,
        inputs: ['display'],
        warnings,
      }),
    );
  };
  if (highestSpeedKmh !== undefined && highestSpeedBackKmh === undefined)
    speed('topSpeedOneWay', 'Highest speed, one direction', highestSpeedKmh, [
      { code: 'one-direction', message: 'One direction only: wind and slope are in it.' },
    ]);
  if (isClimb && lowestSpeedKmh !== undefined) speed('minSpeed', 'Lowest speed on the climb', lowestSpeedKmh);
  const shown = (key: string, label: string, value: number | undefined, unit: 'A' | 'W'): void => {
    if (value === undefined) return;
    figures.push(
      makeFigure({
        key,
        label,
        value,
        unit,
        n: 1,
        contributions: [
          systematic('what the display goes by', fromLimit(DISPLAY_POWER_LIMIT * value)),
          { source: 'step of the display', standardUncertainty: fromResolution(displayStepOf(value)) },
        ],
        formula: 'as shown',
        substituted: say`${qty(value, unit)}`,
        inputs: ['display'],
      }),
    );
  };
  shown('peakPower', 'Highest power on the display', highestPowerW, 'W');
  shown('displayedPower', 'Typical power on the display', typicalPowerW, 'W');
  shown('peakCurrent', 'Highest current on the display', highestCurrentA, 'A');
  if (lowestVoltageV !== undefined)
    figures.push(
      makeFigure({
        key: 'lowestVoltage',
        label: 'Lowest voltage under load, as shown',
        value: lowestVoltageV,
        unit: 'V',
        n: 1,
        contributions: [
          systematic('what the display goes by', fromLimit(DISPLAY_VOLTAGE_LIMIT * lowestVoltageV)),
          { source: 'step of the display', standardUncertainty: fromResolution(displayStepOf(lowestVoltageV)) },
        ],
        formula: 'as shown',
        substituted: say`${qty(lowestVoltageV, 'V')}`,
        inputs: ['display'],
      }),
    );
}

/** Highest speeds of both directions by display: their mean, wide for one look each way. */
export function addDisplayTwoWay(manualReadings: ManualReadings, figures: Figure[]): boolean {
  const { highestSpeedKmh: there, highestSpeedBackKmh: back } = manualReadings;
  if (there === undefined || back === undefined) return false;
  const value = (there + back) / 2;
  figures.push(
    makeFigure({
      key: 'twoWayTopSpeed',
      label: 'Two-way top speed',
      value,
      unit: 'km/h',
      n: 2,
      contributions: [
        wheelSizeInDisplay(value),
        {
          source: 'step of the display',
          standardUncertainty: fromResolution(manualReadings.displayStepKmh ?? DEFAULT_SPEED_STEP_KMH) / Math.SQRT2,
        },
        // A highest reading catches gusts and dips: each direction is read a little high or not quite at its most.
        { source: 'one reading each way', standardUncertainty: fromLimit(0.02 * value) },
      ],
      formula: 'mean of the highest readings of both directions',
      substituted: say`(${num(there)} + ${num(back)}) ÷ 2 = ${qty(value, 'km/h')}`,
      inputs: ['display'],
      warnings: unevenDirections(there, back),
    }),
  );
  return true;
}

/** A charge as it was noted: hours on the charger. */
export function addCharge({ chargeHours }: ManualReadings, figures: Figure[]): void {
  if (chargeHours === undefined) return;
  figures.push(
    makeFigure({
      key: 'chargeTime',
      label: 'Time to charge',
      value: chargeHours,
      unit: 'h',
      n: 1,
      contributions: [
        // Nobody stands beside it when the light turns.
        { source: 'seen some time after it ended', standardUncertainty: fromLimit(0.25) },
      ],
      formula: 'from plugging in until it was seen to be full',
      substituted: `${num(chargeHours)} h`,
      inputs: ['watch'],
    }),
  );
}
