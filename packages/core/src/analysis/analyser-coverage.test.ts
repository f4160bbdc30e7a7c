import { cleanLog, readLog, type CleanLog } from '../logs/index.js';
import { seededRandom, type Random } from '../numeric/index.js';
import { analyseLog, DEFAULT_INSTRUMENT, type Figure, type TestKind, type TestContext } from './index.js';

/** Simulations from closed forms, apart from the ride model and from the analysers' own equations of fit. */
type Column = readonly [head: string, values: readonly number[], decimals: number];

function open(columns: readonly Column[]): CleanLog {
  const rows = columns[0]![1].map((_, k) =>
    columns.map(([, values, decimals]) => values[k]!.toFixed(decimals)).join(','),
  );
  const raw = readLog(new TextEncoder().encode([columns.map(([head]) => head).join(','), ...rows].join('\n')));
  const clean = raw.ok ? cleanLog(raw.value) : raw;
  if (!clean.ok) throw new Error(clean.problem.message);
  return clean.value;
}
function normal(random: Random): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}
function figuresOf(kind: TestKind, columns: readonly Column[], context: TestContext): Map<string, Figure> {
  const { figures } = analyseLog(kind, open(columns), context, () => undefined);
  return new Map(figures.map((figure) => [figure.key, figure]));
}
/** How often the stated intervals held the truth, by figure; a figure that is missing did not hold it. */
function coverage(
  trials: number,
  simulate: (random: Random) => { figures: Map<string, Figure>; truth: Readonly<Record<string, number>> },
): Record<string, number> {
  const random = seededRandom(4711);
  const held: Record<string, number> = {};
  for (let k = 0; k < trials; k++) {
    const { figures, truth } = simulate(random);
    for (const [key, value] of Object.entries(truth)) {
      const [low, high] = figures.get(key)?.interval95 ?? [NaN, NaN];
      held[key] = (held[key] ?? 0) + (low <= value && value <= high ? 1 / trials : 0);
    }
  }
  return held;
}
const between = (random: Random, low: number, high: number): number => low + (high - low) * random();
/** A gain that lies anywhere within its limit. */
const within = (random: Random, limit: number): number => between(random, 1 - limit, 1 + limit);
const range = (count: number): number[] => Array.from({ length: count }, (_, k) => k);
const TRIALS = 80;
/** 19 in 20 less three standard errors of 80 tries. */
const MIN_HELD = 0.95 - 3 * Math.sqrt((0.95 * 0.05) / TRIALS);

/** A pack of U₀ − R·I − s·q under a staircase of loads with rests, by a logger of limited gains. */
function packSteps(random: Random, noiseV = 0.02) {
  const openV = between(random, 36, 54);
  const ohm = between(random, 0.06, 0.3);
  const fallVPerAh = between(random, 0.2, 0.8);
  const [gainV, gainI] = [
    within(random, DEFAULT_INSTRUMENT.voltageGain),
    within(random, DEFAULT_INSTRUMENT.currentGain),
  ];
  const timeS = range(600);
  const amperes = timeS.map((t) => [0, 4, 0, 9, 0, 14][Math.floor(t / 20) % 6]!);
  let chargeAh = 0;
  const volts = amperes.map((i) => {
    chargeAh += i / 3600;
    return openV - ohm * i - fallVPerAh * chargeAh + noiseV * normal(random);
  });
  const columns: Column[] = [
    ['time (s)', timeS, 0],
    ['voltage (V)', volts.map((v) => v * gainV), 2],
    ['current (A)', amperes.map((i) => i * gainI), 2],
  ];
  return { columns, truth: { openCircuitVoltage: openV, internalResistance: ohm } };
}

/** A hub of one thermal mass: it warms under a constant loss and cools in the same air; a thermometer of a limited error. */
function hubWarming(random: Random) {
  const [airC, timeConstantS] = [between(random, 0, 28), between(random, 500, 1500)];
  const endK = between(random, 45, 80);
  const [warmS, coolS] = [2.2 * timeConstantS, 1.5 * timeConstantS];
  const timeS = range(Math.floor((warmS + coolS) / 12)).map((k) => 12 * k);
  const topK = endK * (1 - Math.exp(-warmS / timeConstantS));
  const temperature = timeS.map((t) =>
    t < warmS ? airC + endK * (1 - Math.exp(-t / timeConstantS)) : airC + topK * Math.exp(-(t - warmS) / timeConstantS),
  );
  const columns: Column[] = [
    ['time (s)', timeS, 0],
    ['voltage (V)', timeS.map(() => 48), 2],
    ['current (A)', timeS.map((t) => (t < warmS ? 12 : 0)), 2],
    ['motor temperature (°C)', temperature.map((c) => c + 0.25 * normal(random)), 1],
  ];
  return { columns, airC, truth: { timeConstant: timeConstantS, peakTemperature: Math.max(...temperature) } };
}

/** Coasts from 9 m/s both ways, from v' = −(a + b·(v ± w)²) in steps of a millisecond; `mirrored` has them begin the other way. */
function coasting(random: Random, noiseMps = 0.02) {
  const [massKg, density] = [between(random, 85, 130), between(random, 1.12, 1.3)];
  const truth = { cda: between(random, 0.45, 0.75), crr: between(random, 0.005, 0.012) };
  const [slope, windMps] = [between(random, -0.002, 0.002), between(random, -1.5, 1.5)];
  const speed: number[] = [];
  const amperes: number[] = [];
  const perSample = 200;
  for (const direction of [1, -1, 1, -1]) {
    // Driven up to speed, then let roll.
    for (let k = 0; k < 75; k++) {
      speed.push((9 * k) / 75);
      amperes.push(12);
    }
    let v = 9;
    for (let k = 0; k < 40 * 5 && v > 2; k++) {
      speed.push(v);
      amperes.push(0);
      for (let j = 0; j < perSample; j++) {
        const air = v + direction * windMps;
        const drag = (0.5 * density * truth.cda * air * Math.abs(air)) / massKg;
        v -= (0.2 / perSample) * ((drag + 9.80665 * (truth.crr + direction * slope)) / 1.02);
      }
    }
  }
  const columns: Column[] = [
    ['time (s)', speed.map((_, k) => k / 5), 1],
    ['speed (km/h)', speed.map((v) => Math.max(0, v + noiseMps * normal(random)) * 3.6), 3],
    ['voltage (V)', speed.map(() => 48), 2],
    ['current (A)', amperes, 2],
  ];
  const context: TestContext = {
    totalMassKg: massKg,
    airDensity: density,
    rotatingMassFactor: 1.02,
    directions: [1, -1, 1, -1],
  };
  return { columns, context, truth: { ...truth, slope, wind: windMps } };
}

/** Passes there and back at the speed that wind leaves, with gusts that last a few seconds. */
function passes(random: Random) {
  const [stillKmh, windKmh] = [between(random, 24, 38), between(random, 0, 4)];
  const speed: number[] = [];
  for (const direction of [1, -1, 1, -1]) {
    const top = stillKmh - direction * windKmh + 0.05 * normal(random);
    let gust = 0;
    for (let k = 0; k < 300; k++) {
      gust = 0.95 * gust + 0.02 * normal(random);
      const t = k / 5;
      const rising = Math.min(1, t / 12) * Math.min(1, (60 - t) / 6);
      speed.push(Math.max(0, top * rising + gust));
    }
    speed.push(...range(25).map(() => 0));
  }
  const gain = within(random, DEFAULT_INSTRUMENT.distanceGain);
  const columns: Column[] = [
    ['time (s)', speed.map((_, k) => k / 5), 1],
    ['speed (km/h)', speed.map((v) => v * gain), 2],
  ];
  return { columns, truth: { twoWayTopSpeed: stillKmh } };
}

describe('stated intervals hold the truth about 19 times in 20', () => {
  it('battery', () => {
    const held = coverage(TRIALS, (random) => {
      const { columns, truth } = packSteps(random);
      return { figures: figuresOf('battery', columns, {}), truth };
    });
    for (const share of Object.values(held)) expect(share).toBeGreaterThanOrEqual(MIN_HELD);
  });
  it('heating', () => {
    const held = coverage(TRIALS, (random) => {
      const { columns, airC, truth } = hubWarming(random);
      return { figures: figuresOf('heating', columns, { ambientC: airC }), truth };
    });
    for (const share of Object.values(held)) expect(share).toBeGreaterThanOrEqual(MIN_HELD);
  });
  it('coast-down', () => {
    const held = coverage(TRIALS, (random) => {
      const { columns, context, truth } = coasting(random);
      return { figures: figuresOf('coast-down', columns, context), truth };
    });
    for (const share of Object.values(held)) expect(share).toBeGreaterThanOrEqual(MIN_HELD);
  });
  it('top speed', () => {
    const held = coverage(TRIALS, (random) => {
      const { columns, truth } = passes(random);
      return { figures: figuresOf('top-speed', columns, { directions: [1, -1, 1, -1] }), truth };
    });
    for (const share of Object.values(held)) expect(share).toBeGreaterThanOrEqual(MIN_HELD);
  });
});

describe('what has to follow', () => {
  const scaled = (columns: readonly Column[], head: string, by: (value: number) => number): Column[] =>
    columns.map(([name, values, decimals]) => [name, name.startsWith(head) ? values.map(by) : values, decimals]);
  it('a clock that begins elsewhere changes nothing', () => {
    for (const [kind, columns, context] of [
      ['battery', packSteps(seededRandom(1)).columns, {}],
      ['heating', hubWarming(seededRandom(1)).columns, { ambientC: 10 }],
      ['top-speed', passes(seededRandom(1)).columns, { directions: [1, -1, 1, -1] }],
    ] as const) {
      const here = figuresOf(kind, columns, context);
      const later = figuresOf(
        kind,
        scaled(columns, 'time', (t) => t + 5000),
        context,
      );
      expect(here.size).toBeGreaterThan(0);
      for (const [key, { value, standardUncertainty }] of here)
        expect([key, later.get(key)?.value, later.get(key)?.standardUncertainty]).toEqual([
          key,
          expect.closeTo(value, 6),
          expect.closeTo(standardUncertainty, 6),
        ]);
    }
  });
  it('coasts told the other way round turn slope and wind about, and leave drag and rolling', () => {
    const { columns, context } = coasting(seededRandom(3));
    const there = figuresOf('coast-down', columns, context);
    const turned = figuresOf('coast-down', columns, { ...context, directions: [-1, 1, -1, 1] });
    for (const [key, sign] of [
      ['cda', 1],
      ['crr', 1],
      ['slope', -1],
      ['wind', -1],
    ] as const)
      expect([key, turned.get(key)!.value]).toEqual([key, expect.closeTo(sign * there.get(key)!.value, 4)]);
  });
  it('twice the mass at the same fall of speed is twice the drag area and the same rolling resistance', () => {
    const { columns, context } = coasting(seededRandom(5));
    const light = figuresOf('coast-down', columns, context);
    const heavy = figuresOf('coast-down', columns, { ...context, totalMassKg: 2 * context.totalMassKg! });
    expect(heavy.get('cda')!.value / light.get('cda')!.value).toBeCloseTo(2, 3);
    expect(heavy.get('crr')!.value / light.get('crr')!.value).toBeCloseTo(1, 3);
  });
  it('a current read double is half the resistance; a quieter voltmeter is a narrower interval', () => {
    const { columns } = packSteps(seededRandom(7));
    const ohm = figuresOf('battery', columns, {}).get('internalResistance')!;
    const halved = figuresOf(
      'battery',
      scaled(columns, 'current', (i) => 2 * i),
      {},
    ).get('internalResistance')!;
    // As near as hundredths of an ampere allow.
    expect(halved.value / ohm.value).toBeCloseTo(0.5, 3);
    const noisy = figuresOf('battery', packSteps(seededRandom(7), 0.5).columns, {}).get('internalResistance')!;
    expect(noisy.standardUncertainty).toBeGreaterThan(ohm.standardUncertainty);
  });
});
