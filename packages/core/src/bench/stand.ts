import { makeFigure, type Figure } from '../analysis/index.js';

/** What is read on the stand; null: not done. Limits (±) are stated by the tester or are the usual ones below. */
export interface StandReadings {
  readonly rollOutTurns: number | null;
  readonly rollOutM: number | null;
  /** Half-width of reading the tape at either end, in mm. */
  readonly rollOutLimitMm: number | null;
  readonly timedTurns: number | null;
  readonly timedS: number | null;
  readonly displaySpeedKmh: number | null;
  readonly noLoadSpeedKmh: number | null;
  readonly noLoadCurrentA: number | null;
  readonly spinDownS: readonly number[];
  readonly frontKg: number | null;
  readonly rearKg: number | null;
  readonly scaleLimitKg: number | null;
}

export const STAND_METHOD = { name: 'stand', version: '1' } as const;

/** Where nothing is stated. */
export const STAND_LIMITS = { rollOutMm: 5, thumbS: 0.2, displayKmh: 0.1, currentA: 0.05, scaleKg: 0.1 } as const;
/** A steel or glass-fibre tape of class II over a few metres. */
const TAPE_SHARE = 0.0005;
const rectangular = (limit: number): number => limit / Math.sqrt(3);
const number = (value: number, digits = 4): string => Number(value.toPrecision(digits)).toString();

/**
 * Wheel circumference from a roll-out of n turns: distance ÷ turns.
 * Units: m. Uncertainty: reading at both ends (rectangular ±limit each), tape (0.05 %); more turns shrink the reading's part.
 */
export function wheelCircumference(turns: number, distanceM: number, limitMm: number | null): Figure {
  const limitM = (limitMm ?? STAND_LIMITS.rollOutMm) / 1000;
  return makeFigure({
    key: 'wheelCircumference',
    label: 'Wheel circumference',
    value: distanceM / turns,
    unit: 'm',
    n: 1,
    formula: 'distance ÷ turns',
    substituted: `${number(distanceM, 5)} m ÷ ${turns}`,
    inputs: ['roll-out with the rider’s weight on the wheel'],
    contributions: [
      {
        source: `reading at both ends, ±${number(limitM * 1000)} mm`,
        standardUncertainty: (Math.SQRT2 * rectangular(limitM)) / turns,
      },
      { source: 'tape, ±0.05 %', standardUncertainty: rectangular(TAPE_SHARE * distanceM) / turns, isSystematic: true },
    ],
  });
}

/**
 * How far the display's speed is off, from its programmed circumference against the rolled-out one: programmed ÷ true − 1.
 * Units: fraction (positive: reads too fast).
 */
export function displayErrorFromWheel(programmedM: number, wheel: Figure): Figure {
  const ratio = programmedM / wheel.value;
  return makeFigure({
    key: 'displayError',
    label: 'Display reads too fast by',
    value: ratio - 1,
    unit: '1',
    n: 1,
    formula: 'programmed circumference ÷ rolled-out circumference − 1',
    substituted: `${number(programmedM)} m ÷ ${number(wheel.value)} m − 1`,
    inputs: ['settings', 'roll-out'],
    contributions: [
      { source: 'rolled-out circumference', standardUncertainty: (ratio * wheel.standardUncertainty) / wheel.value },
    ],
  });
}

/** The same by timing n turns of the wheel at a steady speed on the stand: display ÷ (turns × circumference ÷ time) − 1. */
export function displayErrorFromTiming(displayKmh: number, turns: number, seconds: number, wheel: Figure): Figure {
  const trueKmh = ((turns * wheel.value) / seconds) * 3.6;
  const ratio = displayKmh / trueKmh;
  return makeFigure({
    key: 'displayErrorTimed',
    label: 'Display reads too fast by (timed)',
    value: ratio - 1,
    unit: '1',
    n: 1,
    formula: 'display ÷ (turns × circumference ÷ time) − 1',
    substituted: `${number(displayKmh)} km/h ÷ ${number(trueKmh)} km/h − 1`,
    inputs: ['stopwatch', 'roll-out'],
    contributions: [
      { source: 'rolled-out circumference', standardUncertainty: (ratio * wheel.standardUncertainty) / wheel.value },
      {
        source: `stopwatch by thumb, ±${STAND_LIMITS.thumbS} s at start and stop`,
        standardUncertainty: (ratio * Math.SQRT2 * rectangular(STAND_LIMITS.thumbS)) / seconds,
      },
      {
        source: 'resolution of the display',
        standardUncertainty: (ratio * STAND_LIMITS.displayKmh) / Math.sqrt(12) / displayKmh,
      },
    ],
  });
}

function reading(
  key: string,
  label: string,
  value: number,
  unit: Figure['unit'],
  limit: number,
  source: string,
): Figure {
  return makeFigure({
    key,
    label,
    value,
    unit,
    n: 1,
    formula: 'as read',
    substituted: `${number(value)} ${unit}`,
    inputs: [source],
    contributions: [{ source: `${source}, ±${number(limit)} ${unit}`, standardUncertainty: rectangular(limit) }],
  });
}

/** Spin-down time over several goes: their mean; one go carries the thumb only. Units: s. */
export function spinDownTime(seconds: readonly number[]): Figure {
  const n = seconds.length;
  const mean = seconds.reduce((sum, s) => sum + s, 0) / n;
  const scatter = n > 1 ? Math.sqrt(seconds.reduce((sum, s) => sum + (s - mean) ** 2, 0) / (n - 1) / n) : 0;
  return makeFigure({
    key: 'spinDownTime',
    label: 'Spin-down time, motor off',
    value: mean,
    unit: 's',
    n,
    formula: n > 1 ? 'mean of the tries' : 'as read',
    substituted: seconds.map((s) => number(s)).join(', '),
    inputs: ['stopwatch'],
    contributions: [
      ...(n > 1 ? [{ source: 'scatter of the tries', standardUncertainty: scatter, degreesOfFreedom: n - 1 }] : []),
      {
        source: `stopwatch by thumb, ±${STAND_LIMITS.thumbS} s`,
        standardUncertainty: rectangular(STAND_LIMITS.thumbS) * Math.SQRT2,
      },
    ],
  });
}

/** Mass on both wheels and the front wheel's share, from weighing each wheel. Units: kg and fraction. */
export function weighed(frontKg: number, rearKg: number, limitKg: number | null): readonly [Figure, Figure] {
  const limit = limitKg ?? STAND_LIMITS.scaleKg;
  const u = rectangular(limit);
  const total = frontKg + rearKg;
  return [
    makeFigure({
      key: 'mass',
      label: 'Mass on both wheels',
      value: total,
      unit: 'kg',
      n: 1,
      formula: 'front + rear',
      substituted: `${number(frontKg)} kg + ${number(rearKg)} kg`,
      inputs: ['scale'],
      contributions: [{ source: `scale, ±${number(limit)} kg each time`, standardUncertainty: u * Math.SQRT2 }],
    }),
    makeFigure({
      key: 'frontShare',
      label: 'Weight on front wheel',
      value: frontKg / total,
      unit: '1',
      n: 1,
      formula: 'front ÷ (front + rear)',
      substituted: `${number(frontKg)} kg ÷ ${number(total)} kg`,
      inputs: ['scale'],
      contributions: [
        {
          source: `scale, ±${number(limit)} kg each time`,
          standardUncertainty: (u * Math.hypot(frontKg, rearKg)) / total ** 2,
        },
      ],
    }),
  ];
}

/** All figures the readings carry; what was not read is not there. `programmedM`: circumference set in the display. */
export function standFigures(readings: StandReadings, programmedM: number | null): Figure[] {
  const { rollOutTurns, rollOutM, timedTurns, timedS, displaySpeedKmh, frontKg, rearKg } = readings;
  const figures: Figure[] = [];
  const wheel =
    rollOutTurns !== null && rollOutM !== null
      ? wheelCircumference(rollOutTurns, rollOutM, readings.rollOutLimitMm)
      : undefined;
  if (wheel) {
    figures.push(wheel);
    if (programmedM !== null) figures.push(displayErrorFromWheel(programmedM, wheel));
    if (timedTurns !== null && timedS !== null && displaySpeedKmh !== null)
      figures.push(displayErrorFromTiming(displaySpeedKmh, timedTurns, timedS, wheel));
  }
  if (readings.noLoadSpeedKmh !== null)
    figures.push(
      reading('noLoadSpeed', 'No-load speed', readings.noLoadSpeedKmh, 'km/h', STAND_LIMITS.displayKmh, 'display'),
    );
  if (readings.noLoadCurrentA !== null)
    figures.push(
      reading('noLoadCurrent', 'No-load current', readings.noLoadCurrentA, 'A', STAND_LIMITS.currentA, 'meter'),
    );
  if (readings.spinDownS.length > 0) figures.push(spinDownTime(readings.spinDownS));
  if (frontKg !== null && rearKg !== null) figures.push(...weighed(frontKg, rearKg, readings.scaleLimitKg));
  return figures;
}
