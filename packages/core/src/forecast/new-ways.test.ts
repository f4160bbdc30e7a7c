import { cleanLog, readLog } from '../logs/index.js';
import { seededRandom, standardNormal } from '../numeric/index.js';
import { airDensityKgPerM3 } from '../physics/index.js';
import { ridesOf } from '../testing/coverage.js';
import { drawBike, drawWay, rideTruly, trueLogCsv, type TrueBike, type TrueRide } from '../testing/forecast-bike.js';
import { calibrate, centreOf, knowsController } from './calibrate.js';
import { figuresOfPath } from './path-figures.js';
import { forecast } from './predict.js';
import { rideRecord, type RideFacts, type RideRecord } from './ride-record.js';
import { ridePath } from './ride-path.js';
import { turnedRound, wayOf, type Scenario } from './scenario.js';
import { CALM_DAY, setOut } from './set-out.js';

const NOTHING = calibrate([], { capacityAh: 13, seriesCells: 13, nominalVoltageV: 46.8 });
const LEVEL: Scenario = {
  profile: [
    { distanceM: 0, altitudeM: 0 },
    { distanceM: 6000, altitudeM: 0 },
  ],
  totalMassKg: 105,
  airTemperatureC: 20,
  windMps: 0,
  startShare: 0.95,
  riding: { targetSpeedKmh: 22, riderPowerW: 60 },
};
const likely = (scenario: Scenario, calibration = NOTHING) => {
  const way = wayOf(scenario);
  const parameters = centreOf(calibration);
  const { bike, riding, air, start } = setOut(calibration, scenario, parameters, CALM_DAY, way.lengthM);
  const outcome = ridePath(bike, way, riding, air, start);
  return { ...outcome, figures: figuresOfPath(outcome, parameters, { calibration, scenario }) };
};
/** Once round, a turn for each hundred metres. */
const ROUND = Array.from({ length: 61 }, (_, k) => ({ distanceM: 100 * k, altitudeM: 0, headingDeg: 6 * k }));

describe('a wind along a way that turns', () => {
  it('costs the same on a round from wherever it comes, more than calm and far less than from ahead', () => {
    const energy = (over: Partial<Scenario>): number => {
      const { windMps: _calm, ...rest } = LEVEL;
      return likely({ ...rest, ...over }).figures.energyOut;
    };
    const calm = energy({ windMps: 0 });
    const ahead = energy({ windMps: 4 });
    const round = [0, 90, 200, 315].map((fromDeg) => energy({ profile: ROUND, wind: { mps: 4, fromDeg } }));
    for (const one of round) {
      expect(one / round[0]!).toBeCloseTo(1, 1);
      expect(one).toBeGreaterThan(1.02 * calm);
      expect(one).toBeLessThan(calm + 0.4 * (ahead - calm));
    }
  });
  it('from the side of a straight way costs the speed of the air alone', () => {
    const straight = LEVEL.profile.map((point) => ({ ...point, headingDeg: 0 }));
    const path = likely({ ...LEVEL, profile: straight, wind: { mps: 4, fromDeg: 90 } });
    // Steady speed v: drag = ½ρCdA·√(v² + 16)·v, so the work rises by that factor over what air takes.
    const calm = likely({ ...LEVEL, profile: straight, wind: { mps: 0, fromDeg: 0 } });
    const { dragArea } = centreOf(NOTHING);
    const v = calm.distanceM / calm.timeS;
    const extraN = 0.5 * airDensityKgPerM3(20) * dragArea * v * (Math.sqrt(v * v + 16) - v);
    const more = path.driveJ + path.riderJ - calm.driveJ - calm.riderJ;
    expect(more / 6000 / extraN).toBeGreaterThan(0.93);
    expect(more / 6000 / extraN).toBeLessThan(1.07);
  });
  it('turns with a way that is ridden the other way round, and means over bends between thinned points', () => {
    const out = [
      { distanceM: 0, altitudeM: 0, headingDeg: 90 },
      { distanceM: 300, altitudeM: 3, headingDeg: 180 },
      { distanceM: 1000, altitudeM: 0 },
    ];
    expect(turnedRound(out)).toEqual([
      { distanceM: 0, altitudeM: 0, headingDeg: 0 },
      { distanceM: 700, altitudeM: 3, headingDeg: 270 },
      { distanceM: 1000, altitudeM: 0 },
    ]);
    const fine = Array.from({ length: 101 }, (_, k) => ({
      distanceM: k * 10,
      altitudeM: 0,
      headingDeg: k % 2 ? 60 : -60,
    }));
    const { towards, endM } = wayOf({ profile: fine });
    expect(endM.length).toBeLessThan(40);
    for (const ahead of towards!.ahead) expect(ahead).toBeCloseTo(0.5, 6);
    const meanRight = towards!.right.reduce((sum, right, k) => sum + right * (endM[k]! - (endM[k - 1] ?? 0)), 0) / 1000;
    expect(meanRight).toBeCloseTo(0, 6);
  });
  it('of a heading that is no number is refused with the place', () => {
    expect(() => wayOf({ profile: [{ ...ROUND[0]!, headingDeg: NaN }, ROUND[1]!] })).toThrow(/heading of point 1/);
  });
});

describe('a second pack', () => {
  const far: Scenario = { ...LEVEL, profile: [LEVEL.profile[0]!, { distanceM: 320_000, altitudeM: 0 }] };
  const second = { capacityAh: 10, massKg: 3 };
  it('in turn takes over where the first is empty, and goes nearly as far as both at once', () => {
    const together = likely({ ...far, secondPack: second });
    const inTurn = likely({ ...far, secondPack: { ...second, use: 'in turn' } });
    expect(together.changedAtM).toBeNaN();
    expect(inTurn.changedAtM).toBeGreaterThan(0.45 * inTurn.distanceM);
    expect(inTurn.changedAtM).toBeLessThan(0.7 * inTurn.distanceM);
    // Twice the current from each: more sag, more lost in the packs, an earlier end.
    expect(inTurn.sagV).toBeGreaterThan(1.5 * together.sagV);
    expect(inTurn.figures.rangeToCutoff).toBeLessThan(together.figures.rangeToCutoff);
    expect(inTurn.figures.rangeToCutoff).toBeGreaterThan(0.9 * together.figures.rangeToCutoff);
    expect(Math.abs(inTurn.imbalanceShare)).toBeLessThan(1e-3);
  });
  it('ends where its figures say: ridden until both are empty', () => {
    for (const use of ['together', 'in turn'] as const) {
      const path = likely({ ...far, secondPack: { ...second, use } });
      expect(path.endedBy).toBe('cut-off');
      const short = likely({ ...LEVEL, secondPack: { ...second, use } });
      expect(short.figures.rangeToCutoff / (path.distanceM / 1000)).toBeGreaterThan(0.96);
      expect(short.figures.rangeToCutoff / (path.distanceM / 1000)).toBeLessThan(1.04);
    }
  });
  it('keeps the reserve in the last one, and says where it takes over with its span', () => {
    const range = (reserveShare: number): number =>
      likely({ ...LEVEL, reserveShare, secondPack: { ...second, use: 'in turn' } }).figures.rangeWithReserve;
    expect(range(0.1)).toBeGreaterThan(range(0.3));
    // More than the second holds stays in the first.
    expect(range(0.6)).toBeGreaterThan(0.2 * range(0.1));
    expect(range(0.6)).toBeLessThan(0.5 * range(0.1));
    const { figures } = forecast(
      NOTHING,
      { ...far, secondPack: { ...second, use: 'in turn' } },
      { samples: 60, seed: 2 },
    );
    const change = figures.find(({ key }) => key === 'packChange')!;
    expect(change.interval95[0]).toBeLessThan(change.value);
    expect(change.interval95[1]).toBeGreaterThan(change.value);
    expect(forecast(NOTHING, LEVEL, { samples: 30 }).figures.some(({ key }) => key === 'packChange')).toBe(false);
  });
});

/** Four rides of a bike that a simulation of its own rode, by pedals or by order, and a fifth that is foretold. */
function torqueCase(seed: number, over: Partial<TrueBike>) {
  const random = seededRandom(seed);
  const between = (low: number, high: number): number => low + (high - low) * random();
  const bike: TrueBike = { ...drawBike(random, over.law ?? 'rider'), speedLimitMps: 25 / 3.6, ...over };
  const massKg = between(90, 115);
  const ride = (lengthM: number, riderW: number, waver: number, mass: number, airC: number): TrueRide =>
    rideTruly(
      random,
      bike,
      drawWay(random, lengthM, 0.035),
      {
        massKg: mass,
        airC,
        density: airDensityKgPerM3(airC),
        windMps: 0.4 * standardNormal(random),
        gustMps: 0.8,
        startShare: 0.95,
      },
      { demand: () => 1, targetMps: 23 / 3.6, riderW, riderWaver: waver },
    );
  const records = Array.from({ length: 5 }, () => {
    const airC = between(8, 22);
    return recordOf(ride(between(3000, 5000), between(60, 130), 0.4, massKg, airC), {
      name: 'ride',
      totalMassKg: massKg,
      airTemperatureC: airC,
      windMps: 0,
    });
  });
  return { bike, massKg, records, ride, between, random };
}

function recordOf(ride: TrueRide, facts: RideFacts): RideRecord {
  const csv = trueLogCsv(ride, { throttle: false, rider: true, altitude: true, controller: true });
  const raw = readLog(new TextEncoder().encode(csv));
  const log = raw.ok ? cleanLog(raw.value) : raw;
  if (!log.ok) throw new Error(log.problem.message);
  return rideRecord(log.value, facts)!;
}

describe('what rides teach of pedals, brakes and controllers', () => {
  const known = { seriesCells: 13, nominalVoltageV: 46.8, capacityAh: 14, speedLimitMps: 25 / 3.6 };
  it('is that help follows the rider, by how much, and that it does not where it does not', () => {
    for (const seed of [1, 2, 3]) {
      const { bike, records } = torqueCase(9300 + seed, { law: 'rider', cells: 13 });
      const { law, riderRatio } = calibrate(records, known).command;
      expect(law).toBe('rider');
      expect(riderRatio!.value / bike.assist).toBeGreaterThan(0.8);
      expect(riderRatio!.value / bike.assist).toBeLessThan(1.25);
      const plain = torqueCase(9300 + seed, { law: 'force', cells: 13 });
      expect(calibrate(plain.records, known).command.law).not.toBe('rider');
    }
  });
  it('is how warm a controller gets; without its temperature nothing is said of it', () => {
    const held: boolean[] = [];
    const halves: number[] = [];
    for (let seed = 1; seed <= ridesOf(6); seed++) {
      const { records, massKg, ride, between } = torqueCase(9400 + seed, { law: 'force', cells: 13 });
      const calibration = calibrate(records, known);
      expect(knowsController(calibration)).toBe(true);
      const [airC, mass] = [between(5, 25), massKg * between(0.9, 1.2)];
      const truth = ride(between(3000, 7000), 90, 0.1, mass, airC);
      if (!truth.arrived) continue;
      const last = truth.rows.at(-1)![2];
      const answer = forecast(
        calibration,
        {
          profile: altitudesOf(truth, last),
          totalMassKg: mass,
          airTemperatureC: airC,
          windMps: 0,
          startShare: 0.95,
          riding: { targetSpeedKmh: 23, riderPowerW: 90 },
        },
        { samples: 120 },
      );
      const figure = answer.figures.find(({ key }) => key === 'controllerTemperaturePeak')!;
      const [low, high] = figure.interval95;
      held.push(low <= truth.figures.controllerTemperaturePeak && truth.figures.controllerTemperaturePeak <= high);
      halves.push((high - low) / 2);
      expect(answer.along.at(-1)!.controllerBand![0]).toBeLessThan(answer.along.at(-1)!.controllerBand![1]);
    }
    expect(held.filter(Boolean).length).toBeGreaterThanOrEqual(held.length - 1);
    expect(halves.sort((a, b) => a - b)[halves.length >> 1]!).toBeLessThan(8);
    const blind = forecast(NOTHING, LEVEL, { samples: 20 });
    expect(blind.figures.some(({ key }) => key === 'controllerTemperaturePeak')).toBe(false);
    expect(blind.along[0]).not.toHaveProperty('controllerTemperatureC');
  });
  it('is what a motor gives back as a brake, and that one with a freewheel gives nothing', () => {
    const way = { distanceM: [0, 1500, 3000], altitudeM: [100, 20, 100] };
    const rideOf = (brakeN: number, seed: number) => {
      const random = seededRandom(seed);
      const bike = { ...drawBike(random, 'force'), speedLimitMps: 25 / 3.6, cells: 13, brakeN };
      return rideTruly(
        random,
        bike,
        way,
        { massKg: 105, airC: 18, density: 1.2, windMps: 0, gustMps: 0.5, startShare: 0.9 },
        { demand: () => 1, targetMps: 22 / 3.6, riderW: 80, riderWaver: 0.1 },
      );
    };
    const facts = { name: 'hills', totalMassKg: 105, airTemperatureC: 18, windMps: 0 };
    const learned = (brakeN: number) =>
      calibrate(
        [1, 2, 3].map((seed) => recordOf(rideOf(brakeN, seed), facts)),
        known,
      );
    expect(learned(0).regain).toBeUndefined();
    const { regain } = learned(60);
    expect(regain!.share).toBeGreaterThan(0.3);
    expect(regain!.share).toBeLessThanOrEqual(0.8);
    const downhill: Scenario = {
      ...LEVEL,
      profile: way.distanceM.slice(0, 2).map((distanceM, k) => ({ distanceM, altitudeM: way.altitudeM[k]! })),
    };
    const path = likely(downhill, learned(60));
    expect(path.regainedJ).toBeGreaterThan(0);
    expect(Math.abs(path.imbalanceShare)).toBeLessThan(1e-3);
    expect(path.figures.netConsumption).toBeLessThan(path.figures.energyOut / (path.distanceM / 1000));
    expect(likely(downhill, learned(0)).regainedJ).toBe(0);
  });
});

/** The way as it was ridden, a point each hundred metres. */
function altitudesOf({ rows }: TrueRide, lengthM: number): Scenario['profile'] {
  const points: { distanceM: number; altitudeM: number }[] = [];
  for (let at = 0; at <= lengthM; at += 100) {
    const near = rows.filter(([, , s]) => Math.abs(s - at) < 25);
    if (near.length > 0)
      points.push({ distanceM: at, altitudeM: near.reduce((sum, row) => sum + row[3], 0) / near.length });
  }
  return points;
}
