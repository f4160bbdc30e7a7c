import { seededRandom, standardNormal, type Random } from '@ebrix/core/numeric';
import type { Reading } from './phone-log.js';
import type { Fix } from './position-source.js';

const M = 1 / 111_320;
const G = 9.81;
const TOP_MPS = 6.5;
const PUSH_MPS2 = 1.3;
const BRAKING_MPS2 = 2.2;
/** Ridden like this over and over, s: stand, ride, brake and stand again. */
const CYCLE_S = 60;
const RIDES_FROM_S = 5;
const BRAKES_FROM_S = 52;
const FIX_MS = 1000;
const FELT_MS = 20;
const RECEIVER_M = 1.5;

export interface Place {
  readonly latitude: number;
  readonly longitude: number;
  readonly distanceM: number;
}

/** A bike that is not there: it rides a course, with starts and stops, as a phone on it would see and feel it. */
export class StandInBike {
  private seconds = 0;
  private distanceM = 0;
  speedMps = 0;
  private pushMps2 = 0;

  constructor(
    private readonly path: readonly Place[],
    private readonly random: Random = seededRandom(7),
  ) {}

  /** So much later. */
  step(seconds: number): void {
    this.seconds += seconds;
    const into = this.seconds % CYCLE_S;
    const wants = into >= RIDES_FROM_S && into < BRAKES_FROM_S;
    this.pushMps2 = wants
      ? PUSH_MPS2 * (1 - (this.speedMps / TOP_MPS) ** 2)
      : this.speedMps > 0 && into >= BRAKES_FROM_S
        ? -BRAKING_MPS2
        : 0;
    this.speedMps = Math.max(0, this.speedMps + this.pushMps2 * seconds);
    this.distanceM += this.speedMps * seconds;
  }

  fix(timeMs: number): Fix {
    const [latitude, longitude] = this.place();
    const off = (): number => RECEIVER_M * standardNormal(this.random) * M;
    return {
      timeMs,
      latitude: latitude + off(),
      longitude: longitude + off(),
      accuracyM: 4,
      altitudeM: 40,
      altitudeAccuracyM: 6,
      speedMps: Math.max(0, this.speedMps + 0.1 * standardNormal(this.random)),
    };
  }

  /** As a phone lying on its back feels it, its long side forwards. */
  felt(): Reading {
    const shaking = 0.05 + (1.2 * this.speedMps) / TOP_MPS;
    const shake = (): number => shaking * standardNormal(this.random);
    return {
      accelerationX: shake(),
      accelerationY: this.pushMps2 + shake(),
      accelerationZ: G + shake(),
      turnRateX: 2 * standardNormal(this.random),
      turnRateY: 2 * standardNormal(this.random),
      turnRateZ: 2 * standardNormal(this.random),
    };
  }

  /** Along the course, round and round; north where there is none. */
  private place(): [number, number] {
    const last = this.path.at(-1);
    if (!last || last.distanceM <= 0) return [this.distanceM * M, 0];
    const way = this.distanceM % last.distanceM;
    const next = this.path.findIndex(({ distanceM }) => distanceM > way);
    const [a, b] = [this.path[Math.max(0, next - 1)]!, this.path[Math.max(0, next)]!];
    const share = b.distanceM > a.distanceM ? (way - a.distanceM) / (b.distanceM - a.distanceM) : 0;
    return [a.latitude + share * (b.latitude - a.latitude), a.longitude + share * (b.longitude - a.longitude)];
  }
}

/** Plays a ride in the place of the phone's own sensors, until it is stopped. */
export function playStandIn(
  path: readonly Place[],
  nowMs: () => number,
  onFix: (fix: Fix) => void,
  onFelt: (reading: Reading) => void,
): () => void {
  const bike = new StandInBike(path);
  let lastMs = nowMs();
  const felt = setInterval(() => {
    const now = nowMs();
    bike.step((now - lastMs) / 1000);
    lastMs = now;
    onFelt(bike.felt());
  }, FELT_MS);
  const fixes = setInterval(() => onFix(bike.fix(nowMs())), FIX_MS);
  return () => {
    clearInterval(felt);
    clearInterval(fixes);
  };
}
