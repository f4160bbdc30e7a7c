import type { CleanLog } from '../../logs/index.js';
import type { Figure } from '../figure.js';
import { curveOf, type Chart, type Span } from '../findings.js';
import { firstAtOrAfter } from '../../numeric/index.js';
import type { SpeedPass } from './measure-passes.js';

/** Shown before and after each steady window, s. */
const BEFORE_S = 25;
const AFTER_S = 5;

export function passSpans(passes: readonly SpeedPass[]): Span[] {
  return passes.map(({ direction, fromS, toS }, k) => ({
    kind: 'pass',
    fromS,
    toS,
    direction,
    label: `Pass ${k + 1}, ${direction === 1 ? 'there' : 'back'}`,
  }));
}

/** What the lines across are called beside the picture, where the label of their figure is long. */
const LINE_NAMES: Readonly<Record<string, string>> = {
  twoWayTopSpeed: 'Two-way mean',
  stillAirTopSpeed: 'In still air',
  assistEnds: 'Assist ends',
};

/** Speed of all passes over the time from the start of their steady windows. */
export function passChart(
  { timeS }: CleanLog,
  speed: Float64Array,
  passes: readonly SpeedPass[],
  figures: readonly Figure[],
): Chart {
  return {
    key: 'passes',
    title: 'Speed of the passes, from where each is steady',
    x: { label: 'Time from the start of the steady window', unit: 's' },
    y: { label: 'Speed', unit: 'km/h' },
    series: passSpans(passes).map(({ label, fromS, toS }) => ({
      label,
      drawAs: 'line',
      ...curveOf(
        (k) => timeS[k]! - fromS,
        (k) => speed[k]! * 3.6,
        firstAtOrAfter(timeS, fromS - BEFORE_S),
        firstAtOrAfter(timeS, toS + AFTER_S) - 1,
      ),
    })),
    lines: figures.map(({ key, value, label }) => ({ axis: 'y', at: value, label: LINE_NAMES[key] ?? label })),
  };
}
