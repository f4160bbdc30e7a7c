import { cleanLog, readLog } from '../logs/index.js';
import { seededRandom } from '../numeric/index.js';
import { drawBike, drawWay, hill, rideTruly, trueLogCsv, type TrueBike } from '../testing/forecast-bike.js';
import { calibrate, sharedByBike } from './calibrate.js';
import { factsOfTest } from './facts-of-test.js';
import { fitCommand } from './fit-command.js';
import { fitHeat } from './fit-heat.js';
import { fitMotion } from './fit-motion.js';
import { fitPack } from './fit-pack.js';
import { warmNodes } from './heat-nodes.js';
import { motionBlocks } from './motion-blocks.js';
import { copperAt, forceOfPower, powerOfPull, pullOfForce, type DriveLosses } from './motor-law.js';
import { fixedOf, fromScale, priorsOf } from './parameters.js';
import { rideRecord, summaryRecord, type RideFacts, type RideRecord } from './ride-record.js';
import { trustOf } from './trust.js';

const FACTS: RideFacts = { name: 'ride', totalMassKg: 100, airTemperatureC: 15, airDensity: 1.2, windMps: 0 };
const LOSSES: DriveLosses = {
  driveEfficiency: 0.95,
  copperLoss: 0.01,
  ironDrag: 2,
  idlePower: 3,
  isGeared: false,
  isAlwaysTurning: false,
};

function recordOf(csv: string, facts: RideFacts = FACTS): RideRecord {
  const raw = readLog(new TextEncoder().encode(csv));
  const log = raw.ok ? cleanLog(raw.value) : raw;
  if (!log.ok) throw new Error(log.problem.message);
  return rideRecord(log.value, facts)!;
}

/** Rows of a ride at speeds that vary, whose power is what air, road and height take by the law of the drive; written without noise. */
function exactRide({
  cda,
  crr,
  seconds = 1200,
  phase = 0,
}: {
  cda: number;
  crr: number;
  seconds?: number;
  phase?: number;
}): string {
  const rows = ['time (s),speed (km/h),distance (m),altitude (m),voltage (V),current (A),rider power (W)'];
  let [v, s, h] = [6, 0, 100];
  for (let t = 0; t < seconds; t++) {
    const next = 6.5 + 2 * Math.sin(t / 60 + phase) + 0.8 * Math.sin(t / 17);
    const grade = 0.01 * Math.sin(s / 250 + phase);
    const mean = (v + next) / 2;
    const force =
      0.6 * cda * mean * mean +
      981 * 1.0 * (crr + grade) * 0.99966 +
      (102 * (next * next - v * v)) / 2 / mean -
      70 / mean;
    const power =
      force > 0 ? powerOfPull(pullOfForce(force, LOSSES), mean, LOSSES.idlePower, LOSSES.copperLoss) : LOSSES.idlePower;
    rows.push(
      [
        t,
        (3.6 * mean).toFixed(3),
        s.toFixed(2),
        h.toFixed(3),
        48,
        (power / 48).toFixed(4),
        force > 0 ? 70 : Math.max(0, 70 + force * mean).toFixed(1),
      ].join(','),
    );
    s += mean;
    h += mean * grade;
    v = next;
  }
  return rows.join('\n');
}

describe('a ride in seconds', () => {
  it('takes speed out of distance, keeps gaps as gaps and finds where it braked', () => {
    const rows = ['time (s),distance (m),voltage (V),current (A)'];
    for (let t = 0; t < 120; t++) {
      if (t >= 50 && t < 65) continue;
      rows.push(`${t},${t < 90 ? 6 * t : 540 + 6 * (t - 90) - 0.6 * (t - 90) ** 2},48,5`);
      if (t === 95) break;
    }
    const record = recordOf(rows.join('\n'));
    expect(record.speedMps[20]).toBeCloseTo(6, 1);
    expect(record.powerW[55]).toBeNaN();
    expect(record.powerW[20]).toBeCloseTo(240, 6);
    expect(record.isBraking[92]).toBe(1);
    expect(record.isBraking[20]).toBe(0);
  });
  it('has none without a clock, without motion, and of ten seconds', () => {
    const log = (csv: string) => {
      const raw = readLog(new TextEncoder().encode(csv));
      const clean = raw.ok ? cleanLog(raw.value) : raw;
      return clean.ok ? rideRecord(clean.value, FACTS) : undefined;
    };
    expect(log('time (s),voltage (V)\n0,48\n1,48\n20,48')).toBeUndefined();
    expect(log('time (s),speed (km/h)\n0,20\n1,20\n2,20\n3,20')).toBeUndefined();
  });
  it('from a counter of energy has the slope of the counter as its power', () => {
    const rows = ['time (s),speed (km/h),energy used (Wh)'];
    for (let t = 0; t < 300; t++) rows.push(`${t},20,${((t * 180) / 3600).toFixed(1)}`);
    expect(recordOf(rows.join('\n')).powerW[150]).toBeCloseTo(180, -1);
  });
  it('by its figures alone is even, and one block whose balance is loose', () => {
    const summary = summaryRecord({ distanceM: 9000, movingS: 1500, energyWh: 60 }, { ...FACTS, riderPowerW: 80 })!;
    const blocks = motionBlocks(summary, 0, Infinity);
    expect(blocks).toHaveLength(1);
    expect(blocks[0]!.lengthM).toBeCloseTo(9000, 0);
    expect(blocks[0]!.endsN).toBeGreaterThan(2);
    expect(summaryRecord({ distanceM: 90, movingS: 1500, energyWh: 60 }, FACTS)).toBeUndefined();
    expect(summaryRecord({ distanceM: 9000, movingS: 1500, energyWh: 0 }, FACTS)).toBeUndefined();
  });
});

describe('blocks of motion', () => {
  it('balance to nothing where the law of the drive is the one that was ridden', () => {
    const [cda, crr] = [0.6, 0.008];
    const record = recordOf(exactRide({ cda, crr }));
    const blocks = motionBlocks(record, 0, Infinity);
    expect(blocks.length).toBeGreaterThan(20);
    for (const block of blocks.slice(1, -1)) {
      let work = 0;
      for (let k = block.from; k < block.to; k++)
        work += forceOfPower(record.powerW[k]!, record.speedMps[k]!, LOSSES, LOSSES.copperLoss) * record.speedMps[k]!;
      const left =
        (work + block.riderJ - block.gainedJ) / block.lengthM -
        (0.6 * cda * block.speedSquaredM3) / block.lengthM -
        981 * crr;
      expect(Math.abs(left)).toBeLessThan(2.5);
    }
  });
  it('take half a rider, and doubt all of it, where a helping motor rests and nobody saw the cranks', () => {
    const rows = ['time (s),speed (km/h),distance (m),voltage (V),current (A)'];
    for (let t = 0; t < 200; t++) rows.push(`${t},18,${5 * t},48,${t < 100 ? 4 : 0.05}`);
    const blocks = motionBlocks(recordOf(rows.join('\n'), { ...FACTS, riderPowerW: 90 }), 0, 25 / 3.6);
    const [helped, rested] = [blocks[0]!, blocks.at(-1)!];
    expect(rested.riderJ / rested.lengthM).toBeCloseTo(helped.riderJ / helped.lengthM / 2, 6);
    expect(rested.endsN).toBeGreaterThan(helped.endsN);
  });
});

describe('what rides teach', () => {
  const known = { seriesCells: 13, nominalVoltageV: 46.8, capacityAh: 13 };
  const [fixed, priors] = [fixedOf(known), priorsOf(known)];

  it.each([
    [0.5, 0.007],
    [0.7, 0.011],
  ])('of drag %d m² and rolling %d comes back from rides without noise', (cda, crr) => {
    const records = [0, 1.5, 3].map((phase) => recordOf(exactRide({ cda, crr, phase })));
    const fit = fitMotion(records, priors, fixed);
    expect(fromScale('dragArea', fit.estimate[0]!)).toBeGreaterThan(0.9 * cda);
    expect(fromScale('dragArea', fit.estimate[0]!)).toBeLessThan(1.1 * cda);
    expect(Math.abs(fromScale('rolling', fit.estimate[1]!) - crr)).toBeLessThan(0.0022);
    expect(fit.isRiderTold).toBe(false);
  });
  it('of one bike narrows what is thought of another kit on it', () => {
    const calibration = calibrate(
      [0, 1.5, 3].map((phase) => recordOf(exactRide({ cda: 0.7, crr: 0.008, phase }))),
      known,
    );
    const ofSameBike = sharedByBike(calibration);
    const shared = priorsOf({ ...known, ofSameBike });
    expect(shared.dragArea.sd).toBeLessThan(priors.dragArea.sd);
    expect(Math.abs(shared.dragArea.value - 0.7)).toBeLessThan(Math.abs(priors.dragArea.value - 0.7));
    // What was stated of this very setup stays.
    expect(priorsOf({ ...known, dragAreaM2: 0.5, ofSameBike }).dragArea.value).toBe(0.5);
    expect(sharedByBike(calibrate([], known))).toEqual({});
  });
  it('of a rider whom nobody mentioned is not that there was none', () => {
    const records = [0, 1, 2].map((phase) => {
      const bare = exactRide({ cda: 0.6, crr: 0.008, phase })
        .split('\n')
        .map((line) => line.split(',').slice(0, -1).join(','))
        .join('\n');
      return recordOf(bare);
    });
    const unsaid = fitMotion(records, priors, fixed);
    const none = fitMotion(
      records.map((record) => ({ ...record, facts: { ...record.facts, riderPowerW: 0 } })),
      priors,
      fixed,
    );
    // 70 W were ridden: without them air and road look easier than they are.
    expect(unsaid.estimate[0]! + unsaid.estimate[1]!).toBeGreaterThan(none.estimate[0]! + none.estimate[1]! + 0.1);
    const resistanceN = ({ estimate }: typeof unsaid): number =>
      0.6 * Math.exp(estimate[0]!) * 42 + 981 * Math.exp(estimate[1]!);
    expect(resistanceN(unsaid) / (0.6 * 0.6 * 42 + 981 * 0.008)).toBeGreaterThan(0.8);
    expect(resistanceN(unsaid) / (0.6 * 0.6 * 42 + 981 * 0.008)).toBeLessThan(1.25);
    expect(unsaid.rider.mean).toBe(0);
  });
  it('of a wheel that turned free on a stand is nothing of the road', () => {
    const rows = ['time (s),speed (km/h),voltage (V),current (A)'];
    for (let t = 0; t < 300; t++) rows.push(`${t},${t < 200 ? 30 : 0},48,${t < 200 ? 1.2 : 0.05}`);
    const stand = recordOf(rows.join('\n'), { ...FACTS, ...factsOfTest('stand') });
    const { parameters, ridden } = calibrate([stand], known);
    const drag = parameters.find(({ name }) => name === 'dragArea')!;
    expect(drag).toMatchObject({ from: 'prior' });
    expect(drag.value).toBeCloseTo(priors.dragArea.value, 9);
    expect(ridden).toBeUndefined();
    expect(factsOfTest('coast-down')).toMatchObject({ riderPowerW: 0, isOrdinary: false });
  });
  it('of a plateau far below the stated limit is a level, not the limit', () => {
    const rows = ['time (s),speed (km/h),voltage (V),current (A)'];
    for (let t = 0; t < 600; t++) rows.push(`${t},18,48,${t % 50 < 30 ? 7 : 3}`);
    const limit = (currentLimitA: number) =>
      fitCommand([recordOf(rows.join('\n'))], priorsOf({ ...known, currentLimitA }), fixed, LOSSES).fullCurrent;
    expect(limit(15)).toMatchObject({ value: 15, from: 'prior' });
    expect(limit(7.5)).toMatchObject({ value: 7, from: 'data' });
  });
  it('of a told rider who gives less is remembered for the next ride', () => {
    const lazy = [0, 1, 2, 3].map((phase) => {
      const csv = exactRide({ cda: 0.58, crr: 0.0085, phase });
      const bare = csv
        .split('\n')
        .map((line) => line.split(',').slice(0, -1).join(','))
        .join('\n');
      return recordOf(bare, { ...FACTS, riderPowerW: 110 });
    });
    const { rider, isRiderTold } = fitMotion(lazy, priors, fixed);
    expect(isRiderTold).toBe(true);
    expect(rider.mean).toBeLessThan(-0.05);
  });

  it('of a pack is its resistance, and its charge only where a ride went deep', () => {
    const ride = (amps: (t: number) => number, seconds: number): RideRecord => {
      const rows = ['time (s),speed (km/h),voltage (V),current (A)'];
      let used = 0;
      for (let t = 0; t < seconds; t++) {
        const current = amps(t);
        const share = 0.97 - used / 12;
        // A curve of its own: a line with a knee at the foot.
        const rest = 13 * (3.5 + 0.62 * share - 0.35 * Math.exp(-share / 0.06));
        rows.push(`${t},20,${(rest - 0.12 * current).toFixed(3)},${current}`);
        used += current / 3600;
      }
      return recordOf(rows.join('\n'));
    };
    const pulses = (t: number): number => (Math.floor(t / 20) % 2 === 0 ? 3 : 12);
    const short = fitPack([ride(pulses, 900)], priors, fixed)!;
    // At once and within a minute together: what pulses of 20 s can tell apart is little.
    expect(Math.exp(short.estimate[0]!) + Math.exp(short.estimate[1]!)).toBeGreaterThan(0.11);
    expect(Math.exp(short.estimate[0]!) + Math.exp(short.estimate[1]!)).toBeLessThan(0.14);
    expect(short.names).not.toContain('capacity');
    const deep = fitPack([ride(pulses, 5200)], priors, fixed)!;
    expect(deep.names).toContain('capacity');
    expect(Math.exp(deep.estimate.at(-1)!)).toBeGreaterThan(11);
    expect(Math.exp(deep.estimate.at(-1)!)).toBeLessThan(13.2);
    expect(
      fitPack(
        [recordOf('time (s),speed (km/h)\n' + Array.from({ length: 60 }, (_, t) => `${t},20`).join('\n'))],
        priors,
        fixed,
      ),
    ).toBeUndefined();
  });

  it('of the motor’s heat comes back from a pull and a rest', () => {
    const heat = { sensorHeat: 500, bodyHeat: 1800, sensorToBody: 7, toStillAir: 1.5, toMovingAir: 0.1 };
    const rows = ['time (s),speed (km/h),voltage (V),current (A),motor temperature (°C)'];
    const state = { sensorC: 15, bodyC: 15 };
    for (let t = 0; t < 3600; t++) {
      const isOn = t < 1500;
      const v = isOn ? 5 : 0;
      const power = isOn ? 500 : 3;
      const pull = isOn ? (Math.sqrt(v * v + 4 * LOSSES.copperLoss * (power - 3)) - v) / (2 * LOSSES.copperLoss) : 0;
      warmNodes(state, heat, copperAt(LOSSES, v, state.sensorC) * pull * pull, isOn ? 2 * v : 0, v, 15, 1);
      rows.push(`${t},${3.6 * v},48,${(power / 48).toFixed(3)},${state.sensorC.toFixed(2)}`);
    }
    const fit = fitHeat([recordOf(rows.join('\n'))], priors, LOSSES)!;
    const value = (name: string): number => Math.exp(fit.estimate[fit.names.indexOf(name as 'bodyHeat')]!);
    // At rest all heat leaves through still air: pace and rest of the fall are what the log shows best.
    expect(value('bodyHeat') / value('toStillAir')).toBeGreaterThan(0.75 * (1800 / 1.5));
    expect(value('bodyHeat') / value('toStillAir')).toBeLessThan(1.25 * (1800 / 1.5));
    expect(fitHeat([], priors, LOSSES)).toBeUndefined();
  });

  it.each<TrueBike['law']>(['current', 'force', 'voltage'])('of a throttle is that it orders %s', (law) => {
    const random = seededRandom(41);
    const bike = drawBike(random, law);
    const records = [0, 1, 2].map((k) => {
      const day = { massKg: 105, airC: 15, density: 1.22, windMps: 0, gustMps: 0.5, startShare: 0.95 };
      const ride = rideTruly(random, bike, k < 2 ? drawWay(random, 3000, 0.03) : hill(1000, 0.05), day, {
        demand: (t) => 0.6 + 0.35 * Math.sin(k + t / 40),
        targetMps: Infinity,
        riderW: 80,
        riderWaver: 0.1,
      });
      return recordOf(trueLogCsv(ride, { throttle: true, rider: true, altitude: true }), {
        ...FACTS,
        name: String(k),
        totalMassKg: 105,
      });
    });
    const bikeKnown = { seriesCells: bike.cells, nominalVoltageV: bike.cells * 3.6 };
    const { command } = calibrate(records, bikeKnown);
    expect(command.law).toBe(law);
    if (law === 'current') expect(Math.abs(command.fullCurrent.value / bike.limitA - 1)).toBeLessThan(0.03);
    expect(command.highestDemand).toBeGreaterThan(0.9);
  });
  it('of levels is how much of full help each gave', () => {
    const rows = ['time (s),speed (km/h),voltage (V),current (A),assist level'];
    for (let t = 0; t < 600; t++) rows.push(`${t},18,48,${t < 300 ? 4 : 8},${t < 300 ? 1 : 3}`);
    const { levels } = fitCommand(
      [recordOf(rows.join('\n'))],
      priorsOf({ ...known, currentLimitA: 16 }),
      fixedOf({ speedLimitMps: 25 / 3.6 }),
      LOSSES,
    );
    expect(levels.map(({ level }) => level)).toEqual([1, 3]);
    expect(levels[1]!.demand / levels[0]!.demand).toBeCloseTo(2, 1);
  });
  it('of a limit that rides never ran into is that it lies beyond what they reached', () => {
    const rows = ['time (s),speed (km/h),voltage (V),current (A)'];
    for (let t = 0; t < 900; t++)
      rows.push(`${t},20,48,${(6 + 4 * Math.sin(t / 50) + 8 * Math.exp(-(((t - 450) / 15) ** 2))).toFixed(2)}`);
    const { fullCurrent } = fitCommand([recordOf(rows.join('\n'))], priors, fixed, LOSSES);
    expect(fullCurrent.from).toBe('prior');
    expect(fullCurrent.atLeast).toBeGreaterThan(12);
  });
});

describe('trust', () => {
  const rideOf = (k: number, factor: number): RideRecord => {
    const csv = exactRide({ cda: 0.6, crr: 0.008, phase: k, seconds: 700 });
    const scaled = csv
      .split('\n')
      .map((line, row) =>
        row === 0
          ? line
          : line
              .split(',')
              .map((cell, j) => (j === 5 ? String(Number(cell) * factor) : cell))
              .join(','),
      )
      .join('\n');
    return recordOf(scaled, { ...FACTS, name: `ride ${k}`, outing: `outing ${k}` });
  };
  it('is earned by rides that agree: each inside its span, little bias', () => {
    const { energy, rides, isMissed } = trustOf(
      [0, 1, 2, 3].map((k) => rideOf(k, 1)),
      {},
    );
    expect(energy).toMatchObject({ n: 4, hits: 4 });
    expect(Math.abs(energy!.bias)).toBeLessThan(0.06);
    expect(rides).toHaveLength(4);
    expect(isMissed).toBe(false);
  });
  it('is lost by rides that do not: the next spans are wider for it', () => {
    const agree = trustOf(
      [0, 1, 2, 3, 4, 5].map((k) => rideOf(k, 1)),
      {},
    );
    const differ = trustOf(
      [0, 1, 2, 3, 4, 5].map((k) => rideOf(k, k % 2 ? 0.7 : 1.4)),
      {},
    );
    expect(differ.energy!.beyond).toBeGreaterThan(2 * agree.energy!.beyond);
  });
  it('is not asked of one outing, nor of rides that were tests of brakes', () => {
    expect(trustOf([rideOf(0, 1)], {}).rides).toEqual([]);
    const tests = [0, 1].map((k) => ({ ...rideOf(k, 1), facts: { ...rideOf(k, 1).facts, isOrdinary: false } }));
    expect(trustOf(tests, {}).energy!.n).toBe(0);
  });
});
