import { say } from '../../units/index.js';
import { haversineM, type ChannelColumns, type CleanLog } from '../../logs/index.js';
import { derivationQuantity as qty, derivationNumber as num, fromLimit, makeFigure } from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import type { InstrumentErrors } from '../instrument.js';
import type { RideDistance } from './ride-distance.js';

/** Below this the bike stands: walking pace is 1 m/s. */
const STANDING_MPS = 0.5;

/** Positions of a standing phone wander: only what it moves in a few seconds, and faster than they wander, is a ride. */
const DISPLACEMENT_S = 5;
const WANDERING_MPS = 0.8;
/** Half of a gap either way is what is not known of a ride that stops and goes. */
const PART_OF_GAP = 0.25;

/** Speed by the straight way from the position some seconds before; NaN where there is none. */
function displacementSpeed(timeS: Float64Array, { latitude, longitude }: ChannelColumns, k: number): number {
  let from = k;
  while (from > 0 && timeS[k]! - timeS[from]! < DISPLACEMENT_S) from--;
  const metres = haversineM(latitude![from]!, longitude![from]!, latitude![k]!, longitude![k]!);
  return from === k ? NaN : metres / (timeS[k]! - timeS[from]!);
}

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
  let unknownS = 0;
  const isByPosition = distance.source === 'positions';
  for (let k = 1; k < timeS.length; k++) {
    if (speed && Number.isNaN(speed[k]!)) continue;
    const from = last < 0 ? k - 1 : last;
    const step = timeS[k]! - timeS[from]!;
    const speedHere = speed
      ? (speed[k]! + (Number.isNaN(speed[from]!) ? speed[k]! : speed[from]!)) / 2
      : isByPosition
        ? displacementSpeed(timeS, channels, k)
        : (distance.cumulativeM[k]! - distance.cumulativeM[from]!) / step;
    const isMoving =
      step > report.gapLimitS
        ? distance.cumulativeM[k]! - distance.cumulativeM[from]! > STANDING_MPS * step
        : speedHere > (isByPosition ? WANDERING_MPS : STANDING_MPS);
    // A gap of which only a part was ridden: how much of it, only the usual speed tells.
    if (step > report.gapLimitS) unknownS += step;
    if (isMoving) movingS += step;
    if (isMoving !== wasMoving) crossings++;
    wasMoving = isMoving;
    last = k;
  }
  if (!(movingS > 0)) return warn('not-moving', 'The bike never moved in this log.');
  const timeParts: Contribution[] = [
    {
      source: 'stops and starts seen a sample late',
      standardUncertainty:
        ((isByPosition ? Math.max(DISPLACEMENT_S, report.medianStepS) : report.medianStepS) / Math.sqrt(6)) *
        Math.sqrt(crossings),
    },
    ...(unknownS > 0
      ? [{ source: 'standing or riding in the gaps', standardUncertainty: fromLimit(PART_OF_GAP * unknownS) }]
      : []),
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
      substituted: say`${qty(distanceKm, 'km')} ÷ ${num(movingS)} s = ${qty(speedKmh, 'km/h')}`,
      inputs: ['distance', 'movingTime'],
    }),
  );
}
