import { toDigits } from '../../numeric/index.js';
import type { Chart } from '../findings.js';

const DRAWN_POINTS = 300;

/** Readings with the fitted curve, and what it leaves over. One value a point in `timeS`, `celsius` and `residuals`. */
export function heatCharts(
  timeS: readonly number[],
  celsius: readonly number[],
  residuals: Float64Array,
  { airC, limitC }: { readonly airC: number; readonly limitC: number | undefined },
): Chart[] {
  const every = Math.max(1, Math.ceil(timeS.length / DRAWN_POINTS));
  const kept = timeS.flatMap((_, k) => (k % every === 0 ? [k] : []));
  const six = (value: number): number => toDigits(value, 6);
  const x = kept.map((k) => six(timeS[k]! / 60));
  const time = { label: 'Time', unit: 'min' } as const;
  return [
    {
      key: 'temperature',
      title: 'Motor temperature with the fitted curve',
      x: time,
      y: { label: 'Motor temperature', unit: '°C' },
      series: [
        { label: 'Readings', drawAs: 'points', x, y: kept.map((k) => six(celsius[k]!)) },
        { label: 'Fitted curve', drawAs: 'line', isFit: true, x, y: kept.map((k) => six(celsius[k]! - residuals[k]!)) },
      ],
      lines: [
        { axis: 'y', at: airC, label: 'Air' },
        ...(limitC === undefined ? [] : [{ axis: 'y' as const, at: limitC, label: 'Limit' }]),
      ],
    },
    {
      key: 'residuals',
      title: 'Residuals: readings minus fitted curve',
      x: time,
      y: { label: 'Residual', unit: 'K' },
      series: [{ label: 'Residual', drawAs: 'points', x, y: kept.map((k) => six(residuals[k]!)) }],
      lines: [],
    },
  ];
}
