import { cleanLog, readLog, type CleanLog } from '../logs/index.js';
import { analyseTest, cutAtGates } from './index.js';

/** 5 m/s for 600 s at 2 A and 50 V, rising 4 %. */
const log = (() => {
  const rows = Array.from({ length: 601 }, (_, k) => [k, 18, 5 * k, 50, 2, 100 + 0.2 * k, 20 + k / 20].join(','));
  const text = [
    'time (s),speed (km/h),distance (m),voltage (V),current (A),altitude (m),motor temperature (°C)',
    ...rows,
    '',
  ].join('\n');
  const raw = readLog(new TextEncoder().encode(text));
  if (!raw.ok) throw new Error(raw.problem.message);
  const clean = cleanLog(raw.value);
  if (!clean.ok) throw new Error(clean.problem.message);
  return clean.value;
})();
const course = { lengthM: 3000, startM: 500, finishM: 2500, isWhole: false, isLoop: false };

describe('a log cut at the gates of its course', () => {
  it('keeps the timed part and the clock', () => {
    const cut = cutAtGates(log, course);
    expect(cut.state).toBe('cut');
    expect([cut.log.timeS[0], cut.log.timeS.at(-1)]).toEqual([100, 500]);
    expect(cut.log.channels.speed).toHaveLength(401);
  });
  it('counts whole laps of a loop', () => {
    const cut = cutAtGates(log, { ...course, lengthM: 1000, startM: 200, finishM: 700, isLoop: true });
    expect(cut.log.timeS.at(-1)).toBe(540);
  });
  it('leaves a ride that never reached the finish whole, and says so', () => {
    expect(cutAtGates(log, { ...course, finishM: 3500 }).state).toBe('not-reached');
    const { warnings } = analyseTest('range', log, { course: { ...course, finishM: 3500 } });
    expect(warnings.map(({ code }) => code)).toContain('gates-not-reached');
  });
  it('asks about the course where nearly all was ridden beyond its gates', () => {
    const far = cutAtGates(log, course).riddenM!;
    expect([far.between, far.beyond]).toEqual([2000, 1000]);
    const codes = (own: CleanLog, finishM: number) =>
      analyseTest('hill-climb', own, { course: { ...course, startM: 0, finishM } }).warnings.map(({ code }) => code);
    // Ten times as far in the same time: 27 km beyond a climb of three.
    const long = { ...log, channels: { ...log.channels, distance: log.channels.distance!.map((d) => 10 * d) } };
    expect(codes(long, 3000)).toContain('much-beyond-gates');
    expect(codes(long, 6000)).not.toContain('much-beyond-gates');
    expect(codes(log, 100)).not.toContain('much-beyond-gates');
  });
  it('gives the figures of a climb between its gates', () => {
    const { figures } = analyseTest('hill-climb', log, { course: { ...course, gainM: 80, gainUncertaintyM: 1 } });
    const value = (key: string) => figures.find((figure) => figure.key === key)!.value;
    expect(value('climbTime')).toBe(400);
    expect(value('meanSpeed')).toBeCloseTo(18, 6);
    expect(value('meanGrade')).toBeCloseTo(4, 6);
    expect(value('verticalSpeed')).toBeCloseTo(720, 6);
    // 100 W for 400 s are 11.11 Wh for 80 m.
    expect(value('energyPer100m')).toBeCloseTo(13.89, 2);
    const withoutCourseProfile = analyseTest('hill-climb', log, { course });
    expect(withoutCourseProfile.figures.find(({ key }) => key === 'gain')!.value).toBeCloseTo(80, 0);
  });
});
