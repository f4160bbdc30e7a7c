import type { CleanLog } from '../../logs/index.js';
import { fitLinearModel } from '../../statistics/index.js';
import { derivationNumber as num, fromLimit, makeFigure, type Figure, type Warn } from '../figure.js';
import { givenSpans, type Chart } from '../findings.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { energyAndCharge } from './capacity.js';
import { gaugeFigures, gaugeChart } from './gauge-calibration.js';
import type { TestContext } from '../test-context.js';
import { fitTransients, usualStepS } from './transient-resistance.js';
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
/** From this step on what a pack does at once is told from what it does after. */
const FINE_S = 0.35;

/**
 * A pack under load steps: `openCircuitVoltage` V at the start, `internalResistance` Ω, `sagAtCurrent` V at the highest
 * current, and the ride's energy and charge.
 *
 * Method: `fitTransients`; the slow fall of the open-circuit voltage is taken out by the charge drawn, not by the clock. Resistance has a
 * time: `internalResistance0` at once, `internalResistance1s`, `internalResistance10s`; `internalResistance` names its own.
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
  const { rows, volts, least, most } = rowsOf(log.timeS, voltage, current, first, end);
  if (rows.length < MIN_SAMPLES || most - least < MIN_STEP_A) {
    warn(
      'no-load-steps',
      `The current varies by less than ${MIN_STEP_A} A: no internal resistance. Load the pack in steps, with rests between.`,
    );
    return { ...nothing, figures: energyAndCharge(log, context, warn) };
  }
  const line = fitLinearModel(rows, volts);
  const piece = {
    timeS: log.timeS.subarray(first, end + 1),
    volts: voltage.subarray(first, end + 1),
    amps: current.subarray(first, end + 1),
  };
  const stepS = usualStepS(piece.timeS, piece.amps);
  const fit = line.ok ? fitTransients(piece.timeS, piece.volts, piece.amps, stepS) : undefined;
  if (!line.ok) {
    warn('not-separable', 'Load and charge drawn cannot be separated in this log: put rests between the loads.');
    return { ...nothing, figures: energyAndCharge(log, context, warn) };
  }
  const { coefficients } = line.value;
  if (!fit || !(coefficients[1]! > 0)) {
    warn('no-load-steps', 'The voltage does not fall under load: no internal resistance.');
    return { ...nothing, figures: energyAndCharge(log, context, warn) };
  }
  const { degreesOfFreedom, openV, after } = fit;
  const span = { fromS: log.timeS[first]!, toS: log.timeS[end]! };
  const inputs = ['voltage', 'current'];
  const sampleS = Math.max(log.report.medianStepS, 1e-3);
  const found = { atOnce: after(0)!, one: sampleS <= 1.05 ? after(1) : undefined, ten: after(10) };
  // Logged once a second or slower, a step and what follows it in that second are one.
  const isFine = sampleS <= FINE_S;
  const named = found.one ?? found.atOnce;
  const conditions = conditionsOf(log, first);
  const ohms = (
    key: 'internalResistance' | 'internalResistance0' | 'internalResistance10s' | 'internalResistance1s',
    label: string,
    { value, standardUncertainty }: { readonly value: number; readonly standardUncertainty: number },
  ): Figure =>
    makeFigure({
      key,
      label,
      value,
      unit: 'Ω',
      n: fit.samples,
      contributions: [
        { source: 'scatter about the fitted line', standardUncertainty, degreesOfFreedom },
        voltageGain(instrument, value),
        currentGain(instrument, value),
      ],
      formula: 'R₀ + Σ Rᵢ·(1 − e^(−t/τᵢ)) of V = U₀ − s·q − R₀·I − Σ Rᵢ·Iᵢ, q the charge drawn',
      substituted: `${num(value)} Ω over currents of ${num(least)} to ${num(most)} A in steps of ${num(Number(stepS.toPrecision(2)))} s${conditions}`,
      inputs,
      ...span,
    });
  const figures = [
    makeFigure({
      key: 'openCircuitVoltage',
      label: 'Open-circuit voltage at the start',
      value: openV.value,
      unit: 'V',
      n: fit.samples,
      contributions: [
        {
          source: 'scatter about the fitted line',
          standardUncertainty: openV.standardUncertainty,
          degreesOfFreedom,
        },
        voltageGain(instrument, openV.value),
        {
          source: 'current offset',
          standardUncertainty: fromLimit(instrument.currentOffsetA) * named.value,
          isSystematic: true,
        },
      ],
      formula: 'U₀ of V = U₀ − s·q − R₀·I − Σ Rᵢ·Iᵢ',
      substituted: `${num(openV.value)} V`,
      inputs,
      ...span,
    }),
    ohms(
      'internalResistance',
      found.one
        ? 'Internal resistance after 1 s'
        : `Internal resistance within ${num(Number(sampleS.toPrecision(2)))} s`,
      named,
    ),
    ...(isFine ? [ohms('internalResistance0', 'Internal resistance at once', found.atOnce)] : []),
    ...(found.one ? [ohms('internalResistance1s', 'Internal resistance after 1 s', found.one)] : []),
    ...(found.ten ? [ohms('internalResistance10s', 'Internal resistance after 10 s', found.ten)] : []),
  ];
  const ohm = named.value;
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

/** A resistance holds for a temperature: said where the log knows it. */
function conditionsOf({ channels }: CleanLog, first: number): string {
  const warm = channels.batteryTemperature?.subarray(first).find((t) => !Number.isNaN(t));
  return warm === undefined ? '' : `, pack at ${num(Math.round(warm))} °C`;
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

/** What a line is fitted to: [1, −A, −Ah drawn] and V of samples [first, end], thinned, and the span of the current. */
function rowsOf(
  timeS: Float64Array,
  voltage: Float64Array,
  current: Float64Array,
  first: number,
  end: number,
): { rows: number[][]; volts: number[]; least: number; most: number } {
  const every = Math.max(1, Math.ceil((end - first + 1) / MAX_ROWS));
  const rows: number[][] = [];
  const volts: number[] = [];
  let chargeAh = 0;
  let last = -1;
  let least = Infinity;
  let most = -Infinity;
  for (let k = first; k <= end; k++) {
    const v = voltage[k]!;
    const i = current[k]!;
    if (Number.isNaN(v) || Number.isNaN(i)) continue;
    if (last >= 0) chargeAh += (((i + current[last]!) / 2) * (timeS[k]! - timeS[last]!)) / 3600;
    last = k;
    if ((k - first) % every !== 0) continue;
    rows.push([1, -i, -chargeAh]);
    volts.push(v);
    if (i < least) least = i;
    if (i > most) most = i;
  }
  return { rows, volts, least, most };
}
