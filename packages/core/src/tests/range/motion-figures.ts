import type { CleanLog } from '../../logs/index.js';
import {
  derivationNumber as num,
  fromLimit,
  makeFigure,
  type Contribution,
  type Figure,
  type Warn,
} from '../figure.js';
import type { InstrumentErrors } from '../instrument.js';
import type { RideDistance } from './ride-integrals.js';

/** Below this the bike stands: walking pace is 1 m/s. */
const STANDING_MPS = 0.5;

/** `movingTime` and `meanMovingSpeed`; a sample is moving above 1.8 km/h, a gap if its distance went on. */
export function addMotionFigures(
  { timeS, channels, report }: CleanLog,
  figures: Figure[],
  distance: RideDistance | undefined,
  distanceKm: number,
  distanceParts: readonly Contribution[],
  instrument: InstrumentErrors,
  warn: Warn,
): void {
  if (!distance || !(distanceKm > 0)) return;
  const { speed } = channels;
  let movingS = 0;
  let last = -1;
  let crossings = 0;
  let wasMoving = false;
  for (let k = 1; k < timeS.length; k++) {
    if (speed && Number.isNaN(speed[k]!)) continue;
    const from = last < 0 ? k - 1 : last;
    const step = timeS[k]! - timeS[from]!;
    const speedHere = speed
      ? (speed[k]! + (Number.isNaN(speed[from]!) ? speed[k]! : speed[from]!)) / 2
      : (distance.cumulativeM[k]! - distance.cumulativeM[from]!) / step;
    const isMoving =
      step > report.gapLimitS
        ? distance.cumulativeM[k]! - distance.cumulativeM[from]! > STANDING_MPS * step
        : speedHere > STANDING_MPS;
    if (isMoving) movingS += step;
    if (isMoving !== wasMoving) crossings++;
    wasMoving = isMoving;
    last = k;
  }
  if (!(movingS > 0)) return warn('not-moving', 'The bike never moved in this log.');
  const timeParts: Contribution[] = [
    {
      source: 'stops and starts seen a sample late',
      standardUncertainty: (report.medianStepS / Math.sqrt(6)) * Math.sqrt(crossings),
    },
    { source: 'clock', standardUncertainty: fromLimit(instrument.clockGain * movingS), isSystematic: true },
  ];
  figures.push(
    makeFigure({
      key: 'movingTime',
      label: 'Moving time',
      value: movingS,
      unit: 's',
      contributions: timeParts,
      n: timeS.length,
      formula: 'time with a speed above 1.8 km/h',
      substituted: `${num(movingS)} s`,
      inputs: [speed ? 'speed' : distance.source],
    }),
  );
  const speedKmh = (distanceKm / movingS) * 3600;
  figures.push(
    makeFigure({
      key: 'meanMovingSpeed',
      label: 'Mean moving speed',
      value: speedKmh,
      unit: 'km/h',
      n: timeS.length,
      contributions: [
        ...distanceParts.map((c) => ({ ...c, standardUncertainty: (c.standardUncertainty * speedKmh) / distanceKm })),
        ...timeParts.map((c) => ({ ...c, standardUncertainty: (c.standardUncertainty * speedKmh) / movingS })),
      ],
      formula: 'distance ÷ moving time',
      substituted: `${num(distanceKm)} km ÷ ${num(movingS)} s = ${num(speedKmh)} km/h`,
      inputs: ['distance', 'movingTime'],
    }),
  );
}
