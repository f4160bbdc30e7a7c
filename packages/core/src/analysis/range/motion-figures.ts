import { say } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import { derivationQuantity as qty, derivationNumber as num, fromLimit, makeFigure } from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import type { InstrumentErrors } from '../instrument.js';
import { movingTime } from './moving-time.js';
import type { RideDistance } from './ride-distance.js';

/** `movingTime` and `meanMovingSpeed`; a sample is moving above 1.8 km/h, a gap if its distance went on. */
export function addMotionFigures(
  log: CleanLog,
  figures: Figure[],
  distance: RideDistance | undefined,
  distanceKm: number,
  distanceParts: readonly Contribution[],
  instrument: InstrumentErrors,
  warn: Warn,
): void {
  if (!distance || !(distanceKm > 0)) return;
  const { movingS, limitS, edgesS } = movingTime(log, distance);
  if (!(movingS > 0)) return warn('not-moving', 'The bike never moved in this log.');
  const { timeS, channels } = log;
  const timeParts: Contribution[] = [
    { source: 'stops and starts seen a sample late', standardUncertainty: edgesS },
    ...(limitS > 0
      ? [{ source: 'standing or riding where the log does not tell', standardUncertainty: fromLimit(limitS) }]
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
      inputs: [channels.speed ? 'speed' : distance.source],
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
