import { cleanLog, readLog } from '@ebrix/core/logs';
import { analyseRange } from '@ebrix/core/analysis';
import { rideDemoLog } from './demo-ride.js';
import { notebookPage } from './demo-notebook.js';
import { TRIALS } from './scenario-trials.js';
import { COURSES, OUTINGS, RIDES, SETUPS, type PlannedRide } from './scenario.js';

const figuresOf = (plan: PlannedRide, seed: number): Map<string, number> => {
  const raw = readLog(new TextEncoder().encode(rideDemoLog({ plan, seed })));
  if (!raw.ok) throw new Error(raw.problem.message);
  const log = cleanLog(raw.value);
  if (!log.ok) throw new Error(log.problem.message);
  return new Map(analyseRange(log.value).figures.map(({ key, value }) => [key, value]));
};
const plan = (setup: PlannedRide['setup'], course: PlannedRide['course'] = 'level'): PlannedRide => ({
  setup,
  course,
  outing: course === 'level' ? 'o1' : 'h1',
});

describe('the demo', () => {
  it('has seven trials, five courses, four setups and thirty rides or more, each ride of known parts', () => {
    expect([TRIALS.length, Object.keys(COURSES).length, Object.keys(SETUPS).length]).toEqual([7, 5, 4]);
    expect(RIDES.length).toBeGreaterThanOrEqual(30);
    for (const { setup, course, outing } of RIDES)
      expect([setup in SETUPS, course in COURSES, outing in OUTINGS]).toEqual([true, true, true]);
    expect(RIDES.filter(({ excludedBecause }) => excludedBecause).length).toBeGreaterThan(0);
  });

  it('has a page of a notebook: two conversions on four days, with readings as a display shows them', () => {
    const { setups, rides } = notebookPage();
    expect(setups.map(({ sketch }) => sketch!.packVoltageV)).toEqual([44, 44]);
    expect(rides).toHaveLength(8);
    for (const { readings, gauge } of rides) {
      expect(Math.round(10 * readings.tripDistanceKm!)).toBeCloseTo(10 * readings.tripDistanceKm!, 6);
      expect(readings.restVoltageEndV!).toBeLessThan(readings.restVoltageStartV!);
      expect(gauge!.end).toBeLessThanOrEqual(gauge!.start);
      expect(readings.durationS! / 60).toBeGreaterThan(40);
    }
    expect(notebookPage()).toEqual(notebookPage());
  });

  it('is the same with the same seed and another with another', () => {
    expect(rideDemoLog({ plan: plan('corvane'), seed: 1 })).toBe(rideDemoLog({ plan: plan('corvane'), seed: 1 }));
    expect(rideDemoLog({ plan: plan('corvane'), seed: 1 })).not.toBe(rideDemoLog({ plan: plan('corvane'), seed: 2 }));
  });

  it("rides the whole course at a delivery rider's pace, thirstier up the hill and with direct drive", () => {
    const level = figuresOf(plan('corvane'), 11);
    expect(level.get('distance')).toBeCloseTo(9.2, 1);
    expect(level.get('meanMovingSpeed')).toBeGreaterThan(18);
    expect(level.get('meanMovingSpeed')).toBeLessThan(25.5);
    const net = (setup: PlannedRide['setup'], course?: PlannedRide['course']): number =>
      figuresOf(plan(setup, course), 11).get('netConsumption')!;
    expect(net('corvane', 'hill')).toBeGreaterThan(net('corvane'));
    expect(net('dromel')).toBeGreaterThan(net('corvane'));
    expect(net('tyres')).toBeGreaterThan(net('corvane'));
  });

  it('carries what is to be cleaned: spikes, a gap, decimal commas', () => {
    const spiky = readLog(
      new TextEncoder().encode(rideDemoLog({ plan: { ...plan('corvane'), hasSpikes: true, hasGap: true }, seed: 5 })),
    );
    const log = spiky.ok ? cleanLog(spiky.value) : spiky;
    if (!log.ok) throw new Error(log.problem.message);
    expect(log.value.report.gaps).toHaveLength(1);
    expect(log.value.report.spikes.find(({ channel }) => channel === 'speed')!.count).toBe(5);
    expect(rideDemoLog({ plan: plan('corvane', 'hill'), seed: 5 }).split('\n')[1]).toMatch(/^0,00;/);
  });
});
