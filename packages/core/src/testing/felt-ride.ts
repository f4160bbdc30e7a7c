import { seededRandom, standardNormal } from '../numeric/index.js';

/**
 * A ride of starts and stops as a phone feels it, by plain formulas and not by the ride model: speed piece by piece, a slope that rolls, shaking
 * that grows with speed, a mount turned anyhow, a receiver once a second that is late and filtered. And what is true of it.
 */
export interface FeltRide {
  readonly csv: string;
  readonly truth: {
    readonly time0to20: number;
    readonly time0to25: number;
    readonly peakAcceleration: number;
    readonly deceleration: number;
    readonly pushRise: number;
  };
}
export interface FeltRideOptions {
  readonly starts?: number;
  readonly hz?: number;
  readonly pushMps2?: number;
  readonly rampS?: number;
  readonly brakingMps2?: number;
  readonly shakingMps2?: number;
  readonly slope?: number;
  readonly receiverDelayS?: number;
  /** Between two readings of the speed. */
  readonly fixEveryS?: number;
  /** The speed of places, over so many of them. */
  readonly overFixes?: number;
  /** −1: a phone that counts the other way round. */
  readonly sign?: 1 | -1;
  /** Turned in the mount half-way. */
  readonly isMoved?: boolean;
  /** No start and no stop: one speed. */
  readonly isSteady?: boolean;
}

const G = 9.80665;
const TOP = 27 / 3.6;
const STAND_S = 6;
const CRUISE_S = 12;

export function feltRide(seed: number, options: FeltRideOptions = {}): FeltRide {
  const { starts = 5, hz = 60, pushMps2 = 1.3, rampS = 0.5, brakingMps2 = 2.6, shakingMps2 = 1.2 } = options;
  const {
    slope = 0.02,
    receiverDelayS = 0.5,
    fixEveryS = 1,
    overFixes = 1,
    sign = 1,
    isMoved = false,
    isSteady = false,
  } = options;
  const random = seededRandom(seed);
  const normal = (): number => standardNormal(random);
  // Fine steps: the truth is read off here, not off what was logged.
  const STEP = 0.002;
  const accelerations: number[] = [];
  const add = (seconds: number, at: (t: number, v: number) => number): void => {
    for (let t = 0; t < seconds; t += STEP) {
      const a = at(t, speed);
      accelerations.push(a);
      speed = Math.max(0, speed + a * STEP);
    }
  };
  let speed = isSteady ? TOP : 0;
  const onsets: number[] = [];
  const bites: number[] = [];
  for (let k = 0; k < starts; k++) {
    if (isSteady) {
      add(30, () => 0);
      continue;
    }
    add(STAND_S + random(), () => 0);
    onsets.push(accelerations.length * STEP);
    const push = (t: number, v: number): number => pushMps2 * Math.min(1, t / rampS) * (1 - 0.75 * (v / TOP) ** 2);
    add(9 + 3 * random(), push);
    add(2, (t, v) => push(9, v) * (1 - t / 2));
    add(CRUISE_S, () => 0.02 * Math.sin(accelerations.length * STEP));
    bites.push(accelerations.length * STEP);
    add(15, (t, v) => (v > 0 ? -brakingMps2 * Math.min(1, t / 0.25) : 0));
  }
  add(4, () => 0);
  const speeds: number[] = [];
  speed = isSteady ? TOP : 0;
  for (const a of accelerations) {
    speeds.push(speed);
    speed = Math.max(0, speed + a * STEP);
  }
  const seconds = accelerations.length * STEP;
  const [s1, s2] = [random() * 6, random() * 6];
  const slopeAt = (t: number): number => slope * (Math.sin(t / 17 + s1) + 0.5 * Math.sin(t / 7 + s2));
  const turn = rotation(random);
  const turnedLater = isMoved ? rotation(random) : turn;
  const gain = 1 + 0.01 * (2 * random() - 1);
  const offset = [0, 1, 2].map(() => 0.08 * normal());
  const rows: string[] = [];
  let late = speeds[0]!;
  let slowNoise = 0;
  const recent: number[] = [];
  let nextFixS = random();
  let shake = [0, 0, 0];
  const phase = [random() * 6, random() * 6, random() * 6];
  for (let n = 0; n / hz < seconds; n++) {
    const t = n / hz + 0.002 * random();
    const i = Math.min(speeds.length - 1, Math.round(t / STEP));
    const v = speeds[i]!;
    late += (v - late) * (1 / hz / receiverDelayS);
    const strength = shakingMps2 * (0.05 + v / TOP);
    shake = shake.map(
      (one, k) => 0.3 * one + strength * (0.8 * normal() + 0.6 * Math.sin(2 * Math.PI * 7.3 * t + phase[k]!)),
    );
    const pitch = slopeAt(t);
    const inBike = [
      accelerations[i]! + G * Math.sin(pitch) + shake[0]!,
      0.4 * Math.sin(t / 3) * (v / TOP) + shake[1]!,
      G * Math.cos(pitch) + 1.4 * shake[2]!,
    ];
    const felt = (t > seconds / 2 ? turnedLater : turn)(inBike).map((one, k) => sign * (gain * one + offset[k]!));
    rows.push(
      `${t.toFixed(3)},,${felt.map((one) => one.toFixed(2)).join(',')},${[1, 2, 3].map(() => (4 * normal()).toFixed(1)).join(',')}`,
    );
    if (t >= nextFixS) {
      nextFixS += fixEveryS;
      slowNoise = 0.7 * slowNoise + 0.07 * normal();
      recent.push(Math.max(0, late + slowNoise));
      if (recent.length > overFixes) recent.shift();
      const shown = recent.reduce((sum, one) => sum + one, 0) / recent.length;
      rows.push(`${(t + 0.001).toFixed(3)},${(shown < 0.6 ? 0 : 3.6 * shown).toFixed(2)},,,,,,`);
    }
  }
  const csv = [
    'time (s),speed (km/h),acc x (m/s2),acc y (m/s2),acc z (m/s2),gyro x (deg/s),gyro y (deg/s),gyro z (deg/s)',
    ...rows,
    '',
  ].join('\n');
  const reach = (mps: number, from: number): number => {
    for (let i = Math.round(from / STEP); i < speeds.length && i * STEP - from < 20; i++)
      if (speeds[i]! >= mps) return i * STEP - from;
    return NaN;
  };
  const window = Math.round(1 / STEP);
  let peak = 0;
  let sum = 0;
  accelerations.forEach((a, i) => {
    sum += a - (accelerations[i - window] ?? 0);
    if (i >= window) peak = Math.max(peak, sum / window);
  });
  return {
    csv,
    truth: {
      time0to20: middle(onsets.map((at) => reach(20 / 3.6, at))),
      time0to25: middle(onsets.map((at) => reach(25 / 3.6, at))),
      peakAcceleration: peak,
      deceleration: middle(
        bites.map((at) => {
          const i = Math.round(at / STEP);
          let j = i;
          while (j < speeds.length - 1 && speeds[j]! > 3 / 3.6) j++;
          return (speeds[i]! - speeds[j]!) / ((j - i) * STEP);
        }),
      ),
      pushRise: 0.8 * rampS,
    },
  };
}

function middle(values: readonly number[]): number {
  const sorted = values.filter((value) => !Number.isNaN(value)).sort((a, b) => a - b);
  return sorted.length === 0 ? NaN : (sorted[(sorted.length - 1) >> 1]! + sorted[sorted.length >> 1]!) / 2;
}

/** A turn drawn evenly from all there are. */
function rotation(random: () => number): (vector: readonly number[]) => number[] {
  const [a, b, c] = [random(), 2 * Math.PI * random(), 2 * Math.PI * random()];
  const [x, y, z, w] = [
    Math.sqrt(1 - a) * Math.sin(b),
    Math.sqrt(1 - a) * Math.cos(b),
    Math.sqrt(a) * Math.sin(c),
    Math.sqrt(a) * Math.cos(c),
  ];
  return ([p = 0, q = 0, r = 0]) => [
    (1 - 2 * (y * y + z * z)) * p + 2 * (x * y - z * w) * q + 2 * (x * z + y * w) * r,
    2 * (x * y + z * w) * p + (1 - 2 * (x * x + z * z)) * q + 2 * (y * z - x * w) * r,
    2 * (x * z - y * w) * p + 2 * (y * z + x * w) * q + (1 - 2 * (x * x + y * y)) * r,
  ];
}
