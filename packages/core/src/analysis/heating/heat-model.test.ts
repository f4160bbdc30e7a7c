import { seededRandom, standardNormal } from '../../numeric/index.js';
import { settledHeatK, slowTimeConstantS, warmMotor, type MotorHeat } from '../../ride-model/motor-heat.js';
import { exampleRideModel } from '../../testing/example-ride-model.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { analyseTest, type TestContext } from '../index.js';
import { chooseHeatFit } from './choose-heat-fit.js';
import { settledOf } from './heat-behaviour.js';
import { fitHeat, jacobianOf } from './heat-model.js';
import { scatterOf } from './heat-scatter.js';

const LOADED_S = 900;
const LOGGED_S = 2700;
const AIR_C = 20;
const BODY = { heatCapacityJPerK: 1500, thermalResistanceKPerW: 0.45 };
const WINDING = { heatCapacityJPerK: 300, thermalResistanceKPerW: 0.1 };

const amps = (t: number): number => (t < LOADED_S ? 8 + 3 * Math.sin(t / 37) : 0);
const lostW = (t: number): number => 3 * amps(t);

/** Readings of a motor that loses three watts to the ampere, once a second. */
function warmed(winding: typeof WINDING | undefined, noiseK: number, seed = 4): { motor: Motor; celsius: number[] } {
  const motor: Motor = { ...exampleRideModel.motor, ...BODY, ...(winding && { winding }) };
  const random = seededRandom(seed);
  const celsius: number[] = [];
  let heat: MotorHeat = { windingC: AIR_C, bodyC: AIR_C };
  const stepS = 0.05;
  for (let k = 0; k <= LOGGED_S / stepS; k++) {
    const t = k * stepS;
    if (k % 20 === 0) celsius.push(heat.windingC + noiseK * standardNormal(random));
    heat = warmMotor(motor, heat, { copperJ: lostW(t) * stepS, ironJ: 0 }, AIR_C, stepS);
  }
  return { motor, celsius };
}
type Motor = Parameters<typeof warmMotor>[0];

function analysed({ celsius }: { celsius: readonly number[] }, ambientC = AIR_C) {
  const log = logOfColumns(LOGGED_S, 1, {
    'voltage (V)': () => 48,
    'current (A)': amps,
    'motor temperature (°C)': (t) => celsius[Math.round(t)]!,
  });
  const { figures } = analyseTest('heating', log, { ambientC });
  return new Map(figures.map((figure) => [figure.key, figure]));
}
const holds = ({ interval95: [lower, upper] }: { interval95: readonly [number, number] }, truth: number): boolean =>
  lower <= truth && truth <= upper;
const powerLoad = (values: number[]) => ({ name: 'power' as const, values, bare: values, isCopper: false });
const nodesOf = (riseK: readonly number[], loadW: (t: number) => number = lostW): number => {
  const timeS = riseK.map((_, k) => k);
  const loads = [powerLoad(timeS.map(loadW))];
  return chooseHeatFit({ timeS, riseK, loads })!.model.timeConstantsS.length;
};

describe('a motor of two nodes', () => {
  it('settles where the network says, and cools at its smaller eigenvalue', () => {
    const { motor } = warmed(WINDING, 0);
    const settled = settledHeatK(motor, 40, 10);
    let heat: MotorHeat = { windingC: 0, bodyC: 0 };
    for (let t = 0; t < 20_000; t++) heat = warmMotor(motor, heat, { copperJ: 40, ironJ: 10 }, 0, 1);
    expect(heat.windingC).toBeCloseTo(settled.windingK, 6);
    expect(heat.bodyC).toBeCloseTo(settled.bodyK, 6);
    const cooled: number[] = [];
    for (let k = 0; k <= 20_000; k++) {
      if (k % 10_000 === 0) cooled.push(heat.windingC);
      heat = warmMotor(motor, heat, { copperJ: 0, ironJ: 0 }, 0, 0.1);
    }
    expect(1000 / Math.log(cooled[1]! / cooled[2]!)).toBeCloseTo(slowTimeConstantS(motor), 0);
  });
  it('is one of R·C where it has no winding of its own', () =>
    expect(slowTimeConstantS(warmed(undefined, 0).motor)).toBe(1500 * 0.45));
});

describe('how many nodes a curve shows', () => {
  it.each([0.05, 0.2, 0.5])('one, of a motor that warms as a whole, with %s K of noise', (noiseK) => {
    for (const seed of [1, 2, 3])
      expect(nodesOf(warmed(undefined, noiseK, seed).celsius.map((value) => value - AIR_C))).toBe(1);
  });
  it('two, of a winding that runs ahead of its body', () => {
    expect(nodesOf(warmed(WINDING, 0.2).celsius.map((value) => value - AIR_C))).toBe(2);
  });
  it('one again where the noise hides the winding', () => {
    const small = { heatCapacityJPerK: 300, thermalResistanceKPerW: 0.004 };
    expect(nodesOf(warmed(small, 0.5).celsius.map((value) => value - AIR_C))).toBe(1);
  });
});

describe('figures of a warmed motor', () => {
  it.each([
    ['one node', undefined],
    ['two nodes', WINDING],
  ])('of %s hold what it is made of', (_, winding) => {
    const ridden = warmed(winding, 0.2);
    const found = analysed(ridden);
    const truth = slowTimeConstantS(ridden.motor);
    expect(holds(found.get('timeConstant')!, truth)).toBe(true);
    expect(Math.abs(found.get('timeConstant')!.value / truth - 1)).toBeLessThan(0.03);
    const settled = settledHeatK(ridden.motor, meanOf(lostW), 0);
    expect(holds(found.get('riseAtLoad')!, settled.windingK)).toBe(true);
    expect(found.get('timeConstant')!.derivation.substituted.includes('quicker node')).toBe(winding !== undefined);
  });
  it('a winding cools to half sooner than its body alone would', () => {
    const found = analysed(warmed(WINDING, 0.1));
    expect(found.get('coolingHalfLife')!.value).toBeLessThan(Math.LN2 * found.get('timeConstant')!.value);
  });
  it('an air noted one degree wrong moves the time constant within its interval', () => {
    const ridden = warmed(undefined, 0.1);
    for (const noted of [AIR_C - 1, AIR_C + 1])
      expect(holds(analysed(ridden, noted).get('timeConstant')!, slowTimeConstantS(ridden.motor))).toBe(true);
  });
});

describe('a log that shows less than a whole soak', () => {
  const analyse = (columns: Record<string, (t: number) => number>, context: TestContext = {}) => {
    const random = seededRandom(5);
    const { 'motor temperature (°C)': celsius, ...rest } = columns;
    const log = logOfColumns(1800, 1, {
      'motor temperature (°C)': (t) => celsius!(t) + 0.1 * standardNormal(random),
      ...rest,
    });
    const { figures, warnings } = analyseTest('heating', log, { ambientC: AIR_C, temperatureLimitC: 90, ...context });
    return { of: new Map(figures.map((figure) => [figure.key, figure])), codes: warnings.map(({ code }) => code) };
  };
  const cooling = (t: number): number => AIR_C + 40 * Math.exp(-t / 700);
  it.each([
    ['without a current', {}],
    ['with a current that is none', { 'voltage (V)': () => 50, 'current (A)': () => 0 }],
  ])('the cooling alone tells time constant and half-life, and nothing of a load: %s', (_, more) => {
    const { of, codes } = analyse({ 'motor temperature (°C)': cooling, ...more });
    expect(holds(of.get('timeConstant')!, 700)).toBe(true);
    expect(Math.abs(of.get('timeConstant')!.value / 700 - 1)).toBeLessThan(0.02);
    expect(holds(of.get('coolingHalfLife')!, 700 * Math.LN2)).toBe(true);
    expect(codes).toContain('only-cooling');
    for (const key of ['riseAtLoad', 'headroom', 'timeToLimit', 'continuousLoad']) expect(of.has(key)).toBe(false);
  });
  it('a temperature that rises with no current in the log is refused', () => {
    const { of, codes } = analyse({ 'motor temperature (°C)': (t) => AIR_C + t / 60 });
    expect([codes, of.size]).toEqual([expect.arrayContaining(['no-load']), expect.any(Number)]);
    expect(of.has('timeConstant')).toBe(false);
  });
  it('a load under which the motor grows cooler gives no rise at a load', () => {
    const { of, codes } = analyse({
      'motor temperature (°C)': (t) => (t < 900 ? AIR_C + 30 - t / 40 : AIR_C + 7.5 + (t - 900) / 40),
      'voltage (V)': () => 50,
      'current (A)': (t) => (t < 900 ? 8 : 0),
    });
    expect(of.has('riseAtLoad') && of.get('riseAtLoad')!.value < 0).toBe(false);
    expect(codes.some((code) => ['no-time-constant', 'only-cooling'].includes(code))).toBe(true);
  });
  it('a limit below the air is said, and has no load that could be held', () => {
    const { of, codes } = (() => {
      const ridden = warmed(undefined, 0.1);
      return analyse(
        {
          'motor temperature (°C)': (t) => ridden.celsius[Math.round(t)]!,
          'voltage (V)': () => 48,
          'current (A)': amps,
        },
        { temperatureLimitC: 15 },
      );
    })();
    expect(codes).toContain('limit-below-air');
    expect(of.get('headroom')!.value).toBeLessThan(0);
    expect(of.has('continuousLoad')).toBe(false);
  });
});

describe('the fitted curve', () => {
  const { celsius } = warmed(undefined, 0.1);
  const readings = (unit: number) => ({
    timeS: celsius.map((_, k) => k),
    riseK: celsius.map((value) => value - AIR_C),
    loads: [powerLoad(celsius.map((_, k) => unit * lostW(k)))],
    airWeight: 0.01,
  });
  it('does not depend on the unit of its load', () => {
    const [watts, kilowatts] = [fitHeat(readings(1), 1)!, fitHeat(readings(1e-3), 1)!];
    expect(kilowatts.model.timeConstantsS[0]! / watts.model.timeConstantsS[0]!).toBeCloseTo(1, 6);
    expect(settledOf(kilowatts.model, [0.02])[0]! / settledOf(watts.model, [20])[0]!).toBeCloseTo(1, 6);
    expect(kilowatts.squares / watts.squares).toBeCloseTo(1, 6);
  });
  it('tells a figure of a parameter with the error of that parameter, and of a constant with none', () => {
    const scatter = scatterOf(fitHeat(readings(1), 1)!)!;
    const error = scatter.errorOf(({ timeConstantsS }) => timeConstantsS[0]!);
    expect(error).toBeGreaterThan(0);
    expect(scatter.errorOf(({ timeConstantsS }) => 2 * timeConstantsS[0]!)).toBeCloseTo(2 * error, 6);
    expect(scatter.errorOf(() => 7)).toBe(0);
    expect(Math.abs(scatter.residualK - 0.1)).toBeLessThan(0.01);
  });
  it('is none where no load is told from none', () =>
    expect(fitHeat({ ...readings(0), airWeight: 1 }, 1)).toBeUndefined());
});

function meanOf(f: (t: number) => number): number {
  let sum = 0;
  for (let t = 0; t < LOADED_S; t++) sum += f(t) / LOADED_S;
  return sum;
}

it.each([0, 0.6])('the curve changes with its time constants as the derivatives say, wind share %d', (windShare) => {
  const { celsius } = warmed(WINDING, 0.1);
  const timeS = celsius.map((_, k) => k);
  const readings = {
    timeS,
    riseK: celsius.map((c) => c - AIR_C),
    loads: [powerLoad(timeS.map(lostW)), powerLoad(timeS.map((t) => lostW(t) ** 2))],
    airWeight: 0.01,
    pace: timeS.map((t) => (t < LOADED_S ? 1 + 0.3 * Math.sin(t / 80) : 0)),
    windShare,
  };
  const fit = fitHeat(readings, 2, [90, 900])!;
  const { model } = fit;
  /** By the definition, step by step: a load that is straight between points. */
  const curve = (taus: readonly number[]): number[] => {
    const rises = [...model.startsK];
    return timeS.map((t, k) => {
      if (k > 0)
        rises.forEach((rise, node) => {
          const pace = (readings.pace[k]! + readings.pace[k - 1]!) / 2;
          const tau = taus[node]! / Math.max(0.05, 1 + windShare * (pace - 1));
          const decay = Math.exp(-(t - timeS[k - 1]!) / tau);
          const mean = readings.loads.reduce(
            (sum, { values }, j) => sum + (model.gains[j]![node]! * (values[k]! + values[k - 1]!)) / 2,
            0,
          );
          rises[node] = rise * decay + tau * (1 - decay) * mean;
        });
      return rises[0]! + rises[1]! + model.airOffsetK;
    });
  };
  const at = curve(model.timeConstantsS);
  fit.residuals.forEach((residual, k) => expect(readings.riseK[k]! - residual).toBeCloseTo(at[k]!, 6));
  const columns = jacobianOf(fit);
  const step = 1e-4;
  for (const node of [0, 1]) {
    const moved = (by: number) => curve(model.timeConstantsS.map((tau, j) => (j === node ? tau * Math.exp(by) : tau)));
    const [above, below] = [moved(step), moved(-step)];
    for (const k of [1, 50, 899, 900, 1500, 2700])
      expect(columns[node]![k]).toBeCloseTo((above[k]! - below[k]!) / (2 * step), 4);
  }
});
