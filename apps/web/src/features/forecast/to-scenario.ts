import { knownProfile } from '@ebrix/core/courses';
import { headedWay, thereAndBack, turnedRound, type Scenario, type WayShape } from '@ebrix/core/forecast';
import { rideCourseOf } from '@ebrix/core/ride-model';
import type { Course, SetupCalibration } from '@ebrix/contract';
import { COMPASS, settled, WIND_FROM, WINDS, type Question, type WindFrom } from './question.js';

export interface Way {
  readonly name: string;
  /** With headings: from north where its plan is known, else from where it sets out. */
  readonly profile: Scenario['profile'];
  readonly isByCompass: boolean;
  /** Comes back to where it began: what blows from ahead on one part pushes on another. */
  readonly isRound: boolean;
  /** Why heights are missing, where they are. */
  readonly note: string | undefined;
}
const RETURNS: Partial<Record<string, WayShape['returns']>> = { loop: 'round', 'out-and-back': 'same way' };

/** The way that is asked about; undefined while none is chosen or its length is not known. */
export function wayOf(question: Question, courses: readonly Course[], dropped: Way | undefined): Way | undefined {
  const out = wayOut(question, courses, dropped);
  if (!out || !question.isReturn) return out;
  return { ...out, name: `${out.name}, there and back`, profile: thereAndBack(out.profile), isRound: true };
}

function wayOut(question: Question, courses: readonly Course[], dropped: Way | undefined): Way | undefined {
  if (question.course === 'file')
    return dropped && (question.isBack ? { ...dropped, profile: turnedRound(dropped.profile) } : dropped);
  if (question.course === 'slope')
    return {
      name: `${Math.round(question.lengthM)} m at ${(100 * question.grade).toFixed(1)} %`,
      profile: [
        { distanceM: 0, altitudeM: 0, headingDeg: 0 },
        { distanceM: question.lengthM, altitudeM: question.lengthM * question.grade, headingDeg: 0 },
      ],
      isByCompass: false,
      isRound: false,
      note: undefined,
    };
  const course = courses.find(({ id }) => id === question.course);
  if (!course || course.lengthM === null) return undefined;
  const profile = knownProfile(course) ?? null;
  const returns = RETURNS[course.kind] ?? 'no';
  const { points, isByCompass } = headedWay(rideCourseOf({ lengthM: course.lengthM, profile }).profile, {
    plan: course.track?.plan ?? [],
    returns,
  });
  return {
    name: course.name,
    profile: question.isBack ? turnedRound(points) : points,
    isByCompass,
    isRound: returns !== 'no',
    note: profile ? undefined : 'This course has no heights: it is taken as level.',
  };
}

/** What stands in the field: a compass is of use only where the way's place is known. */
export function windFromOf({ windFrom }: Pick<Question, 'windFrom'>, way: Pick<Way, 'isByCompass'>): WindFrom {
  return windFrom in COMPASS && !way.isByCompass ? 'ahead' : windFrom;
}

function windOf(question: Question, way: Way): NonNullable<Scenario['wind']> {
  const from = windFromOf(question, way);
  const setsOut = way.profile[0]!.headingDeg ?? 0;
  return {
    mps: WINDS[question.wind].mps,
    fromDeg:
      from in COMPASS
        ? COMPASS[from as keyof typeof COMPASS].deg
        : (setsOut + WIND_FROM[from as keyof typeof WIND_FROM].deg) % 360,
  };
}

export function scenarioOf(question: Question, usual: SetupCalibration['usual'], way: Way): Scenario {
  const { totalMassKg, riderPowerW, targetSpeedKmh, secondAh, secondKg } = settled(question, usual);
  return {
    profile: way.profile,
    totalMassKg,
    airTemperatureC: question.airTemperatureC,
    wind: windOf(question, way),
    startShare: question.startShare,
    reserveShare: Math.min(question.reserveShare, question.startShare - 0.02),
    riding: {
      targetSpeedKmh,
      riderPowerW,
      ...(question.level !== undefined && { level: question.level }),
      ...(question.stopsPerKm > 0 && { stopsPerKm: question.stopsPerKm }),
    },
    ...(question.hasSecondPack && { secondPack: { capacityAh: secondAh, massKg: secondKg, use: question.secondUse } }),
  };
}
