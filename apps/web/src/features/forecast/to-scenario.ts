import { knownProfile } from '@ebrix/core/courses';
import type { Scenario } from '@ebrix/core/forecast';
import { rideCourseOf } from '@ebrix/core/ride-model';
import type { Course, SetupCalibration } from '@ebrix/contract';
import { settled, WIND_FROM, WINDS, type Question } from './question.js';

export interface Way {
  readonly name: string;
  readonly profile: Scenario['profile'];
  /** Comes back to where it began: wind from one side comes from the other as well. */
  readonly isRound: boolean;
  /** Why heights are missing, where they are. */
  readonly note: string | undefined;
}
const ROUND: ReadonlySet<string> = new Set(['loop', 'out-and-back']);

/** The way that is asked about; undefined while none is chosen or its length is not known. */
export function wayOf(question: Question, courses: readonly Course[], dropped: Way | undefined): Way | undefined {
  const out = wayOut(question, courses, dropped);
  if (!out || !question.isReturn) return out;
  const end = out.profile.at(-1)!.distanceM;
  const home = turned(out).profile.slice(1);
  return {
    ...out,
    name: `${out.name}, there and back`,
    profile: [...out.profile, ...home.map((point) => ({ ...point, distanceM: point.distanceM + end }))],
    // What blows from ahead on the way out pushes on the way home.
    isRound: true,
  };
}

function wayOut(question: Question, courses: readonly Course[], dropped: Way | undefined): Way | undefined {
  if (question.course === 'file') return dropped && (question.isBack ? turned(dropped) : dropped);
  if (question.course === 'slope')
    return {
      name: `${Math.round(question.lengthM)} m at ${(100 * question.grade).toFixed(1)} %`,
      profile: [
        { distanceM: 0, altitudeM: 0 },
        { distanceM: question.lengthM, altitudeM: question.lengthM * question.grade },
      ],
      isRound: false,
      note: undefined,
    };
  const course = courses.find(({ id }) => id === question.course);
  if (!course || course.lengthM === null) return undefined;
  const profile = knownProfile(course) ?? null;
  const { profile: points } = rideCourseOf({ lengthM: course.lengthM, profile }, question.isBack ? -1 : 1);
  return {
    name: course.name,
    profile: points,
    isRound: ROUND.has(course.kind),
    note: profile ? undefined : 'This course has no heights: it is taken as level.',
  };
}

function turned(way: Way): Way {
  const end = way.profile.at(-1)!.distanceM;
  return {
    ...way,
    profile: way.profile.map(({ distanceM, altitudeM }) => ({ distanceM: end - distanceM, altitudeM })).reverse(),
  };
}

export function scenarioOf(question: Question, usual: SetupCalibration['usual'], way: Way): Scenario {
  const { totalMassKg, riderPowerW, targetSpeedKmh, secondAh, secondKg } = settled(question, usual);
  const along = WINDS[question.wind].mps * (way.isRound ? 0 : WIND_FROM[question.windFrom].along);
  return {
    profile: way.profile,
    totalMassKg,
    airTemperatureC: question.airTemperatureC,
    windMps: along,
    startShare: question.startShare,
    reserveShare: Math.min(question.reserveShare, question.startShare - 0.02),
    riding: {
      targetSpeedKmh,
      riderPowerW,
      ...(question.level !== undefined && { level: question.level }),
      ...(question.stopsPerKm > 0 && { stopsPerKm: question.stopsPerKm }),
    },
    ...(question.hasSecondPack && { secondPack: { capacityAh: secondAh, massKg: secondKg } }),
  };
}
