import type { CleanLog } from '../logs/index.js';
import { derivationNumber as num, fromLimit, fromResolution, makeFigure, type Figure, type Warn } from './figure.js';
import { smoothProfile } from './range/climbing.js';
import { rideDistance } from './range/ride-integrals.js';
import { DEFAULT_INSTRUMENT } from './instrument.js';
import type { TestContext } from './test-context.js';

/** Time, speed and energy of a climb from a log that is cut at its gates. */
export function addClimbFigures(log: CleanLog, context: TestContext, figures: Figure[], warn: Warn): void {
  if (!log.hasClock) return;
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const [fromS, toS] = [log.timeS[0]!, log.timeS.at(-1)!];
  const seconds = toS - fromS;
  const distance = rideDistance(log);
  if (!distance || !(seconds > 0)) return;
  const speedMps = distance.distanceM / seconds;
  const gate = [
    { source: 'time step at the gates', standardUncertainty: Math.SQRT2 * fromResolution(log.report.medianStepS) },
    {
      // A distance that counts too far meets the finish gate too early.
      source: 'wheel distance at the gates',
      standardUncertainty: fromLimit(instrument.distanceGain * distance.distanceM) / speedMps,
      isSystematic: true,
    },
  ];
  const put = (parts: Omit<Parameters<typeof makeFigure>[0], 'fromS' | 'n' | 'toS'>): void => {
    figures.push(makeFigure({ n: log.timeS.length, fromS, toS, ...parts }));
  };
  put({
    key: 'climbTime',
    label: 'Time of the climb',
    value: seconds,
    unit: 's',
    contributions: gate,
    formula: 'finish gate − start gate',
    substituted: `${num(seconds)} s`,
    inputs: ['time', distance.source],
  });
  put({
    key: 'meanSpeed',
    label: 'Mean speed of the climb',
    value: speedMps * 3.6,
    unit: 'km/h',
    contributions: [
      {
        source: 'wheel circumference',
        standardUncertainty: fromLimit(instrument.distanceGain * speedMps * 3.6),
        isSystematic: true,
      },
      {
        source: 'time step at the gates',
        standardUncertainty: (gate[0]!.standardUncertainty * speedMps * 3.6) / seconds,
      },
    ],
    formula: 'way ÷ time',
    substituted: `${num(distance.distanceM)} m ÷ ${num(seconds)} s = ${num(speedMps * 3.6)} km/h`,
    inputs: [distance.source, 'time'],
  });
  const profile = log.channels.altitude && smoothProfile(distance.cumulativeM, log.channels.altitude);
  const logged = profile && profile.altitudeM.at(-1)! - profile.altitudeM[0]!;
  const gainM = context.course?.gainM ?? logged;
  const gainU =
    context.course?.gainM !== undefined
      ? (context.course.gainUncertaintyM ?? fromLimit(2))
      : Math.SQRT2 * fromLimit(instrument.altitudeM);
  if (gainM === undefined || !(gainM > 0)) {
    warn(
      'no-gain',
      'Neither the course nor the log has a profile that rises between the gates: no grade and no energy per climbing.',
    );
    return;
  }
  const gainPart = (sensitivity: number) => ({
    source: 'climb between the gates',
    standardUncertainty: Math.abs(sensitivity) * gainU,
    isSystematic: true,
  });
  put({
    key: 'gain',
    label: 'Climbed between the gates',
    value: gainM,
    unit: 'm',
    contributions: [gainPart(1)],
    formula: 'altitude at the finish − altitude at the start',
    substituted: `${num(gainM)} m`,
    inputs: [context.course?.gainM === undefined ? 'altitude' : 'course profile'],
  });
  put({
    key: 'verticalSpeed',
    label: 'Vertical speed',
    value: (3600 * gainM) / seconds,
    unit: 'm/h',
    contributions: [
      gainPart(3600 / seconds),
      ...gate.map((part) => ({
        ...part,
        standardUncertainty: (part.standardUncertainty * 3600 * gainM) / seconds ** 2,
      })),
    ],
    formula: 'climbed ÷ time',
    substituted: `${num(gainM)} m ÷ ${num(seconds)} s = ${num((3600 * gainM) / seconds)} m/h`,
    inputs: ['gain', 'climbTime'],
  });
  put({
    key: 'meanGrade',
    label: 'Mean grade',
    value: (100 * gainM) / distance.distanceM,
    unit: '%',
    contributions: [gainPart(100 / distance.distanceM)],
    formula: 'climbed ÷ way',
    substituted: `${num(gainM)} m ÷ ${num(distance.distanceM)} m`,
    inputs: ['gain', distance.source],
  });
  const energy = figures.find(({ key }) => key === 'energyOut');
  if (energy) {
    const value = (100 * energy.value) / gainM;
    put({
      key: 'energyPer100m',
      label: 'Energy per 100 m climbed',
      value,
      unit: 'Wh',
      contributions: [
        ...energy.derivation.contributions.map(({ share: _share, ...part }) => ({
          ...part,
          standardUncertainty: (part.standardUncertainty * 100) / gainM,
        })),
        gainPart(value / gainM),
      ],
      formula: 'energy ÷ climbed × 100 m',
      substituted: `${num(energy.value)} Wh ÷ ${num(gainM)} m × 100 = ${num(value)} Wh`,
      inputs: ['energyOut', 'gain'],
    });
  }
}
