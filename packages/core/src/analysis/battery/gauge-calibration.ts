import { toDigits } from '../../numeric/index.js';
import type { CleanLog } from '../../logs/index.js';
import { isotonicRegression } from '../../statistics/index.js';
import type { Chart } from '../findings.js';
import { derivationNumber as num, fromResolution, makeFigure, type Figure } from '../figure.js';
import type { TestContext } from '../test-context.js';

/** Points of the curve between what the gauge shows and what is used. */
const MAX_READINGS = 2000;
const QUARTERS = [0.75, 0.5, 0.25] as const;

export interface GaugeCurve {
  /** What the gauge shows, 1 full … 0 empty, falling. */
  readonly shown: readonly number[];
  /** Share of the charge used by then, never falling. */
  readonly used: readonly number[];
  readonly residualShare: number;
  readonly stepShare: number;
}

/**
 * Share of the pack's charge used at each reading of its gauge, from a ride from full to cut-off.
 *
 * Method: isotonic regression (pool adjacent violators) of the charge drawn on the falling reading. Undefined unless the
 * log has the gauge and the current, and the ride ended empty: the whole is not known otherwise.
 */
export function gaugeCurve({ timeS, channels }: CleanLog, { emptied }: TestContext): GaugeCurve | undefined {
  const { stateOfCharge, current } = channels;
  if (emptied !== true || !stateOfCharge || !current) return undefined;
  const shown: number[] = [];
  const drawn: number[] = [];
  let charge = 0;
  let last = -1;
  for (let k = 0; k < timeS.length; k++) {
    if (!Number.isNaN(current[k]!)) {
      if (last >= 0) charge += ((current[k]! + current[last]!) / 2) * (timeS[k]! - timeS[last]!);
      last = k;
    }
    if (Number.isNaN(stateOfCharge[k]!)) continue;
    shown.push(stateOfCharge[k]!);
    drawn.push(charge);
  }
  if (shown.length < 20 || !(charge > 0)) return undefined;
  const every = Math.ceil(shown.length / MAX_READINGS);
  const order = Array.from({ length: Math.floor(shown.length / every) }, (_, k) => k * every).sort(
    (a, b) => shown[b]! - shown[a]! || drawn[a]! - drawn[b]!,
  );
  const readings = order.map((k) => shown[k]!);
  const shares = order.map((k) => drawn[k]! / charge);
  if (new Set(readings).size < 3) return undefined;
  const used = isotonicRegression(shares);
  const squares = used.reduce((sum, value, k) => sum + (value - shares[k]!) ** 2, 0);
  const steps = readings.slice(1).flatMap((value, k) => (readings[k]! - value > 1e-9 ? [readings[k]! - value] : []));
  return {
    shown: readings,
    used,
    residualShare: Math.sqrt(squares / Math.max(1, used.length - 1)),
    stepShare: steps.sort((a, b) => a - b)[steps.length >> 1] ?? 0.01,
  };
}

/** What is really left when the gauge shows three quarters, half, one quarter. */
export function gaugeFigures(log: CleanLog, context: TestContext): Figure[] {
  const curve = gaugeCurve(log, context);
  if (!curve) return [];
  return QUARTERS.flatMap((share) => {
    const inside = curve.shown.flatMap((value, k) =>
      Math.abs(value - share) <= curve.stepShare / 2 + 1e-9 ? [k] : [],
    );
    if (inside.length === 0) return [];
    const values = inside.map((k) => 1 - curve.used[k]!);
    const value = values.reduce((sum, one) => sum + one, 0) / values.length;
    const spread = Math.max(...values) - Math.min(...values);
    return [
      makeFigure({
        key: `leftAtGauge${Math.round(100 * share)}`,
        label: `Really left when the gauge shows ${Math.round(100 * share)} %`,
        value: 100 * value,
        unit: '%',
        n: inside.length,
        contributions: [
          // The pack's charge runs on while the gauge stands on one step.
          {
            source: 'width of the gauge’s step',
            standardUncertainty: 100 * fromResolution(Math.max(spread, curve.stepShare)),
          },
          { source: 'scatter about the curve', standardUncertainty: 100 * curve.residualShare },
        ],
        formula: '1 − charge drawn by then ÷ charge drawn to cut-off',
        substituted: `${num(100 * value)} %, over readings within ${num((100 * curve.stepShare) / 2)} % of it`,
        inputs: ['state of charge', 'current'],
      }),
    ];
  });
}

export function gaugeChart(log: CleanLog, context: TestContext): Chart[] {
  const curve = gaugeCurve(log, context);
  if (!curve) return [];
  const every = Math.ceil(curve.shown.length / 200);
  const kept = curve.shown.flatMap((_, k) => (k % every === 0 ? [k] : []));
  const six = (value: number): number => toDigits(value, 6);
  return [
    {
      key: 'gauge',
      title: 'Gauge against what is really left',
      x: { label: 'The gauge shows', unit: '%' },
      y: { label: 'Really left', unit: '%' },
      series: [
        {
          label: 'This pack',
          drawAs: 'line',
          x: kept.map((k) => six(100 * curve.shown[k]!)),
          y: kept.map((k) => six(100 * (1 - curve.used[k]!))),
        },
        { label: 'A true gauge', drawAs: 'line', x: [0, 100], y: [0, 100] },
      ],
      lines: [],
    },
  ];
}
