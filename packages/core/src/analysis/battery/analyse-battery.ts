import type { CleanLog } from '../../logs/index.js';
import { fitLinearModel } from '../../statistics/index.js';
import { derivationNumber as num, fromLimit, makeFigure, type Figure, type Warn } from '../figure.js';
import { givenSpans, type Chart } from '../findings.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { energyAndCharge } from './capacity.js';
import { gaugeFigures, gaugeChart } from './gauge-calibration.js';
import type { TestContext } from '../test-context.js';
import { correlationInflation } from '../uneven-scatter.js';
import { currentGain, voltageGain } from '../contributions.js';

export interface BatteryResult {
  readonly figures: readonly Figure[];
  readonly charts: readonly Chart[];
  /** The part that the line is fitted to. */
  readonly fit: { readonly fromS: number; readonly toS: number } | null;
}

/** Steps of the current below this tell no resistance from the noise of a voltmeter. */
const MIN_STEP_A = 1.5;
const MIN_SAMPLES = 20;
const MAX_ROWS = 20_000;

/**
 * A pack under load steps: `openCircuitVoltage` V at the start, `internalResistance` Ω, `sagAtCurrent` V at the highest
 * current, and the ride's energy and charge.
 *
 * Method: least squares of V = U₀ − R·I − s·q, where q is the charge drawn so far: the slow fall of the open-circuit
 * voltage is taken out by the charge, not by the clock. Standard errors are widened by the residuals' autocorrelation.
 * Needs voltage and current, and current steps of 1.5 A or more.
 */
export function analyseBattery(log: CleanLog, context: TestContext, warn: Warn): BatteryResult {
  const nothing: BatteryResult = { figures: [], charts: [], fit: null };
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const { voltage, current } = log.channels;
  if (!voltage || !current || !log.hasClock) {
    warn(
      'no-voltage-or-current',
      'Internal resistance needs voltage and current over time; this log lacks one of them.',
    );
    return nothing;
  }
  const whole = { from: 0, to: voltage.length - 1 };
  const set = givenSpans(log, context.spans, 'fit');
  const part = set ? set[0] : whole;
  if (!part) {
    warn('span-empty', 'The chosen part holds no two samples of this log: no line can be fitted to it.');
    return nothing;
  }
  const { from: first, to: end } = part;
  const every = Math.max(1, Math.ceil((end - first + 1) / MAX_ROWS));
  const rows: number[][] = [];
  const volts: number[] = [];
  let chargeAh = 0;
  let last = -1;
  let least = Infinity;
  let most = -Infinity;
  for (let k = first; k <= end; k++) {
    const [v, i] = [voltage[k]!, current[k]!];
    if (Number.isNaN(v) || Number.isNaN(i)) continue;
    if (last >= 0) chargeAh += (((i + current[last]!) / 2) * (log.timeS[k]! - log.timeS[last]!)) / 3600;
    last = k;
    if ((k - first) % every !== 0) continue;
    rows.push([1, -i, -chargeAh]);
    volts.push(v);
    least = Math.min(least, i);
    most = Math.max(most, i);
  }
  if (rows.length < MIN_SAMPLES || most - least < MIN_STEP_A) {
    warn(
      'no-load-steps',
      `The current varies by less than ${MIN_STEP_A} A: no internal resistance. Load the pack in steps, with rests between.`,
    );
    return { ...nothing, figures: energyAndCharge(log, context, warn) };
  }
  const fit = fitLinearModel(rows, volts);
  if (!fit.ok) {
    warn('not-separable', 'Load and charge drawn cannot be separated in this log: put rests between the loads.');
    return { ...nothing, figures: energyAndCharge(log, context, warn) };
  }
  const { coefficients, unscaledCovariance, residualVariance } = fit.value;
  const [openV, ohm] = [coefficients[0]!, coefficients[1]!];
  const residuals = volts.map((v, k) => v - rows[k]!.reduce((sum, x, j) => sum + x * coefficients[j]!, 0));
  const inflation = correlationInflation(residuals);
  const error = (j: number): number => Math.sqrt(residualVariance * unscaledCovariance[j * 3 + j]!) * inflation;
  const degreesOfFreedom = Math.max(3, Math.round((rows.length - 3) / inflation ** 2));
  const span = { fromS: log.timeS[first]!, toS: log.timeS[end]! };
  const inputs = ['voltage', 'current'];
  if (!(ohm > 0)) {
    warn('no-load-steps', 'The voltage does not fall under load: no internal resistance.');
    return { ...nothing, figures: energyAndCharge(log, context, warn) };
  }
  const figures = [
    makeFigure({
      key: 'openCircuitVoltage',
      label: 'Open-circuit voltage at the start',
      value: openV,
      unit: 'V',
      n: rows.length,
      contributions: [
        { source: 'scatter about the fitted line', standardUncertainty: error(0), degreesOfFreedom },
        voltageGain(instrument, openV),
        {
          source: 'current offset',
          standardUncertainty: fromLimit(instrument.currentOffsetA) * ohm,
          isSystematic: true,
        },
      ],
      formula: 'U₀ of V = U₀ − R·I − s·q',
      substituted: `${num(openV)} V`,
      inputs,
      ...span,
    }),
    makeFigure({
      key: 'internalResistance',
      label: 'Internal resistance',
      value: ohm,
      unit: 'Ω',
      n: rows.length,
      contributions: [
        { source: 'scatter about the fitted line', standardUncertainty: error(1), degreesOfFreedom },
        voltageGain(instrument, ohm),
        currentGain(instrument, ohm),
      ],
      formula: 'R of V = U₀ − R·I − s·q, q the charge drawn',
      substituted: `${num(ohm)} Ω over currents of ${num(least)} to ${num(most)} A`,
      inputs,
      ...span,
    }),
  ];
  const resistance = figures[1]!;
  figures.push(
    makeFigure({
      key: 'sagAtCurrent',
      label: `Sag at ${num(Math.round(most))} A`,
      value: ohm * most,
      unit: 'V',
      n: rows.length,
      contributions: resistance.derivation.contributions.map(({ share: _share, ...part }) => ({
        ...part,
        standardUncertainty: part.standardUncertainty * most,
      })),
      formula: 'R × highest current',
      substituted: `${num(ohm)} Ω × ${num(most)} A = ${num(ohm * most)} V`,
      inputs: ['internalResistance', 'current'],
      ...span,
    }),
  );
  return {
    figures: [...figures, ...energyAndCharge(log, context, warn), ...gaugeFigures(log, context)],
    charts: [...charts(rows, volts, coefficients), ...gaugeChart(log, context)],
    fit: span,
  };
}

const DRAWN_POINTS = 400;

/** Voltage against current with slow fall removed, and the fitted line. */
function charts(rows: readonly (readonly number[])[], volts: readonly number[], c: ArrayLike<number>): Chart[] {
  const every = Math.max(1, Math.ceil(rows.length / DRAWN_POINTS));
  const kept = rows.flatMap((_, k) => (k % every === 0 ? [k] : []));
  const six = (value: number): number => Number(value.toPrecision(6));
  const amps = kept.map((k) => six(-rows[k]![1]!));
  const edges = [amps.reduce((a, b) => Math.min(a, b), Infinity), amps.reduce((a, b) => Math.max(a, b), -Infinity)];
  return [
    {
      key: 'load-line',
      title: 'Voltage against current, slow fall removed',
      x: { label: 'Current', unit: 'A' },
      y: { label: 'Voltage', unit: 'V' },
      series: [
        { label: 'Readings', drawAs: 'points', x: amps, y: kept.map((k) => six(volts[k]! - rows[k]![2]! * c[2]!)) },
        { label: 'U₀ − R·I', drawAs: 'line', isFit: true, x: edges, y: edges.map((i) => six(c[0]! - c[1]! * i)) },
      ],
      lines: [],
    },
  ];
}
