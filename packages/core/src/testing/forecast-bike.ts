import { standardNormal, type Random } from '../numeric/index.js';

/**
 * A bike that is none of the ride model's: motor by torque, voltage or current; eddy losses; three heat nodes cooled by √v; two slow parts of
 * the pack's sag and a curve of its own; gusts and a rider who wavers. SI; Ah; °C.
 */
export interface TrueBike {
  /** `rider`: by the torque on the pedals. */
  readonly law: 'current' | 'force' | 'voltage' | 'rider';
  readonly cda: number;
  readonly crr: number;
  readonly cells: number;
  readonly capacityAh: number;
  readonly labelAh: number;
  readonly ohm: number;
  readonly slow: readonly { readonly ohm: number; readonly tauS: number }[];
  readonly topV: number;
  readonly bend: number;
  readonly torqueN: number;
  readonly limitA: number;
  /** N at the tyre per A, and V per m/s of the motor. */
  readonly constant: number;
  readonly windingOhm: number;
  readonly hysteresisN: number;
  readonly eddy: number;
  readonly gear: number;
  readonly idleW: number;
  readonly speedLimitMps: number;
  readonly heat: readonly [number, number, number];
  readonly conduct: readonly [number, number];
  readonly still: number;
  readonly root: number;
  /** Help at the tyre over the rider's power. */
  readonly assist: number;
  /** The most that the motor brakes with, N, charging the battery; 0: a freewheel. */
  readonly brakeN: number;
  readonly controller: { readonly ohm: number; readonly dropV: number; readonly heat: number; readonly still: number };
}
export interface TrueWay {
  readonly distanceM: readonly number[];
  readonly altitudeM: readonly number[];
}
export interface TrueDay {
  readonly massKg: number;
  readonly airC: number;
  readonly density: number;
  readonly windMps: number;
  readonly gustMps: number;
  readonly startShare: number;
}
export interface TrueRiding {
  /** Order for help along the way, 0–1, by time in s. */
  readonly demand: (timeS: number) => number;
  readonly targetMps: number;
  readonly riderW: number;
  readonly riderWaver: number;
}
export interface TrueRide {
  readonly rows: readonly (readonly [
    t: number,
    v: number,
    s: number,
    h: number,
    motorC: number,
    volts: number,
    amps: number,
    demand: number,
    rider: number,
    controllerC: number,
  ])[];
  readonly figures: Record<
    | 'time'
    | 'meanSpeed'
    | 'energyOut'
    | 'netConsumption'
    | 'chargeLeftShare'
    | 'motorTemperaturePeak'
    | 'controllerTemperaturePeak',
    number
  >;
  readonly arrived: boolean;
}

export function drawBike(random: Random, law: TrueBike['law']): TrueBike {
  const between = (low: number, high: number): number => low + (high - low) * random();
  const cells = random() < 0.5 ? 13 : 14;
  const labelAh = between(10, 18);
  const noLoadMps = between(11.5, 15);
  return {
    law,
    cda: between(0.45, 0.75),
    crr: between(0.006, 0.012),
    cells,
    labelAh,
    capacityAh: labelAh * between(0.9, 1),
    ohm: between(0.07, 0.16),
    slow: [
      { ohm: between(0.01, 0.03), tauS: between(8, 20) },
      { ohm: between(0.01, 0.04), tauS: between(80, 300) },
    ],
    topV: between(4.08, 4.17),
    bend: between(0.5, 0.9),
    torqueN: between(90, 150),
    limitA: between(13, 22),
    constant: (cells * 3.6) / noLoadMps,
    windingOhm: between(0.12, 0.3),
    hysteresisN: between(1, 3),
    eddy: between(0.05, 0.25),
    gear: between(0.93, 0.99),
    idleW: between(2, 6),
    speedLimitMps: Infinity,
    heat: [between(200, 500), between(800, 1600), between(800, 2000)],
    conduct: [between(4, 10), between(3, 9)],
    still: between(0.8, 1.8),
    root: between(0.2, 0.7),
    assist: between(1, 2.5),
    brakeN: 0,
    controller: {
      ohm: between(0.008, 0.02),
      dropV: between(0.1, 0.4),
      heat: between(250, 600),
      still: between(0.25, 0.6),
    },
  };
}

/** One ride by small steps. */
export function rideTruly(
  random: Random,
  bike: TrueBike,
  way: TrueWay,
  day: TrueDay,
  riding: TrueRiding,
  everyS = 0.5,
  longestS = 6000,
): TrueRide {
  const dt = 0.05;
  const rows: TrueRide['rows'][number][] = [];
  let [t, v, s, gust, waver, used, joules, piece] = [0, 2, 0, 0, 0, 0, 0, 0];
  let [controllerC, hottestController, backJ, follow] = [day.airC, day.airC, 0, 0];
  const slowV = bike.slow.map(() => 0);
  const node = [day.airC, day.airC, day.airC];
  let peakC = day.airC;
  let volts = bike.cells * 4;
  const end = way.distanceM.at(-1)!;
  let next = 0;
  while (s < end && t < longestS) {
    while (piece < way.distanceM.length - 2 && way.distanceM[piece + 1]! < s) piece++;
    const slope =
      (way.altitudeM[piece + 1]! - way.altitudeM[piece]!) / (way.distanceM[piece + 1]! - way.distanceM[piece]!);
    gust += (-gust * dt) / 8 + day.gustMps * Math.sqrt((2 * dt) / 8) * standardNormal(random);
    waver += (-waver * dt) / 25 + riding.riderWaver * Math.sqrt((2 * dt) / 25) * standardNormal(random);
    const share = day.startShare - used / 3600 / bike.capacityAh;
    // Straight with a bend at either end: no table of the product's.
    const cellV = 3.35 + (bike.topV - 3.35) * share ** bike.bend - 0.5 * Math.exp(-share / 0.04);
    const restV = bike.cells * cellV - slowV[0]! - slowV[1]!;
    const angle = Math.atan(slope);
    const air = v + day.windMps + gust;
    const againstN =
      0.5 * day.density * bike.cda * air * Math.abs(air) +
      day.massKg * 9.81 * (Math.sin(angle) + bike.crr * Math.cos(angle));
    const wish = Number.isFinite(riding.targetMps) ? againstN + day.massKg * 0.35 * (riding.targetMps - v) : Infinity;
    const rider = Math.max(0, riding.riderW * (1 + waver));
    const legsN = Math.min(170, rider / Math.max(v, 1));
    // By the pedals, both give their part of what is wanted.
    const riderN = Math.max(0, Math.min(legsN, bike.law === 'rider' ? wish / (1 + bike.assist) : wish));
    follow += (dt / 0.8) * (bike.assist * riderN - follow);
    const demand = riding.demand(t);
    const copperOhm = bike.windingOhm * (1 + 0.00393 * (node[0]! - 25));
    const innerN = bike.hysteresisN + bike.eddy * v;
    const wattsAt = (amps: number): number => amps * amps * copperOhm + bike.constant * v * amps + bike.idleW;
    // Motor amps by the law, then held by battery limit, voltage and what the rider wants.
    const room = Math.max(0, (volts - bike.constant * v) / copperOhm);
    let amps =
      bike.law === 'rider'
        ? (follow / bike.gear + innerN) / bike.constant
        : bike.law === 'force'
          ? (demand * bike.torqueN) / bike.constant
          : bike.law === 'voltage'
            ? Math.max(0, (demand * volts - bike.constant * v) / copperOhm)
            : Infinity;
    amps = Math.min(amps, room, bike.torqueN / bike.constant);
    const capW = volts * bike.limitA * (bike.law === 'current' ? demand : 1);
    if (wattsAt(amps) > capW) {
      const b = bike.constant * v;
      amps = (-b + Math.sqrt(b * b + 4 * copperOhm * Math.max(0, capW - bike.idleW))) / (2 * copperOhm);
    }
    const fade = Math.min(1, Math.max(0, (bike.speedLimitMps - v) / 0.6));
    amps *= fade;
    const wanted = (Math.max(0, wish - riderN) / bike.gear + innerN) / bike.constant;
    if (wish <= riderN) amps = 0;
    else amps = Math.min(amps, wanted);
    const driveN = amps > 0 ? Math.max(0, bike.constant * amps - innerN) * bike.gear : 0;
    const brakeN = v > riding.targetMps + 1.2 ? Math.max(0, driveN + riderN - againstN) : 0;
    // The motor as a brake, as far as it goes: less its own losses.
    const backAmps = brakeN > 0 ? Math.min(brakeN, bike.brakeN) / bike.constant : 0;
    const backW = Math.max(0, backAmps * bike.constant * v * bike.gear - backAmps ** 2 * copperOhm);
    const watts = amps > 0 ? wattsAt(amps) : bike.idleW - backW;
    const battery = (restV - Math.sqrt(restV * restV - 4 * bike.ohm * watts)) / (2 * bike.ohm);
    volts = restV - bike.ohm * battery;
    bike.slow.forEach(({ ohm, tauS }, k) => (slowV[k]! += (dt / tauS) * (ohm * battery - slowV[k]!)));
    if (t >= next) {
      const n = (size: number): number => size * standardNormal(random);
      rows.push([
        t,
        Math.max(0, v * 3.6 + n(0.1)),
        s,
        altitudeAt(way, piece, s) + n(0.3),
        node[0]! + n(0.25),
        volts + n(0.03),
        battery + n(0.05),
        Math.round(100 * demand),
        Math.max(0, rider + n(4)),
        controllerC + n(0.3),
      ]);
      next += everyS;
    }
    const copper = amps * amps * copperOhm;
    const [c0, c1] = bike.conduct;
    const toAir = bike.still + bike.root * Math.sqrt(v);
    const inner = amps > 0 ? 0.6 * innerN * v : 0;
    const flow = [c0 * (node[0]! - node[1]!), c1 * (node[1]! - node[2]!), toAir * (node[2]! - day.airC)];
    node[0]! += (dt / bike.heat[0]) * (copper - flow[0]!);
    node[1]! += (dt / bike.heat[1]) * (inner + flow[0]! - flow[1]!);
    node[2]! += (dt / bike.heat[2]) * (flow[1]! - flow[2]!);
    peakC = Math.max(peakC, node[0]!);
    const lostW = 3 * amps * amps * bike.controller.ohm + amps * bike.controller.dropV + 0.006 * Math.abs(watts) + 1;
    const blown = bike.controller.still * (1 + 0.35 * Math.sqrt(v));
    controllerC += (dt / bike.controller.heat) * (lostW - blown * (controllerC - day.airC));
    hottestController = Math.max(hottestController, controllerC);
    if (watts > 0) joules += watts * dt;
    else backJ -= watts * dt;
    used += battery * dt;
    v = Math.max(0.3, v + ((driveN + riderN - againstN - brakeN) / (day.massKg * 1.025)) * dt);
    s += v * dt;
    t += dt;
    if (share < 0.02) break;
  }
  const km = s / 1000;
  return {
    rows,
    arrived: s >= end,
    figures: {
      time: t,
      meanSpeed: (3600 * km) / t,
      energyOut: joules / 3600,
      netConsumption: (joules - backJ) / 3600 / km,
      chargeLeftShare: day.startShare - used / 3600 / bike.capacityAh,
      motorTemperaturePeak: peakC,
      controllerTemperaturePeak: hottestController,
    },
  };
}

export function drawWay(random: Random, lengthM: number, steep: number): TrueWay {
  const pieces = Math.max(4, Math.round(lengthM / 220));
  const [distanceM, altitudeM] = [[0], [100]];
  for (let k = 1; k <= pieces; k++) {
    distanceM.push((k * lengthM) / pieces);
    altitudeM.push(altitudeM[k - 1]! + (lengthM / pieces) * steep * (1.6 * random() - 0.75));
  }
  return { distanceM, altitudeM };
}

/** An even hill. */
export function hill(lengthM: number, grade: number): TrueWay {
  return { distanceM: [0, lengthM], altitudeM: [100, 100 + lengthM * grade] };
}

export interface LogColumns {
  readonly throttle: boolean;
  readonly rider: boolean;
  readonly altitude: boolean;
  readonly controller?: boolean;
}
export function trueLogCsv({ rows }: TrueRide, columns: LogColumns): string {
  const header = [
    'time (s)',
    'speed (km/h)',
    'distance (m)',
    ...(columns.altitude ? ['altitude (m)'] : []),
    'motor temperature (°C)',
    'voltage (V)',
    'current (A)',
    ...(columns.throttle ? ['throttle (%)'] : []),
    ...(columns.rider ? ['rider power (W)'] : []),
    ...(columns.controller ? ['controller temperature (°C)'] : []),
  ];
  const lines = rows.map(([t, v, s, h, c, u, i, d, r, e]) =>
    [
      t.toFixed(2),
      v.toFixed(2),
      s.toFixed(1),
      ...(columns.altitude ? [h.toFixed(1)] : []),
      c.toFixed(1),
      u.toFixed(2),
      i.toFixed(2),
      ...(columns.throttle ? [d] : []),
      ...(columns.rider ? [r.toFixed(0)] : []),
      ...(columns.controller ? [e.toFixed(1)] : []),
    ].join(','),
  );
  return [header.join(','), ...lines].join('\n');
}

function altitudeAt(way: TrueWay, piece: number, s: number): number {
  const [a, b] = [way.distanceM[piece]!, way.distanceM[piece + 1]!];
  return way.altitudeM[piece]! + ((way.altitudeM[piece + 1]! - way.altitudeM[piece]!) * (s - a)) / (b - a);
}
