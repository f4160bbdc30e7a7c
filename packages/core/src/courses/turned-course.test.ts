import { turnedCourse } from './index.js';

const course = {
  name: 'Mill lane',
  lengthM: 1000,
  startM: 100,
  finishM: 900,
  temperatureStopsM: [300],
  path: [0, 400, 1000].map((distanceM) => ({ latitude: distanceM / 111_320, longitude: 0, distanceM })),
  gates: [
    { kind: 'start' as const, name: 'Mill', distanceM: 100 },
    { kind: 'temperature-stop' as const, name: 'Bench', distanceM: 300 },
    { kind: 'finish' as const, name: 'Ford', distanceM: 900 },
  ],
};

describe('a course ridden the other way', () => {
  it('begins where it ended, with its gates in the order they are met', () => {
    const turned = turnedCourse(course);
    expect(turned.gates.map(({ kind, name, distanceM }) => [kind, name, distanceM])).toEqual([
      ['start', 'Ford', 100],
      ['temperature-stop', 'Bench', 700],
      ['finish', 'Mill', 900],
    ]);
    expect([turned.startM, turned.finishM, turned.temperatureStopsM]).toEqual([100, 900, [700]]);
    expect(turned.path.map(({ distanceM }) => distanceM)).toEqual([0, 600, 1000]);
    expect(turned.path[0]!.latitude).toBe(course.path[2]!.latitude);
  });
  it('turned twice is as it was, and one without a length is left alone', () => {
    expect(turnedCourse(turnedCourse(course))).toEqual(course);
    const unknown = { ...course, lengthM: null };
    expect(turnedCourse(unknown)).toBe(unknown);
  });
});
