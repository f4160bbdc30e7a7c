import { say } from '../../units/index.js';
import { chargeAtRest, CHEMISTRIES, openCircuitVoltage } from '../../battery/index.js';
import { channelDefinition, type ChannelName, type CleanLog } from '../../logs/index.js';
import {
  derivationQuantity as qty,
  warnInto,
  type Warn,
  derivationNumber as num,
  withUncertainty,
  type Figure,
  type FigureWarning,
} from '../figure.js';
import { clippedAt } from '../../signal/index.js';
import { findStops } from '../findings.js';
import { climbsFarFromCourse } from './course-flags.js';
import { FULL_SHARE, restingVoltage } from '../began-full.js';
import { firstAtOrAfter } from '../../numeric/index.js';
import type { TestContext } from '../test-context.js';
import { TEST_KINDS, type TestKind } from '../test-kinds.js';
import { meanOfSpan } from '../uneven-scatter.js';

const MOVING_MPS = 0.5;
/** A level held for less than this share of the ride was a slip of the thumb or the start. */
const LEVEL_SHARE = 0.05;
const ABOVE_LIMIT_SHARE = 0.05;
const STANDING_SHARE = 0.15;
const STEADY_WIND_MPS = 2;
const COLD_C = 10;
const HOT_ABOVE_AIR_K = 10;
const FULL_GAUGE = 0.97;
/** A run over part of a charge that begins below this is near the knee of the discharge. */
const LOW_START = 0.35;
const REST_A = 0.5;
const MIN_REST_S = 20;
const RESTED_V_PER_MIN = 0.05;
/** Slowest sampling at which the events of a kind can be placed, s. */
const SLOWEST_STEP_S: Partial<Record<TestKind, number>> = {
  'top-speed': 1.05,
  'coast-down': 1.05,
  stand: 0.55,
  'hill-climb': 2.05,
  battery: 2.05,
};
/** Channels whose readings end at what the sensor can show. */
const CLIPPING: readonly ChannelName[] = ['current', 'power', 'motorTemperature', 'riderPower', 'speed'];

/**
 * What a careful tester would raise about a run: each with a stable code and a sentence. Flags never leave a run out by
 * themselves. `log` is the part that is analysed, `figures` what was found in it.
 */
export function qualityFlags(
  kind: TestKind,
  log: CleanLog,
  context: TestContext,
  figures: readonly Figure[],
): FigureWarning[] {
  const flags: FigureWarning[] = [];
  const flag = warnInto(flags);
  flagPack(kind, log, context, flag);
  flagRiding(kind, log, context, flag);
  flagHeat(kind, log, context, flag);
  flagSensors(kind, log, flag);
  const far = kind === 'range' || kind === 'hill-climb' ? climbsFarFromCourse(log, context) : undefined;
  if (far !== undefined) flag('grade-outside-course', far);
  flagWind(kind, context, figures, flag);
  return flags;
}

function flagPack(kind: TestKind, log: CleanLog, context: TestContext, flag: Warn): void {
  const { timeS, channels } = log;
  const { voltage, current, stateOfCharge, batteryTemperature, airTemperature } = channels;
  if (TEST_KINDS[kind].needsFullPack) {
    const gauge = stateOfCharge?.find((value) => !Number.isNaN(value));
    const startV = restingVoltage(log);
    const full = context.fullVoltageV;
    if (context.isPartWay) flagLowStart(startV, gauge, context, flag);
    else if (startV !== undefined && full !== undefined && startV < FULL_SHARE * full)
      flag('battery-not-full', `The pack starts at ${num(Number(startV.toFixed(1)))} V; full it has ${num(full)} V.`);
    else if (startV === undefined && gauge !== undefined && gauge < FULL_GAUGE)
      flag('battery-not-full', `The gauge shows ${Math.round(100 * gauge)} % at the start, not full.`);
    const drift = voltage && current && restDrift(timeS, voltage, current);
    if (drift !== undefined && Math.abs(drift) > RESTED_V_PER_MIN)
      flag(
        'battery-not-rested',
        `Before the start the voltage still moves by ${num(Number((1000 * Math.abs(drift)).toPrecision(2)))} mV a minute without load: the pack had not rested.`,
      );
  }
  const packC = firstOf(batteryTemperature) ?? firstOf(airTemperature) ?? context.airTemperatureC;
  if (packC !== undefined && packC < COLD_C && kind !== 'stand' && kind !== 'coast-down') {
    const loss = context.pack?.chemistry ? CHEMISTRIES[context.pack.chemistry].coldLossPerK * (20 - packC) : undefined;
    flag(
      'cold-pack',
      say`The pack starts at about ${qty(Math.round(packC), '°C')}${loss === undefined ? '.' : `: it gives some ${Math.round(100 * loss)} % less than at `}${loss === undefined ? '' : qty(20, '°C')}${loss === undefined ? '' : '.'}`,
    );
  }
}

/** A run over part of a charge is to begin where the voltage is still level. */
function flagLowStart(
  startV: number | undefined,
  gauge: number | undefined,
  { pack, fullVoltageV }: TestContext,
  flag: Warn,
): void {
  const byVoltage =
    startV !== undefined && fullVoltageV !== undefined && pack?.chemistry
      ? chargeAtRest(pack.chemistry, (startV / fullVoltageV) * openCircuitVoltage(pack.chemistry, 1))
      : undefined;
  const share = byVoltage ?? gauge;
  if (share !== undefined && share < LOW_START)
    flag(
      'starts-low',
      `The pack starts at about ${Math.round(100 * share)} % of its charge: there its voltage falls faster, and the motor with it. Start runs over part of a charge between 90 and 40 %.`,
    );
}

/** Change of the voltage without load before the start, V a minute; undefined where it does not rest for 20 s. */
function restDrift(timeS: Float64Array, voltage: Float64Array, current: Float64Array): number | undefined {
  let end = 0;
  while (end < timeS.length && !(Math.abs(current[end]!) >= REST_A)) end++;
  if (end < 4 || timeS[end - 1]! - timeS[0]! < MIN_REST_S) return undefined;
  const half = firstAtOrAfter(timeS, (timeS[0]! + timeS[end - 1]!) / 2);
  const [first, second] = [meanOfSpan(voltage.subarray(0, half)), meanOfSpan(voltage.subarray(half, end))];
  if (!first || !second) return undefined;
  const change = second.mean - first.mean;
  // What the noise of the readings could make is no drift.
  if (Math.abs(change) < 3 * Math.hypot(first.standardError, second.standardError)) return undefined;
  return (change / ((timeS[end - 1]! - timeS[0]!) / 2)) * 60;
}

function flagRiding(kind: TestKind, log: CleanLog, context: TestContext, flag: Warn): void {
  const { speed, assistLevel } = log.channels;
  const isRide = kind === 'range' || kind === 'hill-climb' || kind === 'heating';
  if (isRide && assistLevel) {
    const counts = new Map<number, number>();
    let known = 0;
    for (let k = 0; k < assistLevel.length; k++) {
      const level = assistLevel[k]!;
      // What the display shows of a standing bike helps nobody.
      if (Number.isNaN(level) || (speed && !(speed[k]! > MOVING_MPS))) continue;
      counts.set(level, (counts.get(level) ?? 0) + 1);
      known++;
    }
    const held = [...counts].filter(([, count]) => count > LEVEL_SHARE * known).map(([level]) => level);
    if (held.length > 1)
      flag('level-changed', `The assist level was changed in the run: ${held.sort((a, b) => a - b).join(', ')}.`);
  }
  if (!speed) return;
  const limit = context.assistLimitKmh;
  if (limit !== undefined && kind !== 'coast-down' && kind !== 'top-speed' && kind !== 'stand') {
    let [fast, moving] = [0, 0];
    for (const v of speed) {
      if (!(v > MOVING_MPS)) continue;
      moving++;
      if (v * 3.6 > limit) fast++;
    }
    const above = moving > 0 ? fast / moving : 0;
    if (above > ABOVE_LIMIT_SHARE)
      flag(
        'above-assist-limit',
        say`${Math.round(100 * above)} % of the moving time is above ${qty(limit, 'km/h')}, where assist ends: there the motor gave no help.`,
      );
  }
  // Standing is part of a heat test: the motor cools.
  if (!isRide || kind === 'heating' || !log.hasClock) return;
  const stops = findStops(log);
  const seconds = stops.reduce((sum, { fromS, toS }) => sum + toS - fromS, 0);
  const whole = log.timeS.at(-1)! - log.timeS[0]!;
  if (seconds > STANDING_SHARE * whole)
    flag(
      'many-stops',
      `The bike stood ${stops.length} ${stops.length === 1 ? 'time' : 'times'}, ${Math.round((100 * seconds) / whole)} % of the time: traffic or stops are in these figures.`,
    );
}

function flagHeat(kind: TestKind, { channels }: CleanLog, context: TestContext, flag: Warn): void {
  if (!TEST_KINDS[kind].heatsMotor) return;
  const startC = firstOf(channels.motorTemperature);
  const airC = context.ambientC ?? firstOf(channels.airTemperature) ?? context.airTemperatureC;
  if (startC === undefined || airC === undefined || startC - airC <= HOT_ABOVE_AIR_K) return;
  flag(
    'hot-start',
    `The motor starts ${num(Math.round(startC - airC))} K above the air: it had not cooled from the ride before.`,
  );
}

function flagSensors(kind: TestKind, { channels, report, hasClock }: CleanLog, flag: Warn): void {
  const slowest = SLOWEST_STEP_S[kind];
  if (hasClock && slowest !== undefined && report.medianStepS > slowest)
    flag(
      'sample-rate-low',
      `The log has a sample every ${num(report.medianStepS)} s; ${TEST_KINDS[kind].label.toLowerCase()} wants one every ${num(Math.floor(10 * slowest) / 10)} s or faster.`,
    );
  for (const name of CLIPPING) {
    const values = channels[name];
    if (values && clippedAt(values) !== undefined)
      flag(
        'sensor-clipped',
        `${channelDefinition(name).label} stays at its highest reading again and again: the sensor may have been at its end.`,
      );
  }
}

/** Wind along a course that does not come back stays in its figures. */
function flagWind(kind: TestKind, context: TestContext, figures: readonly Figure[], flag: Warn): void {
  const { windMps, course } = context;
  const fitted = figures.find(({ key }) => key === 'wind');
  if (fitted && Math.abs(fitted.value) > 2 * STEADY_WIND_MPS)
    flag(
      'windy',
      `The coasts show a wind of ${withUncertainty(fitted.value, fitted.standardUncertainty)} m/s: gusts of it are in the drag.`,
    );
  const isOneWay = kind === 'hill-climb' || (course !== undefined && !course.isLoop && kind === 'range');
  if (!isOneWay || windMps === undefined || Math.abs(windMps) < STEADY_WIND_MPS) return;
  flag(
    'wind-one-side',
    say`Wind of ${qty(Math.abs(windMps), 'm/s')}: from wherever it came, it stays in the figures of a course that does not come back.`,
  );
}

function firstOf(values: Float64Array | undefined): number | undefined {
  if (!values) return undefined;
  const few: number[] = [];
  for (let k = 0; k < values.length && few.length < 5; k++) if (!Number.isNaN(values[k]!)) few.push(values[k]!);
  return few.length > 0 ? few.reduce((sum, one) => sum + one, 0) / few.length : undefined;
}
