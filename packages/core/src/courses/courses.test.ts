import fc from 'fast-check';
import {
  timedSection,
  degreesToGrade,
  gradeToDegrees,
  assessCourse,
  readCourseFile,
  trackOfDrawing,
  trackOfFile,
  type ProfilePoint,
} from './index.js';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const trackOf = (text: string) => {
  const file = readCourseFile(bytes(text));
  if (!file.ok) throw new Error(file.problem.message);
  return trackOfFile(file.value)!;
};
const profile = (altitudeAt: (d: number) => number, lengthM = 1000, stepM = 10): ProfilePoint[] =>
  Array.from({ length: lengthM / stepM + 1 }, (_, k) => ({
    distanceM: k * stepM,
    altitudeM: altitudeAt(k * stepM),
    grade: 0,
    gradeUncertainty: 0.001,
  }));
const line = (points: number[][], type = 'LineString') =>
  JSON.stringify({ type: 'Feature', geometry: { type, coordinates: type === 'LineString' ? points : [points] } });
/** 0.001° of latitude is 111.195 m on the sphere of R = 6 371 008.8 m. */
const NORTH = Array.from({ length: 21 }, (_, k) => [-45.2, 31.4 + k * 0.001, 10 + k]);

describe('course files', () => {
  it.each(['LineString', 'MultiLineString'])('reads a GeoJSON %s with its altitudes', (type) => {
    const track = trackOf(line(NORTH, type));
    expect(track.lengthM).toBeCloseTo(20 * 111.195, 0);
    expect(track.plan.at(-1)!.northM).toBeCloseTo(2223.9, 0);
    expect(track.plan.at(-1)!.eastM).toBeCloseTo(0, 6);
    expect(track.profile!.at(-1)!.altitudeM).toBeCloseTo(30, 0);
    // One metre in 111.195.
    expect(track.profile![10]!.grade).toBeCloseTo(1 / 111.195, 4);
  });
  it('finds the line within a collection, and does without altitudes', () => {
    const track = trackOf(
      JSON.stringify({
        type: 'FeatureCollection',
        features: [
          { type: 'Feature', geometry: { type: 'Point', coordinates: [0, 0] } },
          JSON.parse(
            line([
              [0, 0],
              [0, 0.01],
            ]),
          ),
        ],
      }),
    );
    expect(track.profile).toBeNull();
    expect(track.lengthM).toBeCloseTo(1111.95, 1);
  });
  it.each([
    ['distance (km),altitude (ft)\n0,0\n0.5,32.8084\n1,65.6168\n', 1000, 20],
    ['Distanz (m);Höhe (m)\n0;100,0\n250;105,0\n500;110,0\n', 500, 10],
    ['km,elevation\n0,5\n2,25\n', 2000, 20],
  ])('reads a table of distance and altitude: %j', (text, lengthM, rise) => {
    const file = readCourseFile(bytes(text));
    expect(file).toMatchObject({ ok: true, value: { kind: 'profile' } });
    if (!file.ok || file.value.kind !== 'profile') return;
    expect(file.value.distanceM.at(-1)).toBeCloseTo(lengthM, 6);
    expect(file.value.altitudeM.at(-1)! - file.value.altitudeM[0]!).toBeCloseTo(rise, 3);
  });
  it.each([
    ['{"type":"Feature"', 'damaged'],
    ['{"type":"Point","coordinates":[1,2]}', 'no line'],
    ['{"type":"LineString","coordinates":[["a",1],[2,3]]}', 'Position 1'],
    ['{"type":"LineString","coordinates":[[500000,5500000],[2,3]]}', 'WGS 84'],
    ['{"type":"LineString","coordinates":[[1,2]]}', 'fewer than two'],
    ['distance,altitude\n0,1\n10,2\n', 'In which unit is the column "distance"'],
    ['speed (km/h),cadence\n1,2\n3,4\n', 'needs a column "distance"'],
    ['distance (m),altitude (m)\n0,1\n50,2\n20,3\n', 'goes back'],
  ])('refuses %j with the mend', (text, words) => {
    const file = readCourseFile(bytes(text));
    expect(file.ok).toBe(false);
    if (!file.ok) expect(file.problem.message).toContain(words);
  });
  it('never throws, whatever it is given', () =>
    fc.assert(fc.property(fc.oneof(fc.string(), fc.json()), (text) => void readCourseFile(bytes(text)))));
});

describe('a drawn course', () => {
  it('is as long as its corners are apart and rises between the given altitudes', () => {
    const track = trackOfDrawing(
      [
        { eastM: 0, northM: 0 },
        { eastM: 300, northM: 400 },
        { eastM: 300, northM: 900 },
      ],
      [
        { distanceM: 1000, altitudeM: 60 },
        { distanceM: 0, altitudeM: 10 },
      ],
    );
    expect(track.lengthM).toBe(1000);
    expect(track.climbedM).toBe(50);
    expect(track.profile!.map(({ grade }) => grade)).toEqual([0.05, 0.05]);
  });
});

describe('the judgement of a course', () => {
  it('knows a climb, and the same one from above', () => {
    const climb = profile((d) => 0.07 * d);
    expect(assessCourse(climb)).toMatchObject({
      hill: 'steep',
      climbM: expect.closeTo(70, 6),
      descentM: 0,
      levelSection: null,
    });
    expect(assessCourse(climb, { direction: -1 })).toMatchObject({ climbM: 0, descentM: expect.closeTo(70, 6) });
    expect(assessCourse(climb).meanGrade.grade).toBeCloseTo(0.07, 9);
    // Two altitudes, each within ± 1 m: √2 · 0.577 m over 1000 m.
    expect(assessCourse(climb).meanGrade.uncertainty).toBeCloseTo(0.000816, 6);
    expect(assessCourse(climb, { fromM: 200, toM: 600 }).climbM).toBeCloseTo(28, 6);
  });
  it('finds the level strip and says how good it is', () => {
    const flat = profile((d) => (d < 300 ? 0.04 * d : d > 800 ? 12 + 0.03 * (d - 800) : 12));
    const { levelSection, levelQuality } = assessCourse(flat);
    expect(levelSection).toMatchObject({ fromM: 300, toM: 800 });
    expect(levelQuality).toBe('good');
    expect(assessCourse(profile((d) => 0.02 * d)).levelQuality).toBe('poor');
  });
  it.each([
    [0.002, 'level'],
    [0.02, 'gentle'],
    [0.045, 'moderate'],
    [0.08, 'steep'],
    [0.13, 'very-steep'],
  ])('a mean grade of %d is %s', (grade, hill) => expect(assessCourse(profile((d) => grade * d)).hill).toBe(hill));
  it('turning a course round swaps climb and descent and turns the grade', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -20, max: 20, noNaN: true }), { minLength: 11, maxLength: 11 }),
        (altitudes) => {
          const points = profile((d) => altitudes[d / 100]!, 1000, 100);
          const [there, back] = [assessCourse(points), assessCourse(points, { direction: -1 })];
          expect(back.climbM).toBeCloseTo(there.descentM, 9);
          expect(back.meanGrade.grade).toBeCloseTo(-there.meanGrade.grade, 12);
          expect(there.steepestUp.grade).toBeCloseTo(-back.steepestDown.grade, 12);
        },
      ),
    ));
  it('a slope in degrees is not one in per cent', () => {
    expect(degreesToGrade(45)).toBeCloseTo(1, 12);
    expect(degreesToGrade(7)).toBeCloseTo(0.1228, 4);
    fc.assert(
      fc.property(fc.double({ min: -1, max: 1, noNaN: true }), (grade) =>
        expect(degreesToGrade(gradeToDegrees(grade))).toBeCloseTo(grade, 10),
      ),
    );
  });
});

describe('gates', () => {
  const gates = [
    { kind: 'start' as const, name: 'Bakery', distanceM: 200 },
    { kind: 'finish' as const, name: 'Chapel', distanceM: 900 },
  ];
  it('give the timed part, in the direction ridden', () => {
    expect(timedSection(gates, 1000)).toEqual({ startM: 200, finishM: 900, isWhole: false });
    expect(timedSection(gates, 1000, -1)).toEqual({ startM: 100, finishM: 800, isWhole: false });
    expect(timedSection([], 1000)).toEqual({ startM: 0, finishM: 1000, isWhole: true });
  });
});
