import type { Course } from '@ebrix/contract';
import { courseGpx } from '../demo/track-gpx.js';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
beforeAll(async () => ({ server, bench } = await startTestBench()));
afterAll(() => server.close());

const addCourse = async (name: string): Promise<Course> =>
  (await server.api.post('/api/courses').send({ name, kind: 'loop', surface: 'asphalt' }).expect(201)).body as Course;
const setTrack = (course: Course, bytes: string | Buffer) =>
  server.api.post(`/api/courses/${course.id}/track`).attach('file', Buffer.from(bytes), 'lap.gpx');

describe('a course', () => {
  it('takes length, plan and profile from a GPX track', async () => {
    const { track, lengthM } = (await setTrack(await addCourse('Chapel Hill'), courseGpx('hill')).expect(200))
      .body as Course;
    // The track was made 5.6 km long, 62 m up and down once.
    expect(lengthM! / 5600).toBeCloseTo(1, 2);
    expect(track!.climbedM! / 62).toBeCloseTo(1, 1);
    expect(track!.plan[0]).toEqual({ eastM: 0, northM: 0 });
    expect(Math.hypot(track!.plan.at(-1)!.eastM, track!.plan.at(-1)!.northM)).toBeLessThan(5);
    const distances = track!.profile!.map(({ distanceM }) => distanceM);
    expect(distances).toEqual([...distances].sort((a, b) => a - b));
  });

  it('says nothing of climbing where the track has no altitude', async () => {
    const flat = courseGpx('level').replaceAll(/<ele>[^<]*<\/ele>/g, '');
    const { track } = (await setTrack(await addCourse('No altitude'), flat).expect(200)).body as Course;
    expect(track).toMatchObject({ profile: null, climbedM: null });
  });

  it.each([
    ['a ride without positions', makeRideCsv(), 'no-known-column'],
    ['a GPX file with a document type', '<!DOCTYPE gpx [<!ENTITY x "y">]><gpx/>', 'doctype-refused'],
    ['an empty file', '', 'empty-file'],
  ])('refuses %s and keeps the track it had', async (what, bytes, code) => {
    const course = await addCourse(`Kept: ${what}`);
    await setTrack(course, courseGpx('level')).expect(200);
    const refused = await setTrack(course, bytes).expect(422);
    expect(refused.body.error.code).toBe(code);
    expect(((await server.api.get(`/api/courses/${course.id}`)).body as Course).track).not.toBeNull();
  });

  it('with runs is not deleted; without, it is', async () => {
    await bench.addRun(makeRideCsv({ salt: 31 }), await bench.addSetup('Rider of courses'));
    await server.api.delete(`/api/courses/${bench.course.id}`).expect(409);
    const unused = await addCourse('Never ridden');
    await server.api.delete(`/api/courses/${unused.id}`).expect(204);
    await server.api.get(`/api/courses/${unused.id}`).expect(404);
  });

  it('refuses a day that is none and weather that no one rides in', async () => {
    for (const outing of [
      { date: '2026-02-30' },
      { date: 'today' },
      { date: '2026-02-01', airTemperatureC: 80 },
      { date: '2026-02-01', relativeHumidity: 3 },
    ])
      await server.api.post('/api/outings').send(outing).expect(400);
  });
});
