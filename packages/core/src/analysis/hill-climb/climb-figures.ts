import { say } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import {
  derivationQuantity as qty,
  derivationNumber as num,
  fromLimit,
  fromResolution,
  makeFigure,
  type Figure,
  type Warn,
} from '../figure.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { isWayOf } from '../quality/course-flags.js';
import { smoothProfile, type AltitudeProfile } from '../range/climbing.js';
import { rideDistance } from '../range/ride-distance.js';
import type { TestContext } from '../test-context.js';
import { addClimbRiding } from './climb-riding.js';
import { addSteepest, warnOfStalls } from './climb-terrain.js';
import { addDriveEfficiency } from './drive-efficiency.js';
import type { Put } from './put-figure.js';

/** Time, speed and energy of a climb from a log that is cut at its gates. */
export function addClimbFigures(log: CleanLog, context: TestContext, figures: Figure[], warn: Warn): void {
  if (!log.hasClock) return;
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const [fromS, toS] = [log.timeS[0]!, log.timeS.at(-1)!];
  const seconds = toS - fromS;
  const distance = rideDistance(log);
  if (!distance || !(distance.distanceM > 0) || !(seconds > 0)) return;
  const speedMps = distance.distanceM / seconds;
  // Positions meet a gate within their wandering, a wheel within its circumference.
  const gateM = context.gatesByPositionM ?? (distance.source === 'positions' ? POSITION_LIMIT_M : undefined);
  const meetsU = gateM === undefined ? fromLimit(instrument.distanceGain * distance.distanceM) : Math.SQRT2 * gateM;
  // Where the gates were met shifts way and time alike.
  const wayU =
    distance.source === 'positions'
      ? Math.SQRT2 * POSITION_LIMIT_M
      : fromLimit(instrument.distanceGain * distance.distanceM);
  const gate = [
    { source: 'time step at the gates', standardUncertainty: Math.SQRT2 * fromResolution(log.report.medianStepS) },
    {
      // A distance that counts too far meets the finish gate too early.
      source: context.gatesByPositionM === undefined ? 'distance at the gates' : 'positions at the gates',
      standardUncertainty: meetsU / speedMps,
      isSystematic: context.gatesByPositionM === undefined,
    },
  ];
  const put: Put = (parts) => {
    figures.push(makeFigure({ n: log.timeS.length, fromS, toS, ...parts }));
  };
  put({
    key: 'climbTime',
    label: 'Climb time',
    value: seconds,
    unit: 's',
    contributions: gate,
    formula: 'finish gate − start gate',
    substituted: `${num(seconds)} s`,
    inputs: ['time', context.gatesByPositionM === undefined ? distance.source : 'positions'],
  });
  put({
    key: 'meanSpeed',
    label: 'Mean climb speed',
    value: speedMps * 3.6,
    unit: 'km/h',
    contributions: [
      {
        source: distance.source === 'positions' ? 'positions' : 'wheel circumference',
        standardUncertainty: (wayU * speedMps * 3.6) / distance.distanceM,
        isSystematic: true,
      },
      {
        source: 'time step at the gates',
        standardUncertainty: (gate[0]!.standardUncertainty * speedMps * 3.6) / seconds,
      },
    ],
    formula: 'distance ÷ time',
    substituted: say`${qty(distance.distanceM, 'm')} ÷ ${num(seconds)} s = ${qty(speedMps * 3.6, 'km/h')}`,
    inputs: [distance.source, 'time'],
  });
  addClimbRiding(log, put, instrument);
  const profile = log.channels.altitude && smoothProfile(distance.cumulativeM, log.channels.altitude);
  const logged = profile && profile.altitudeM.at(-1)! - profile.altitudeM[0]!;
  // A course says what was climbed only of the way from gate to gate.
  const course = context.course && isWayOf(context.course, distance.distanceM) ? context.course : undefined;
  const gainM = course?.gainM ?? logged;
  const gainU =
    course?.gainM !== undefined
      ? (course.gainUncertaintyM ?? fromLimit(2))
      : Math.SQRT2 * Math.hypot(fromLimit(instrument.altitudeM), profile ? edgeScatter(profile) : 0);
  if (gainM === undefined || !(gainM > 0)) {
    warn(
      'no-gain',
      'Neither the course nor the log has a profile that rises between the gates: no grade and no energy per climbing.',
    );
    return;
  }
  // Two readings, each within its limit: their difference is no rectangle.
  const gainParts = (sensitivity: number) =>
    ['altitude at the start gate', 'altitude at the finish gate'].map((source) => ({
      source,
      standardUncertainty: (Math.abs(sensitivity) * gainU) / Math.SQRT2,
      isSystematic: true,
    }));
  put({
    key: 'gain',
    label: 'Climbed between the gates',
    value: gainM,
    unit: 'm',
    contributions: gainParts(1),
    formula: 'altitude at the finish − altitude at the start',
    substituted: say`${qty(gainM, 'm')}`,
    inputs: [course?.gainM === undefined ? 'altitude' : 'course profile'],
  });
  put({
    key: 'verticalSpeed',
    label: 'Vertical speed',
    value: (3600 * gainM) / seconds,
    unit: 'm/h',
    contributions: [
      ...gainParts(3600 / seconds),
      ...gate.map((part) => ({
        ...part,
        standardUncertainty: (part.standardUncertainty * 3600 * gainM) / seconds ** 2,
      })),
    ],
    formula: 'climbed ÷ time',
    substituted: say`${qty(gainM, 'm')} ÷ ${num(seconds)} s = ${qty((3600 * gainM) / seconds, 'm/h')}`,
    inputs: ['gain', 'climbTime'],
  });
  put({
    key: 'meanGrade',
    label: 'Mean grade',
    value: (100 * gainM) / distance.distanceM,
    unit: '%',
    contributions: gainParts(100 / distance.distanceM),
    formula: 'climbed ÷ distance',
    substituted: say`${qty(gainM, 'm')} ÷ ${qty(distance.distanceM, 'm')}`,
    inputs: ['gain', distance.source],
  });
  if (profile) addSteepest(profile, distance.distanceM, put);
  warnOfStalls(log, warn);
  const stepShare = (Math.SQRT2 * fromResolution(log.report.medianStepS)) / seconds;
  const way = {
    source: context.gatesByPositionM === undefined ? 'wheel distance at the gates' : 'positions at the gates',
    standardUncertainty:
      context.gatesByPositionM === undefined ? fromLimit(instrument.distanceGain) : meetsU / distance.distanceM,
    isSystematic: context.gatesByPositionM === undefined,
  };
  const energy = withGates(figures, 'energyOut', context, way, stepShare);
  if (energy)
    addDriveEfficiency(
      log,
      context,
      { gainM, gainU, energyWh: energy.value, energyU: energy.standardUncertainty, distanceM: distance.distanceM },
      put,
      warn,
    );
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
        ...gainParts(value / gainM),
      ],
      formula: 'energy ÷ climbed × 100 m',
      substituted: `${num(energy.value)} Wh ÷ ${num(gainM)} m × 100 = ${num(value)} Wh`,
      inputs: ['energyOut', 'gain'],
    });
  }
}

/** A sum between gates also rests on where the wheel met them; the figure in the list is replaced. */
function withGates(
  figures: Figure[],
  key: string,
  { course }: TestContext,
  /** Of the way between the gates, as a share. */
  way: { readonly source: string; readonly standardUncertainty: number; readonly isSystematic: boolean },
  stepShare: number,
): Figure | undefined {
  const k = figures.findIndex((one) => one.key === key);
  const figure = figures[k];
  if (!figure || !course || course.isWhole) return figure;
  const { derivation, ...parts } = figure;
  figures[k] = makeFigure({
    ...parts,
    ...derivation,
    contributions: [
      ...derivation.contributions.map(({ share: _share, ...part }) => part),
      { ...way, standardUncertainty: way.standardUncertainty * Math.abs(figure.value) },
      {
        source: 'time step at the gates',
        standardUncertainty: Math.abs(figure.value) * stepShare,
      },
    ],
  });
  return figures[k];
}

/** Positions of a phone wander by about this. */
const POSITION_LIMIT_M = 3;

/** Standard error of the smoothed altitude at an end of the profile: half a window of readings, and a line that leans. */
function edgeScatter({ distanceM, scatterM }: AltitudeProfile): number {
  const spacing = (distanceM.at(-1)! - distanceM[0]!) / Math.max(1, distanceM.length - 1);
  return (2 * scatterM) / Math.sqrt(Math.max(1, 25 / Math.max(spacing, 1e-9)));
}
