import { toDigits } from '../../numeric/index.js';
import type { Chart } from '../findings.js';
import type { Coast } from './fit-coasts.js';

const DRAWN_POINTS = 120;

/** All coasts from their start, with the curves that were fitted to them. */
export function chartOf(columns: readonly Coast[], residuals: readonly number[] | undefined): Chart {
  let passed = 0;
  return {
    key: 'coasts',
    title: residuals ? 'Coasts with the fitted curves' : 'Coasts',
    x: { label: 'Time from the start of the coast', unit: 's' },
    y: { label: 'Speed', unit: 'km/h' },
    series: columns.flatMap(({ direction, timeS, speedMps }, coast) => {
      const every = Math.max(1, Math.ceil(timeS.length / DRAWN_POINTS));
      const kept = timeS.flatMap((_, k) => (k % every === 0 ? [k] : []));
      const label = `Coast ${coast + 1}, ${direction === 1 ? 'there' : 'back'}`;
      const x = kept.map((k) => toDigits(timeS[k]! - timeS[0]!, 6));
      const at = (k: number, off = 0): number => toDigits(3.6 * (speedMps[k]! + off), 6);
      const start = passed;
      passed += timeS.length;
      return [
        { label, drawAs: 'points' as const, x, y: kept.map((k) => at(k)) },
        ...(residuals
          ? [
              {
                label: `${label}, fitted`,
                isFit: true,
                drawAs: 'line' as const,
                x,
                y: kept.map((k) => at(k, residuals[start + k])),
              },
            ]
          : []),
      ];
    }),
    lines: [],
  };
}
