import { seededRandom, standardNormal } from '../../numeric/index.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import { analyseTest, type TestContext } from '../index.js';

const SPEED_MPS = 4;
const START_M = 80;
const FINISH_M = 680;
const MASS_KG = 100;
const GRADE = 0.06;
const WATTS = 400;
const course = { lengthM: 800, startM: START_M, finishM: FINISH_M, isWhole: false, isLoop: false };
const CONTEXT: TestContext = { course, totalMassKg: MASS_KG, cdaM2: 0.6, crr: 0.008, airDensity: 1.2, windMps: 0 };

/** Up an even slope at an even pace, 5 readings a second; the altitude wavers by 0.3 m. */
function climbed(
  more: Record<string, (t: number) => number> = {},
  { context = CONTEXT, altitude = (metres: number) => GRADE * metres } = {},
) {
  const random = seededRandom(6);
  const log = logOfColumns(200, 5, {
    'speed (km/h)': () => 3.6 * SPEED_MPS,
    'distance (m)': (t) => SPEED_MPS * t,
    'altitude (m)': (t) => 50 + altitude(SPEED_MPS * t) + 0.3 * standardNormal(random),
    'voltage (V)': () => 50,
    'current (A)': () => WATTS / 50,
    ...more,
  });
  const { figures, warnings, charts } = analyseTest('hill-climb', log, context);
  return {
    of: (key: string) => figures.find((figure) => figure.key === key),
    codes: warnings.map(({ code }) => code),
    charts: charts.map(({ key }) => key),
  };
}

describe('a climb between its gates', () => {
  const way = FINISH_M - START_M;
  const seconds = way / SPEED_MPS;
  const gain = GRADE * way;
  const hours = seconds / 3600;
  const useful = MASS_KG * STANDARD_GRAVITY_MPS2 * (gain + 0.008 * way) + 0.5 * 1.2 * 0.6 * SPEED_MPS ** 2 * way;
  it.each([
    ['climbTime', seconds, 's'],
    ['meanSpeed', 3.6 * SPEED_MPS, 'km/h'],
    ['minSpeed', 3.6 * SPEED_MPS, 'km/h'],
    ['gain', gain, 'm'],
    ['meanGrade', 100 * GRADE, '%'],
    ['maxGrade', 100 * GRADE, '%'],
    ['verticalSpeed', gain / hours, 'm/h'],
    ['energyOut', WATTS * hours, 'Wh'],
    ['energyPer100m', (100 * WATTS * hours) / gain, 'Wh'],
    ['meanPower', WATTS, 'W'],
    ['peakCurrent', WATTS / 50, 'A'],
    ['driveEfficiency', useful / (WATTS * seconds), '1'],
  ])('%s', (key, truth, unit) => {
    const figure = climbed().of(key)!;
    expect(figure.unit).toBe(unit);
    expect(figure.interval95[0]).toBeLessThanOrEqual(truth);
    expect(figure.interval95[1]).toBeGreaterThanOrEqual(truth);
    expect(Math.abs(figure.value / truth - 1)).toBeLessThan(0.06);
  });
  it('a wind of which nobody knows the side widens the drive efficiency and lies between ahead and behind', () => {
    const at = (context: Partial<TestContext>) =>
      climbed({}, { context: { ...CONTEXT, ...context } }).of('driveEfficiency')!;
    const calm = at({});
    const unsided = at({ windMps: 4, windIsUnsided: true });
    expect(unsided.value).toBeCloseTo((at({ windMps: 4 }).value + at({ windMps: -4 }).value) / 2, 9);
    expect(unsided.standardUncertainty).toBeGreaterThan(1.05 * calm.standardUncertainty);
    // From half ahead to half behind lies within it; with the wind taken from ahead it would not.
    for (const windMps of [2.8, -2.8]) {
      const truth = at({ windMps }).value;
      expect(unsided.interval95[0]).toBeLessThanOrEqual(truth);
      expect(unsided.interval95[1]).toBeGreaterThanOrEqual(truth);
    }
  });
  it('takes what the rider gave out of the efficiency', () => {
    const helped = climbed({ 'rider power (W)': () => 100 });
    const work = helped.of('riderWork')!;
    expect(Math.abs(work.value / ((100 * seconds) / 3600) - 1)).toBeLessThan(0.02);
    const without = climbed().of('driveEfficiency')!.value;
    expect(Math.abs(helped.of('driveEfficiency')!.value - (without - 100 / WATTS))).toBeLessThan(0.01);
  });
  it('finds the steepest fifty metres', () => {
    const steep = (metres: number): number => GRADE * metres + 0.06 * Math.min(100, Math.max(0, metres - 300));
    const figure = climbed({}, { altitude: steep }).of('maxGrade')!;
    expect(Math.abs(figure.value - 12)).toBeLessThan(1);
  });
  it('says where it stalled', () => {
    const at = (t: number): number => (t > 90 && t < 110 ? 0.5 : SPEED_MPS);
    let metres = 0;
    const stalled = climbed({
      'speed (km/h)': (t) => 3.6 * at(t),
      'distance (m)': (t) => (metres += at(t) / 5),
    });
    expect(stalled.codes).toContain('stalled');
    expect(climbed().codes).not.toContain('stalled');
  });
  it('has its warming and heart rate where they were logged', () => {
    const { of } = climbed({ 'motor temperature (°C)': (t) => 30 + t / 10, 'heart rate (bpm)': () => 140 });
    expect(Math.abs(of('motorTemperatureRise')!.value - seconds / 10)).toBeLessThan(1);
    expect(Math.abs(of('meanHeartRate')!.value - 140)).toBeLessThan(0.5);
  });
  it('gives no figure that its channels cannot carry', () => {
    const flat = logOfColumns(200, 5, { 'speed (km/h)': () => 3.6 * SPEED_MPS, 'distance (m)': (t) => SPEED_MPS * t });
    const { figures, warnings } = analyseTest('hill-climb', flat, CONTEXT);
    const keys = figures.map(({ key }) => key);
    expect(keys).toEqual(expect.arrayContaining(['climbTime', 'meanSpeed']));
    for (const key of ['gain', 'energyPer100m', 'driveEfficiency', 'meanPower']) expect(keys).not.toContain(key);
    expect(warnings.length).toBeGreaterThan(0);
  });
});
