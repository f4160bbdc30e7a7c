import { mean } from '../../numeric/index.js';
import { say } from '../../units/index.js';
import {
  derivationNumber as num,
  derivationQuantity as qty,
  fromLimit,
  makeFigure,
  type Figure,
  type Warn,
} from '../figure.js';
import type { TestContext } from '../test-context.js';
import type { TestKind } from '../test-kinds.js';
import { contradictionsOf, SLOWEST_KMH, withoutSpoilt } from './contradictions.js';
import { addManualClimb } from './manual-climb.js';
import { FASTEST_KMH, passesOf, type ManualPass, type ManualReadings } from './manual-readings.js';
import { addCharge, addDisplayExtremes, addDisplayTwoWay, addFeltTimes, addTouch } from './manual-feel.js';
import { addLevelTable } from './manual-levels.js';
import { addManualRide } from './manual-ride.js';
import { addTemperatureFigures } from './manual-temperatures.js';
import { addManualTopSpeed } from './manual-top-speed.js';

/**
 * All figures that stopwatch, display, gauge, voltmeter, socket meter and thermometer carry, for one kind of test.
 *
 * Figures: `distance`, `movingTime`, `meanMovingSpeed`, `energyOut`, `netConsumption`, the four schools of range;
 * `climbTime`, `meanSpeed`, `gain`, `meanGrade`, `verticalSpeed`, `energyPer100m`; `twoWayTopSpeed`;
 * `steadySpeedLevel…`, `meanPowerLevel…`, `consumptionLevel…`; `crankTurn`; `lowestVoltage`;
 * `topSpeedOneWay`, `minSpeed`, `peakPower`, `peakCurrent`; `latency`, `overrun`, `brakeCutoff` as felt; `housingTemperature`;
 * `chargeTime`; `motorTemperatureRise`, `coolingHalfLife`; `meanHeartRate`, `peakHeartRate`. What is lacking is named in a warning.
 * Readings that contradict each other are told, and nothing rests on them.
 * Method: docs/methods.md, "without a logger"; uncertainty after JCGM 100:2008 from the stated steps and limits.
 */
export function manualFigures(kind: TestKind, written: ManualReadings, context: TestContext, tell: Warn): Figure[] {
  const figures: Figure[] = [];
  const contradictions = contradictionsOf(written);
  for (const { code, said } of contradictions) tell(code, said);
  const spoilt = new Set(contradictions.flatMap(({ spoils }) => spoils));
  let isSlip = contradictions.length > 0;
  let hasOddEnergy = false;
  const warn: Warn = (code, text) => {
    isSlip ||= code === 'too-fast';
    // Why there is none was said.
    if (code === 'no-distance' && spoilt.has('distance')) return;
    if (code === 'no-energy' && hasOddEnergy) return;
    hasOddEnergy ||= ODD_ENERGY.has(code);
    tell(code, text);
  };
  const gateM = context.course && context.course.finishM - context.course.startM;
  const { passes, manualReadings } = withoutSlips(withoutSpoilt(written, spoilt), gateM, warn);
  if (kind === 'top-speed' || kind === 'coast-down') {
    const byDisplay = kind === 'top-speed' && addDisplayTwoWay(manualReadings, figures);
    const isTimed = passes.length > 0 || (!byDisplay && manualReadings.highestSpeedKmh === undefined);
    if (isTimed && !byDisplay) addManualTopSpeed(passes, gateM, figures, warn);
  } else if (kind === 'assist-levels' && (manualReadings.levelTable ?? []).length > 0)
    addLevelTable(manualReadings, figures, warn);
  else if (kind === 'assist-response') addFeltTimes(manualReadings, figures, warn);
  else if (kind === 'hill-climb') addManualClimb(passes, gateM, manualReadings, context, figures, warn);
  else addManualRide(passes, gateM, manualReadings, context, figures, warn);
  warnOfLevels(kind, manualReadings, warn);
  addTemperatureFigures(manualReadings, context, figures, warn);
  addTouch(manualReadings, context, figures);
  addDisplayExtremes(manualReadings, kind === 'hill-climb', figures);
  addCharge(manualReadings, figures);
  addHeartRate(manualReadings, figures);
  const kept = withoutOddSpeeds(figures, warn);
  if (figures.length === 0 && !isSlip)
    warn(
      'nothing-by-hand',
      'Nothing was timed or read off that gives a figure of this test. Type in what is on paper.',
    );
  return kept;
}

const ODD_ENERGY: ReadonlySet<string> = new Set(['energies-disagree', 'more-than-pack', 'voltage-not-of-pack']);

/** Passes as they can have been, and the readings without the finishes that cannot. */
function withoutSlips(
  written: ManualReadings,
  gateM: number | undefined,
  warn: Warn,
): { passes: readonly ManualPass[]; manualReadings: ManualReadings } {
  let slips = 0;
  const passes = passesOf(written.laps, gateM, ({ seconds }) => {
    slips++;
    warn(
      'finish-too-soon',
      say`A finish was pressed ${qty(seconds, 's')} after the start: over ${qty(gateM!, 'm')} that would be ${qty((3.6 * gateM!) / seconds, 'km/h')}. It was left out; look at the times, and at the gates of the course.`,
    );
  });
  const laps = passes.flatMap(({ direction, startS, endS }) => [
    { gate: 'start' as const, elapsedS: startS, direction },
    { gate: 'finish' as const, elapsedS: endS, direction },
  ]);
  return { passes, manualReadings: slips === 0 ? written : { ...written, laps } };
}

/** What rests on the time by hand: with a speed that cannot be, the time may be what is wrong. */
const BY_TIME: readonly string[] = ['movingTime', 'climbTime', 'verticalSpeed'];

/** A mean speed that no bike has, nor anybody pushing one, is a slip of the pen; it is told, not given, and neither is what rests on the same time. */
function withoutOddSpeeds(figures: readonly Figure[], warn: Warn): Figure[] {
  const isTooSlow = ({ key, value }: Figure): boolean => MEAN_SPEEDS.includes(key) && value < SLOWEST_KMH;
  const odd = figures.filter((figure) => figure.unit === 'km/h' && (figure.value > FASTEST_KMH || isTooSlow(figure)));
  for (const figure of odd)
    warn(
      isTooSlow(figure) ? 'too-slow' : 'too-fast',
      say`${figure.label}: it would be ${qty(figure.value, 'km/h')}, ${isTooSlow(figure) ? 'slower than pushing' : 'which no bike rides'}. It was left out; look at the distance, the times and the readings of the display.`,
    );
  const isByTime = odd.some(({ derivation }) => derivation.inputs.includes('stopwatch'));
  return figures.filter((figure) => !odd.includes(figure) && !(isByTime && BY_TIME.includes(figure.key)));
}
const MEAN_SPEEDS: readonly string[] = ['meanMovingSpeed', 'meanSpeed'];

/** The level is to be held but where the levels are what is tested. */
function warnOfLevels(kind: TestKind, { levelsSeen = [] }: ManualReadings, warn: Warn): void {
  const levels = [...new Set(levelsSeen.map(({ level }) => level))];
  if (levels.length > 1 && kind !== 'assist-levels')
    warn('level-changed', `The assist level was changed in the run, as noted: ${levels.join(', ')}.`);
}

function addHeartRate(manualReadings: ManualReadings, figures: Figure[]): void {
  const { meanHeartRateBpm, peakHeartRateBpm } = manualReadings;
  if (peakHeartRateBpm !== undefined)
    figures.push(readHeartRate('peakHeartRate', 'Highest heart rate', peakHeartRateBpm));
  const heartRates = manualReadings.heartRates ?? [];
  if (heartRates.length === 0) {
    if (meanHeartRateBpm !== undefined)
      figures.push(readHeartRate('meanHeartRate', 'Mean heart rate', meanHeartRateBpm));
    return;
  }
  const meanBpm = mean(heartRates.map(({ bpm }) => bpm));
  const variance =
    heartRates.reduce((sum, { bpm }) => sum + (bpm - meanBpm) ** 2, 0) / Math.max(1, heartRates.length - 1);
  figures.push(
    makeFigure({
      key: 'meanHeartRate',
      label: 'Mean heart rate',
      value: meanBpm,
      unit: 'bpm',
      n: heartRates.length,
      contributions: [
        { source: 'heart-rate strap', standardUncertainty: fromLimit(3), isSystematic: true },
        ...(heartRates.length > 1
          ? [
              {
                source: 'scatter of readings',
                standardUncertainty: Math.sqrt(variance / heartRates.length),
                degreesOfFreedom: heartRates.length - 1,
              },
            ]
          : [{ source: 'one reading for the whole ride', standardUncertainty: fromLimit(15) }]),
      ],
      formula: 'mean of the readings',
      substituted: `${num(meanBpm)} bpm`,
      inputs: ['heart rate'],
    }),
  );
}

/** As a watch or a phone gives it for the whole ride. */
function readHeartRate(key: string, label: string, bpm: number): Figure {
  return makeFigure({
    key,
    label,
    value: bpm,
    unit: 'bpm',
    n: 1,
    contributions: [{ source: 'heart-rate strap', standardUncertainty: fromLimit(3), isSystematic: true }],
    formula: 'as shown',
    substituted: `${num(bpm)} bpm`,
    inputs: ['heart rate'],
  });
}
