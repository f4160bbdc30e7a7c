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
import { courseLength, ratio, stepOfWatch, thumb } from './manual-parts.js';
import type { ManualPass, ManualReadings } from './manual-readings.js';

const DEFAULT_GAIN_LIMIT_M = 2;

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
  if (!pass) {
    warn('no-pass', 'No pass from start to finish gate was timed: the climb has no time.');
    return;
  }
  if (passes.length > 1) warn('several-passes', 'More than one pass was timed; the first one is the climb.');
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
  if (energy)
    figures.push(
      energy,
      ratio('energyPer100m', 'Energy per 100 m climbed', energy, gain, 'Wh', 'energy ÷ climbed × 100 m', 100),
    );
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
