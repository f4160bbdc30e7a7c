import { proposeRiding } from './quality/propose-riding.js';
import type { CleanLog } from '../logs/index.js';
import type { GaugeReading } from '../battery/index.js';
import { voltsShowFull } from './began-full.js';
import { gaugeReadings } from './range/gauge-readings.js';
import { manualFigures } from './manual/manual-figures.js';
import { analyseLog } from './analyse-log.js';
import { cutForTest, warnOfCut, type CutLog } from './cut-log.js';
import { amount, say } from '../units/index.js';
import { derivationNumber as num, toWarning, warnInto, type Figure, type FigureWarning, type Warn } from './figure.js';
import type { Findings } from './findings.js';
import type { TestContext } from './test-context.js';
import { readingsWithWheelFactor, withWheelFactor } from './wheel-factor.js';
import { METHODS, type Method, type TestKind } from './test-kinds.js';

export interface TestAnalysis extends Findings {
  readonly method: Method;
  readonly figures: readonly Figure[];
  readonly warnings: readonly FigureWarning[];
  /** What the pack's gauge and the socket meter showed beside what was logged: rides without a logger are read by it. */
  readonly taught?: Taught;
}

/** The hand's figures have a version of their own: a ride without a logger has no other. */
export const MANUAL_METHOD: Method = { name: 'by hand', version: '1.5' };

/**
 * Figures of one run of any kind: of its log between the course's gates, of what was timed and read off by hand, or of both.
 * A figure that both carry is the log's; the hand's own keep their keys. `log` null: a ride without a logger.
 */
export function analyseTest(kind: TestKind, asLogged: CleanLog | null, asNoted: TestContext): TestAnalysis {
  const warnings: FigureWarning[] = [];
  const warn = warnInto(warnings);
  const [log, context] = withWheelRight(asLogged, asNoted, warn);
  if (!log) {
    const figures = manualFigures(kind, context.manualReadings ?? {}, context, warn);
    return { method: MANUAL_METHOD, figures, warnings, spans: [], charts: [] };
  }
  const cut = cutForTest(log, context);
  warnOfCut(cut, warn);
  if (cut.state === 'empty') return { method: METHODS[kind], figures: [], warnings, spans: [], charts: [] };
  const {
    method,
    figures: logged,
    spans,
    charts,
  } = analyseLog(kind, cut.log, { ...context, ...byPosition(cut) }, warn);
  if (context.proposesRiding) warnings.push(...proposeRiding(cut.log));
  const figures = [...logged];
  const manual =
    context.manualReadings === undefined ? [] : manualFigures(kind, context.manualReadings, context, () => undefined);
  const known = new Set(figures.map(({ key }) => key));
  warnings.push(...disagreements(logged, manual));
  figures.push(...manual.filter(({ key }) => !known.has(key)));
  const taught = kind === 'range' || kind === 'battery' ? whatItTaught(cut.log, context, logged) : undefined;
  return { method, figures, warnings, spans, charts, ...(taught && { taught }) };
}

function byPosition({ byPositionM }: CutLog): Pick<TestContext, 'gatesByPositionM'> {
  return byPositionM === undefined ? {} : { gatesByPositionM: byPositionM };
}

export interface Taught {
  readonly gauge: readonly GaugeReading[];
  /** Share of the energy from the socket that came out of the pack before; null where it was not measured, or not from full. */
  readonly chargeShare: number | null;
}

function whatItTaught(log: CleanLog, context: TestContext, figures: readonly Figure[]): Taught | undefined {
  const gauge = gaugeReadings(log, context);
  const wallWh = context.manualReadings?.wallEnergyWh;
  const valueOf = (key: string): number => figures.find((figure) => figure.key === key)?.value ?? 0;
  const netWh = valueOf('energyOut') - valueOf('energyRegenerated');
  const chargeShare = wallWh && netWh > 0 && voltsShowFull(context, log) ? netWh / wallWh : null;
  return gauge.length > 0 || chargeShare !== null ? { gauge, chargeShare } : undefined;
}

function withWheelRight(log: CleanLog | null, context: TestContext, warn: Warn): [CleanLog | null, TestContext] {
  const { wheelFactor: factor, manualReadings } = context;
  if (factor === undefined || factor === 1) return [log, context];
  warn(
    'wheel-corrected',
    `The wheel circumference was set wrong: speeds and distances counted by the wheel are taken times ${num(factor)}.`,
  );
  const readings = manualReadings && { manualReadings: readingsWithWheelFactor(manualReadings, factor) };
  return [log && withWheelFactor(log, factor), { ...context, ...readings }];
}

/** Further apart than chance leaves once in some hundred rides. */
const APART = 2.6;

/** The same figure from the log and from what was read off: shown where they do not agree, since one of them is then wrong. */
function disagreements(logged: readonly Figure[], manual: readonly Figure[]): FigureWarning[] {
  return manual.flatMap((read) => {
    const own = logged.find(({ key, unit }) => key === read.key && unit === read.unit);
    const doubt = own && Math.hypot(own.standardUncertainty, read.standardUncertainty);
    if (!own || !doubt || Math.abs(own.value - read.value) <= APART * doubt) return [];
    const said = [
      ...say`${own.label}: the log gives ${amount(own.value, own.unit)}, what was read off (${read.derivation.inputs.join(', ')}) gives ${amount(read.value, read.unit)}; `,
      ...say`that is more apart than the two allow. Look at the wheel size in the display, the logger’s gains and what was typed in.`,
    ];
    return [toWarning('readings-disagree', said)];
  });
}
