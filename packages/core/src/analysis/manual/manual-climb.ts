import { say } from '../../units/index.js';
import { systematic } from '../contributions.js';
import {
  derivationQuantity as qty,
  derivationNumber as num,
  fromLimit,
  makeFigure,
  type Figure,
  type Warn,
} from '../figure.js';
import type { TestContext } from '../test-context.js';
import { manualEnergy } from './manual-energy.js';
import { countedKm, courseLength, ratio, stepOfCounterM, stepOfWatch, thumb } from './manual-parts.js';
import type { ManualPass, ManualReadings } from './manual-readings.js';

const DEFAULT_GAIN_LIMIT_M = 2;
/** A display that counted more than the climbs and the ways down by this share went elsewhere, and so did the energy. */
const OTHER_WAY_SHARE = 0.1;
/** Of the time: turning round at the bottom takes its own. */
const OTHER_TIME_SHARE = 0.5;

/** One timed pass of a slope: time, and with the course's data speed, grade, climbing and energy. */
export function addManualClimb(
  passes: readonly ManualPass[],
  gateM: number | undefined,
  manualReadings: ManualReadings,
  context: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const { durationS, durationStepS = 1 } = manualReadings;
  const [timed] = passes;
  const pass =
    timed ??
    (durationS !== undefined && durationS > 0 ? { seconds: durationS, startS: 0, endS: durationS } : undefined);
  if (!timed && pass && isOtherWay(gateM, manualReadings)) {
    warn(
      'time-of-more',
      say`The time is of ${qty(countedKm(manualReadings)!, 'km')}, the climb is ${qty(gateM! / 1000, 'km')}: the climb itself has no time. Time it from its foot to its top.`,
    );
    return;
  }
  if (!pass) {
    warn('no-pass', 'No pass from start to finish gate was timed: the climb has no time.');
    return;
  }
  const climbs = passes.filter(({ direction }) => direction === timed!.direction);
  if (passes.length > 1)
    warn('several-passes', 'More than one pass was timed; the time and the speed of the climb are those of the first.');
  const span = { fromS: pass.startS, toS: pass.endS };
  const time = makeFigure({
    key: 'climbTime',
    label: 'Climb time',
    value: pass.seconds,
    unit: 's',
    n: 1,
    contributions: [thumb(1), ...(timed ? [] : [stepOfWatch(durationStepS)])],
    formula: 'finish − start',
    substituted: `${num(pass.seconds)} s`,
    inputs: ['stopwatch'],
    ...span,
  });
  figures.push(time);
  const way = gateM !== undefined && gateM > 0 ? lengthFigure(gateM) : undefined;
  if (way) figures.push(ratio('meanSpeed', 'Mean climb speed', way, time, 'km/h', 'distance ÷ time', 3.6));
  else warn('no-length', 'The course has no length between its gates: no speed.');
  const { gainM, gainUncertaintyM = fromLimit(DEFAULT_GAIN_LIMIT_M) } = context.course ?? {};
  if (gainM === undefined || !(gainM > 0)) {
    warn('no-gain', 'The course has no profile that rises between its gates: no grade and no climbing.');
    return;
  }
  const gain = makeFigure({
    key: 'gain',
    label: 'Climbed between the gates',
    value: gainM,
    unit: 'm',
    n: 1,
    // A profile that was measured errs by its readings; one that nobody measured lies anywhere within its limit.
    contributions: [
      {
        ...systematic('profile of the course', gainUncertaintyM),
        isRectangular: context.course?.gainUncertaintyM === undefined,
      },
    ],
    formula: 'altitude at the finish − altitude at the start',
    substituted: say`${qty(gainM, 'm')}`,
    inputs: ['course profile'],
  });
  figures.push(gain, ratio('verticalSpeed', 'Vertical speed', gain, time, 'm/h', 'climbed ÷ time', 3600));
  if (way) figures.push(ratio('meanGrade', 'Mean grade', gain, way, '%', 'climbed ÷ distance', 100));
  const [energy] = manualEnergy(manualReadings, context, warn);
  if (!energy) return;
  figures.push(energy);
  const count = Math.max(1, climbs.length);
  if (isOfMore(climbs.length > 0 ? climbs : [pass], gateM, manualReadings)) {
    warn(
      'energy-of-more',
      'The ride was longer than its climbs and the ways down, and the energy is of all of it: no energy per 100 m climbed. Charge, or read the gauge, at the foot of the climb.',
    );
    return;
  }
  const formula = count === 1 ? 'energy ÷ climbed × 100 m' : `energy ÷ (${count} climbs × climbed) × 100 m`;
  figures.push(ratio('energyPer100m', 'Energy per 100 m climbed', energy, gain, 'Wh', formula, 100 / count));
  if (count > 1)
    warn('ways-down', `The energy of ${count} climbs is taken together; the ways down count as having taken nothing.`);
}

/** The display counted another way than the climb: a time of the whole is not that of the climb. */
function isOtherWay(gateM: number | undefined, manualReadings: ManualReadings): boolean {
  const km = countedKm(manualReadings);
  if (km === undefined || gateM === undefined || !(gateM > 0)) return false;
  return Math.abs(1000 * km - gateM) > OTHER_WAY_SHARE * gateM + stepOfCounterM(manualReadings);
}

/** The display or the watch tells of more than the climbs and the ways down to their foot. */
function isOfMore(
  climbs: readonly Pick<ManualPass, 'seconds'>[],
  gateM: number | undefined,
  manualReadings: ManualReadings,
): boolean {
  const km = countedKm(manualReadings);
  if (km !== undefined && gateM !== undefined && gateM > 0)
    return 1000 * km > (1 + OTHER_WAY_SHARE) * 2 * climbs.length * gateM + stepOfCounterM(manualReadings);
  // Without a distance: riding down takes no longer than riding up.
  const timedS = climbs.reduce((sum, { seconds }) => sum + seconds, 0);
  return (manualReadings.durationS ?? 0) > (1 + OTHER_TIME_SHARE) * 2 * timedS;
}

function lengthFigure(gateM: number): Figure {
  return makeFigure({
    key: 'gateDistance',
    label: 'Distance between the gates',
    value: gateM,
    unit: 'm',
    n: 1,
    contributions: [courseLength(gateM)],
    formula: 'finish gate − start gate',
    substituted: say`${qty(gateM, 'm')}`,
    inputs: ['gates'],
  });
}
