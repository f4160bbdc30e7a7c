import type { CleanLog } from '../../logs/index.js';
import { derivationNumber as num, fromLimit, makeFigure, type Figure } from '../figure.js';
import { meanOfSpan } from '../uneven-scatter.js';

/** ± of an ordinary power meter at the cranks. */
export const RIDER_POWER_LIMIT = 0.02;

/** `meanRiderPower` W, where a meter logged it: what makes two rides alike. */
export function addRiderFigures({ channels, timeS }: CleanLog, figures: Figure[]): void {
  const mean = channels.riderPower && meanOfSpan(channels.riderPower);
  if (!mean) return;
  figures.push(
    makeFigure({
      key: 'meanRiderPower',
      label: 'Mean rider power',
      value: mean.mean,
      unit: 'W',
      n: mean.count,
      contributions: [
        { source: 'scatter', standardUncertainty: mean.standardError },
        {
          source: 'rider power meter',
          standardUncertainty: fromLimit(RIDER_POWER_LIMIT * Math.abs(mean.mean)),
          isSystematic: true,
        },
      ],
      formula: 'mean of the readings',
      substituted: `${num(mean.mean)} W`,
      inputs: ['rider power'],
      fromS: timeS[0]!,
      toS: timeS.at(-1)!,
    }),
  );
}
