import { calibrate, forecast, trustOf } from '@ebrix/core/forecast';
import type { Course, SetupCalibration } from '@ebrix/contract';
import { answerWords, inHundred } from './answer-words.js';
import { showSpan, spanText } from './figure-text.js';
import { answerHere } from './forecast-here.js';
import { readQuestion, settled, writeQuestion } from './question.js';
import { scenarioOf, wayOf } from './to-scenario.js';

const USUAL: SetupCalibration['usual'] = {
  totalMassKg: 126,
  massIsKnown: true,
  targetSpeedKmh: 23,
  helpEndsKmh: 25,
  riderPowerW: 80,
  levels: [],
  packAh: 11.6,
  packMassKg: 3.1,
  temperatureLimitC: 95,
};
const course = (over: Partial<Course>): Course =>
  ({
    id: 'c',
    name: 'Round',
    kind: 'loop',
    lengthM: 2000,
    climbM: null,
    climbUncertaintyM: null,
    track: null,
    gates: [],
    archivedAt: null,
    ...over,
  }) as unknown as Course;
const questionOf = (search: string) => readQuestion(new URLSearchParams(search));

describe('the question in the address', () => {
  it('comes back as it went, and only what is not usual stands there', () => {
    const asked = questionOf(
      'with=a,b&on=slope&m=1500&grade=0.08&kg=150&rider=60&kmh=20&air=-5&wind=fresh&from=behind&stops=2&second=1&return=1&ah2=9&start=0.8&reserve=0.2',
    );
    expect(readQuestion(writeQuestion(asked))).toEqual(asked);
    expect(writeQuestion(questionOf('on=c')).toString()).toBe('on=c');
  });
  it('is held to what can be, and what cannot be read is as usual', () => {
    const asked = questionOf('with=a,b,c,d&kg=9999&rider=abc&wind=storm&from=above&grade=7');
    expect(asked).toMatchObject({
      totalMassKg: 400,
      riderPowerW: undefined,
      wind: 'calm',
      windFrom: 'ahead',
      grade: 0.3,
    });
    expect(asked.setups).toHaveLength(3);
    expect(settled(asked, USUAL)).toMatchObject({ riderPowerW: 80, secondAh: 11.6 });
  });
});

describe('the way', () => {
  it('of a course is its profile; without heights it is level and says so', () => {
    const way = wayOf(questionOf('on=c'), [course({})], undefined)!;
    expect(way.note).toMatch(/no heights/);
    expect(way.profile.at(-1)).toMatchObject({ distanceM: 2000, altitudeM: 0 });
  });
  it('of a slope climbs as said; of a file is what was dropped here, either way round', () => {
    expect(wayOf(questionOf('on=slope&m=800&grade=0.1'), [], undefined)!.profile.at(-1)).toMatchObject({
      distanceM: 800,
      altitudeM: 80,
    });
    expect(wayOf(questionOf('on=file'), [], undefined)).toBeUndefined();
    const dropped = {
      name: 'f',
      isRound: false,
      isByCompass: false,
      note: undefined,
      profile: [
        { distanceM: 0, altitudeM: 0 },
        { distanceM: 900, altitudeM: 30 },
      ],
    };
    expect(wayOf(questionOf('on=file&back=1'), [], dropped)!.profile).toEqual([
      { distanceM: 0, altitudeM: 30 },
      { distanceM: 900, altitudeM: 0 },
    ]);
  });
  it('goes out and home again where it is asked to', () => {
    const there = wayOf(questionOf('on=slope&m=800&grade=0.1&return=1'), [], undefined)!;
    expect(there.profile.at(-1)).toEqual({ distanceM: 1600, altitudeM: 0 });
    // The wind that was ahead on the way out is behind on the way home.
    expect(there.profile.map(({ headingDeg }) => headingDeg)).toEqual([0, 180, undefined]);
    expect(there.profile[1]).toMatchObject({ distanceM: 800, altitudeM: 80 });
    expect(there.name).toMatch(/there and back/);
  });
  it('turns the wind with the way: round a circle, there and back, straight, and by its plan where that is known', () => {
    const asked = (more: string) => questionOf(`on=c&wind=fresh${more}`);
    const headings = (kind: Course['kind'], track: Course['track'] = null, more = ''): (number | undefined)[] =>
      wayOf(asked(more), [course({ kind, track })], undefined)!.profile.map(({ headingDeg }) => headingDeg);
    const round = headings('loop');
    expect(round[0]).toBeCloseTo(0, -1);
    expect(round[Math.floor(round.length / 2)]).toBeCloseTo(180, -1);
    expect(new Set(headings('out-and-back'))).toEqual(new Set([0, 180, undefined]));
    expect(new Set(headings('climb'))).toEqual(new Set([0]));
    const plan = [
      { eastM: 0, northM: 0 },
      { eastM: 500, northM: 0 },
      { eastM: 500, northM: -1500 },
    ];
    const track = { fileName: 'x', lengthM: 2000, plan, profile: null, climbedM: null };
    const byPlan = headings('one-way', track);
    expect(byPlan[0]).toBeCloseTo(90, 6);
    expect(byPlan.at(-2)).toBeCloseTo(180, 6);
    expect(headings('one-way', track, '&back=1')[0]).toBeCloseTo(0, 6);
  });
  it('takes the wind from where it comes: as the way sets out, or by a compass where its place is known', () => {
    const plan = [
      { eastM: 0, northM: 0 },
      { eastM: 900, northM: 0 },
      { eastM: 2000, northM: 0 },
    ];
    const placed = course({
      kind: 'one-way',
      track: { fileName: 'x', lengthM: 2000, plan, profile: null, climbedM: null },
    });
    const windOf = (more: string, one = placed) => {
      const asked = questionOf(`on=c&wind=fresh${more}`);
      return scenarioOf(asked, USUAL, wayOf(asked, [one], undefined)!).wind!.fromDeg;
    };
    expect(windOf('&from=ahead')).toBeCloseTo(90, 6);
    expect(windOf('&from=left')).toBeCloseTo(0, 6);
    expect(windOf('&from=e')).toBe(90);
    // Nobody knows where north is on this one.
    expect(windOf('&from=e', course({ kind: 'climb' }))).toBe(0);
  });
  it('takes a second pack with its mass, at once or in turn', () => {
    const asked = questionOf('on=c&second=1&use2=turn');
    expect(writeQuestion(asked).get('use2')).toBe('turn');
    expect(scenarioOf(asked, USUAL, wayOf(asked, [course({})], undefined)!)).toMatchObject({
      secondPack: { capacityAh: 11.6, massKg: 3.1, use: 'in turn' },
    });
  });
});

describe('the answer', () => {
  const calibration = calibrate([], { speedLimitMps: 25 / 3.6 });
  const trust = trustOf([], {});
  const asked = questionOf('on=slope&m=2000&grade=0.02');
  const scenario = scenarioOf(asked, USUAL, wayOf(asked, [], undefined)!);
  it('says time, energy and what is left, each with its span', () => {
    const [words] = answerWords(forecast(calibration, scenario, { samples: 40 }), 2000, 0.1, 'metric');
    expect(words).toMatch(
      /^2 km in [\d.]+ (s|min) \([\d.]+ to [\d.]+\), out of the battery [\d.]+ Wh \(.*\); \d+ % \(\d+ to \d+\) of the charge is left\.$/,
    );
  });
  it('says first that it does not get there', () => {
    const steep = {
      ...scenario,
      profile: [
        { distanceM: 0, altitudeM: 0 },
        { distanceM: 5000, altitudeM: 1500 },
      ],
    };
    expect(answerWords(forecast(calibration, steep, { samples: 40 }), 5000, 0.1, 'metric')[0]).toMatch(
      /^It does not get there in .* of 100/,
    );
  });
  it('is a refusal in words where it cannot be', () => {
    const { answers } = answerHere({
      number: 1,
      samples: 5,
      setups: [{ calibration, trust, scenario: { ...scenario, profile: [scenario.profile[0]!] } }],
    });
    expect(answers[0]).toMatchObject({ refusal: expect.stringMatching(/at least two points/) });
  });
  it('shows no more digits than the span deserves, in the person’s units', () => {
    const time = { key: 'time', value: 3660.4, unit: 's', interval95: [3200, 4200] as const };
    expect(spanText(time, 'metric')).toBe('61 min (53 to 70)');
    const range = { key: 'rangeWithReserve', value: 41.3, unit: 'km', interval95: [33, 52] as const };
    expect(showSpan(range, 'imperial').unit).toBe('mi');
    expect(showSpan({ key: 'chargeLeftShare', value: 0.623, unit: '1', interval95: [0.55, 0.7] }, 'metric')).toEqual({
      value: '62',
      low: '55',
      high: '70',
      unit: '%',
    });
    expect([inHundred(0.004), inHundred(0.5), inHundred(0.999), inHundred(1)]).toEqual([
      '1',
      '50',
      'more than 99',
      '100',
    ]);
  });
});
