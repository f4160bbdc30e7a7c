import { seededRandom, standardNormal } from '../numeric/index.js';

/** A way as it was truly ridden: speed by time, straight to the north, on a slope. */
export interface TrueRide {
  readonly seconds: number;
  readonly mps: (t: number) => number;
  /** Along the way, of one. */
  readonly grade?: (m: number) => number;
  /** Turned round: the way goes back. */
  readonly turnsAtS?: readonly number[];
}

/**
 * What a phone writes of it once a second, by plain formulas: a speed that is late and filtered, places and heights that wander (errors of one
 * second like those of the last), a gain of its own.
 */
export function phoneLogOf(ride: TrueRide, seed: number): { csv: string; distanceM: number; climbedM: number } {
  const random = seededRandom(seed);
  const normal = (): number => standardNormal(random);
  const STEP = 0.02;
  const filterS = 0.2 + 0.8 * random();
  const gain = 1 + 0.004 * (2 * random() - 1);
  let [wayM, placeM, heightM, shown, counted] = [0, 0, 30, ride.mps(0), 0];
  let [speedError, north, east, up] = [0, 4 * normal(), 4 * normal(), 5 * normal()];
  let direction = 1;
  const turns = [...(ride.turnsAtS ?? [])];
  const rows = ['time (s),speed (km/h),distance (m),latitude (deg),longitude (deg),altitude (m)'];
  let next = random();
  let climbedM = 0;
  let before: number | undefined;
  for (let t = 0; t <= ride.seconds; t += STEP) {
    if (turns[0] !== undefined && t >= turns[0]) {
      turns.shift();
      direction = -direction;
    }
    const v = ride.mps(t);
    wayM += v * STEP;
    placeM += direction * v * STEP;
    const rise = (ride.grade?.(placeM) ?? 0) * direction * v * STEP;
    heightM += rise;
    climbedM += Math.max(0, rise);
    shown += ((v - shown) * STEP) / filterS;
    if (t < next) continue;
    next += 1;
    speedError = 0.7 * speedError + 0.07 * normal();
    north = 0.95 * north + 1.2 * normal();
    east = 0.95 * east + 1.2 * normal();
    up = 0.97 * up + normal();
    const read = Math.max(0, gain * shown + speedError);
    const kept = read < 0.6 ? 0 : read;
    counted += before === undefined ? 0 : (before + kept) / 2;
    before = kept;
    const place = [(placeM + north) / 111_320, east / 111_320].map((degrees) => degrees.toFixed(7));
    rows.push(
      [t.toFixed(2), (3.6 * kept).toFixed(2), counted.toFixed(1), ...place, (heightM + up).toFixed(1)].join(','),
    );
  }
  return { csv: [...rows, ''].join('\n'), distanceM: wayM, climbedM };
}
