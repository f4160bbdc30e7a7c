import { cleanLog, readLog, type CleanLog } from '../logs/index.js';
import { seededRandom, standardNormal } from '../numeric/index.js';
import { phoneLogOf } from '../testing/phone-log.js';
import { analyseTest, cutAtGates, type CourseKnowledge } from './index.js';

const DEGREE = 111_320;
const logOf = (csv: string): CleanLog => {
  const raw = readLog(new TextEncoder().encode(csv));
  if (!raw.ok) throw new Error(raw.problem.message);
  const clean = cleanLog(raw.value);
  if (!clean.ok) throw new Error(clean.problem.message);
  return clean.value;
};
/** To the north, from so far north of where the log begins. */
const straight = (fromM: number, lengthM: number): NonNullable<CourseKnowledge['path']> =>
  [0, 0.3, 1].map((share) => ({
    latitude: (fromM + share * lengthM) / DEGREE,
    longitude: 0,
    distanceM: share * lengthM,
  }));
const course = (fromM: number): CourseKnowledge => ({
  lengthM: 1000,
  startM: 100,
  finishM: 900,
  isWhole: false,
  isLoop: false,
  path: straight(fromM, 1000),
});
const seconds = ({ log }: { log: CleanLog }): number => log.timeS.at(-1)! - log.timeS[0]!;

/** What a 10 Hz logger with a wheel sensor and a receiver writes of a way given by place and time. */
function loggerCsv(
  until: number,
  at: (t: number) => { eastM: number; northM: number; wayM: number } | undefined,
  seed: number,
): string {
  const random = seededRandom(seed);
  let [east, north] = [2 * standardNormal(random), 2 * standardNormal(random)];
  const rows = ['time (s),distance (m),latitude (deg),longitude (deg)'];
  for (let k = 0; k <= 10 * until; k++) {
    const place = at(k / 10);
    if (!place) continue;
    const isFix = k % 10 === 0;
    if (isFix) {
      east = 0.95 * east + 0.6 * standardNormal(random);
      north = 0.95 * north + 0.6 * standardNormal(random);
    }
    const fix = isFix ? [(place.northM + north) / DEGREE, (place.eastM + east) / DEGREE] : ['', ''];
    rows.push([(k / 10).toFixed(1), (1.004 * place.wayM).toFixed(2), ...fix].join(','));
  }
  return [...rows, ''].join('\n');
}
const northward = (m: number) => ({ eastM: 0, northM: m, wayM: m });

describe('the gates of a course, met by positions', () => {
  it('are found by a climb that is come up to, within what the climb time states', () => {
    let held = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const random = seededRandom(seed);
      const [v, beforeM] = [3.5 + 3 * random(), 900 * random()];
      const { csv } = phoneLogOf(
        { seconds: (beforeM + 1050) / v, mps: (t) => Math.min(v, t), grade: () => 0.05 },
        seed,
      );
      const { figures, warnings } = analyseTest('hill-climb', logOf(csv), { course: course(beforeM) });
      expect(warnings.map(({ code }) => code)).not.toContain('gates-not-reached');
      const time = figures.find(({ key }) => key === 'climbTime')!;
      if (time.interval95[0] <= 800 / v && 800 / v <= time.interval95[1]) held++;
      expect(time.standardUncertainty).toBeLessThan(8 / v);
    }
    expect(held).toBeGreaterThanOrEqual(36);
  });

  it('are the edges of a log that was begun and ended at them, by a phone or a receiver without a wheel', () => {
    let held = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const v = 3.5 + 3 * seededRandom(seed)();
      const { csv } = phoneLogOf({ seconds: 1000 / v, mps: () => v, grade: () => 0.05 }, seed);
      const whole = { ...course(0), startM: 0, finishM: 990 };
      // Of every second ride the places alone.
      const places = csv.split('\n').map((row) =>
        row
          .split(',')
          .filter((_, k) => ![1, 2].includes(k))
          .join(','),
      );
      const { figures, warnings } = analyseTest('hill-climb', logOf(seed % 2 ? csv : places.join('\n')), {
        course: whole,
      });
      expect(warnings.map(({ code }) => code)).not.toContain('gates-not-reached');
      const time = figures.find(({ key }) => key === 'climbTime')!;
      if (time.interval95[0] <= 990 / v && 990 / v <= time.interval95[1]) held++;
    }
    expect(held).toBeGreaterThanOrEqual(36);
  });

  it('are those of the try that got to the top, after one that was broken off', () => {
    const v = 5;
    // Up 400 m, back down below the start gate, and up all the way.
    const place = (t: number): number => (t < 100 ? v * t : t < 180 ? 500 - v * (t - 100) : 100 + v * (t - 180));
    const log = logOf(loggerCsv(380, (t) => ({ eastM: 0, northM: place(t), wayM: v * t }), 3));
    const cut = cutAtGates(log, course(50));
    expect(cut).toMatchObject({ state: 'cut', byPositionM: 4 });
    expect(cut.log.timeS[0]).toBeCloseTo(190, -1);
    expect(Math.abs(cut.log.timeS[0]! - 190)).toBeLessThan(2);
    expect(Math.abs(seconds(cut) - 160)).toBeLessThan(2);
  });

  it('are left when the bike moves, where it stood at the line', () => {
    for (const offM of [-2, 0, 2]) {
      const log = logOf(loggerCsv(300, (t) => northward(t < 20 ? 5 * t : t < 80 ? 100 : 100 + 5 * (t - 80)), 11));
      const cut = cutAtGates(log, { ...course(0), startM: 100 + offM });
      expect(Math.abs(cut.log.timeS[0]! - 80)).toBeLessThan(3);
    }
  });

  it('of a round are those of whole laps, wherever along it the ride began', () => {
    const [radiusM, v] = [300, 6];
    const lengthM = 2 * Math.PI * radiusM;
    const on = (m: number) => ({
      eastM: radiusM * Math.sin(m / radiusM),
      northM: radiusM * Math.cos(m / radiusM),
    });
    const path = Array.from({ length: 201 }, (_, k) => (k * lengthM) / 200).map((distanceM) => ({
      latitude: on(distanceM).northM / DEGREE,
      longitude: on(distanceM).eastM / DEGREE,
      distanceM,
    }));
    const round: CourseKnowledge = { lengthM, startM: 200, finishM: 1700, isWhole: false, isLoop: true, path };
    const ridden = (fromM: number, toM: number) =>
      cutAtGates(logOf(loggerCsv((toM - fromM) / v, (t) => ({ ...on(fromM + v * t), wayM: v * t }), 5)), round);
    // From before the start, two laps and a bit.
    expect(Math.abs(seconds(ridden(50, 2.2 * lengthM)) - (lengthM + 1500) / v)).toBeLessThan(1.5);
    // From the middle of one lap to the middle of the third: one lap that is whole.
    expect(Math.abs(seconds(ridden(900, 2.4 * lengthM)) - 1500 / v)).toBeLessThan(1.5);
    expect(ridden(900, lengthM + 800).state).toBe('not-reached');
    // In the second lap a minute and a half away from it: that is part of the ride, and the lap goes on.
    const [leftS, backS] = [(1.5 * lengthM) / v, (1.5 * lengthM) / v + 90];
    const broken = cutAtGates(
      logOf(
        loggerCsv(
          (2.2 * lengthM) / v + 90,
          (t) =>
            t < leftS
              ? { ...on(v * t), wayM: v * t }
              : t < backS
                ? { eastM: 900, northM: -900, wayM: v * leftS }
                : { ...on(v * (t - 90)), wayM: v * (t - 90) },
          5,
        ),
      ),
      round,
    );
    expect(Math.abs(seconds(broken) - (lengthM + 1500) / v - 90)).toBeLessThan(1.5);
  });

  it('are counted on by the wheel where the receiver came late, and not where the ride came from elsewhere', () => {
    const late = (from: number) => {
      const csv = loggerCsv(200, (t) => northward(5 * t), 7);
      return csv
        .split('\n')
        .map((row, k) => (k > 0 && k < from ? row.split(',').slice(0, 2).concat('', '').join(',') : row))
        .join('\n');
    };
    const cut = cutAtGates(logOf(late(500)), course(0));
    expect(cut).toMatchObject({ state: 'cut', byPositionM: 4 });
    expect(Math.abs(cut.log.timeS[0]! - 20)).toBeLessThan(1.5);
    // From a side way on to the course behind its start gate.
    const side = logOf(
      loggerCsv(
        200,
        (t) =>
          t < 60
            ? { eastM: 300 - 5 * t, northM: 400, wayM: 5 * t }
            : { eastM: 0, northM: 400 + 5 * (t - 60), wayM: 5 * t },
        7,
      ),
    );
    expect(cutAtGates(side, course(0)).state).toBe('not-reached');
  });

  it('are kept by a part that was cut out of a longer log just there', () => {
    const log = logOf(loggerCsv(200, (t) => northward(5 * t), 9));
    const { figures } = analyseTest('hill-climb', log, { course: course(0), logSpan: { fromS: 20.8, toS: 179.4 } });
    expect(figures.find(({ key }) => key === 'climbTime')!.value).toBeCloseTo(158.6, 0);
  });

  it('are taken by the distance where the positions lie elsewhere, and that is said', () => {
    const log = logOf(loggerCsv(250, (t) => ({ eastM: 5000, northM: 5 * t, wayM: 5 * t }), 9));
    const { warnings } = analyseTest('range', log, { course: course(0) });
    expect(warnings.map(({ code }) => code)).toContain('positions-elsewhere');
    expect(cutAtGates(log, course(0))).toMatchObject({ state: 'cut', isElsewhere: true });
  });
});
