import { say } from '../../units/index.js';
import { bareQuantity, derivationQuantity as qty, fromLimit, makeFigure, type Figure, type Warn } from '../figure.js';
import { twoWayMean } from '../top-speed/two-way-mean.js';
import { courseLength, THUMB_LIMIT_S } from './manual-parts.js';
import type { ManualPass } from './manual-readings.js';

/** The directions' speeds further apart than this share are worth a word. */
const UNEVEN_SHARE = 0.1;

/** Two-way top speed of passes timed between the gates. */
export function addManualTopSpeed(
  passes: readonly ManualPass[],
  gateM: number | undefined,
  figures: Figure[],
  warn: Warn,
): void {
  if (gateM === undefined || !(gateM > 0)) {
    warn('no-length', 'The course has no length between its gates: passes give no speed.');
    return;
  }
  const [there, back] = ([1, -1] as const).map((direction) =>
    passes.filter((pass) => pass.direction === direction),
  ) as [ManualPass[], ManualPass[]];
  if (there.length === 0 || back.length === 0) {
    warn('one-direction', 'Passes in one direction only: wind and slope stay in them. Ride both directions.');
    return;
  }
  const speedsOf = (group: readonly ManualPass[]): number[] => group.map(({ seconds }) => (3.6 * gateM) / seconds);
  const twoWay = twoWayMean(speedsOf(there), speedsOf(back));
  const { value } = twoWay;
  const thumbsOf = (group: readonly ManualPass[]): number =>
    Math.hypot(...group.map(({ seconds }) => ((3.6 * gateM) / seconds ** 2) * Math.SQRT2 * fromLimit(THUMB_LIMIT_S))) /
    group.length;
  figures.push(
    makeFigure({
      key: 'twoWayTopSpeed',
      label: 'Two-way top speed',
      value,
      unit: 'km/h',
      n: passes.length,
      contributions: [
        {
          source: 'reaction on the stopwatch',
          standardUncertainty: Math.hypot(thumbsOf(there), thumbsOf(back)) / 2,
        },
        courseLength(value),
        ...twoWay.scatter,
      ],
      formula: 'mean of the two directions’ means',
      substituted: say`(${bareQuantity(twoWay.there, 'km/h')} + ${bareQuantity(twoWay.back, 'km/h')}) ÷ 2 = ${qty(value, 'km/h')}`,
      inputs: ['stopwatch', 'gates'],
      warnings: unevenDirections(twoWay.there, twoWay.back),
    }),
  );
}

/** What is to be said where the directions' speeds lie far apart. */
export function unevenDirections(there: number, back: number): Figure['warnings'] {
  if (Math.abs(there - back) <= (UNEVEN_SHARE * (there + back)) / 2) return [];
  return [
    {
      code: 'uneven-directions',
      message:
        'The directions differ by more than a tenth: wind or slope. The mean keeps a bias of about the square of the wind over the speed.',
    },
  ];
}
