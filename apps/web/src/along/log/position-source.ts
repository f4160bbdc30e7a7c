import { haversineM } from '@ebrix/core/logs';
import type { Reading } from './phone-log.js';

export interface Fix {
  readonly timeMs: number;
  readonly latitude: number;
  readonly longitude: number;
  /** 95 %, as the receiver states it, m. */
  readonly accuracyM: number;
  readonly altitudeM: number | null;
  readonly altitudeAccuracyM: number | null;
  readonly speedMps: number | null;
}
/** Slower than this a receiver's place wanders although the bike stands, m/s. */
const STANDING_MPS = 0.6;
/** Heights less sure than this are no heights. */
const LEAST_SURE_HEIGHT_M = 30;
/** A longer pause between two fixes is a gap, s. */
const LONGEST_STEP_S = 4;

/** Without the receiver's own speed a place counts only so far from the last that counted: nearer, it is the receiver that moved. */
const LEAST_STEP_M = 12;
const UNSURE_STEPS = 1.5;
/** The speed of places is taken over this long, ms. */
const SPEED_OVER_MS = 4000;

/** A wheel sensor that was heard so lately says way and speed, and the fixes only where, ms. */
const WHEEL_FRESH_MS = 3000;

/** Way and speed out of fixes: by the receiver's own speed, which it has from the carrier, where it says one; else by the places. */
export class WayByFixes {
  private last: Fix | undefined;
  private anchor: Fix | undefined;
  private recent: Fix[] = [];
  private countedM: number;
  distanceM: number;

  private wheelTurns: number | undefined;
  private wheelMs = -Infinity;
  private wheelKmh = 0;

  constructor(startM = 0) {
    this.distanceM = startM;
    this.countedM = startM;
  }

  /** Goes on from where an earlier start of the app was: what was ridden meanwhile is the way between both places. */
  resume(last: Fix): void {
    this.last = last;
    this.anchor = last;
  }

  /** What a wheel sensor counted since it was first heard; `metres`: one turn. */
  turn(turns: number, rpm: number, metres: number, nowMs: number): Reading {
    const before = this.wheelTurns;
    // Heard anew after it was away, it may have begun again, and the fixes have counted meanwhile.
    const isGoingOn = before !== undefined && turns >= before && nowMs - this.wheelMs <= WHEEL_FRESH_MS;
    if (isGoingOn) this.distanceM += (turns - before) * metres;
    this.wheelTurns = turns;
    this.wheelMs = nowMs;
    this.wheelKmh = (3.6 * rpm * metres) / 60;
    return { distance: this.distanceM, speed: this.wheelKmh };
  }

  /** km/h; undefined where no wheel sensor was heard lately. */
  wheelSpeedAt(ms: number): number | undefined {
    return ms - this.wheelMs <= WHEEL_FRESH_MS ? this.wheelKmh : undefined;
  }

  /** `nowMs`: by the clock that the wheel is told by; a receiver's own may be minutes off. */
  take(fix: Fix, nowMs = fix.timeMs): Reading {
    const before = this.last;
    this.last = fix;
    if (this.wheelSpeedAt(nowMs) !== undefined) {
      // The way goes on from here where the sensor falls silent.
      this.anchor = fix;
      this.countedM = this.distanceM;
      this.recent = [];
      return { ...placeOf(fix), distance: this.distanceM };
    }
    const speedMps = fix.speedMps === null ? this.byPlaces(fix) : this.bySpeed(fix, fix.speedMps, before);
    return {
      ...placeOf(fix),
      distance: this.distanceM,
      ...(speedMps !== undefined && { speed: 3.6 * (speedMps > STANDING_MPS ? speedMps : 0) }),
    };
  }

  private bySpeed(fix: Fix, speedMps: number, before: Fix | undefined): number {
    const seconds = before ? (fix.timeMs - before.timeMs) / 1000 : 0;
    // Over a gap the places know more than two speeds.
    if (before && seconds > LONGEST_STEP_S) this.distanceM += apartM(before, fix);
    else if (before && seconds > 0 && speedMps > STANDING_MPS)
      this.distanceM += ((before.speedMps ?? speedMps) + speedMps) * 0.5 * seconds;
    this.countedM = this.distanceM;
    this.anchor = fix;
    return speedMps;
  }

  private byPlaces(fix: Fix): number | undefined {
    this.anchor ??= fix;
    const reachM = apartM(this.anchor, fix);
    this.recent = [...this.recent.filter(({ timeMs }) => fix.timeMs - timeMs <= SPEED_OVER_MS), fix];
    const [oldest] = this.recent as [Fix];
    const seconds = (fix.timeMs - oldest.timeMs) / 1000;
    if (reachM >= Math.max(LEAST_STEP_M, UNSURE_STEPS * fix.accuracyM)) {
      this.countedM += reachM;
      this.anchor = fix;
      this.distanceM = Math.max(this.distanceM, this.countedM);
    }
    return seconds > 0 ? apartM(oldest, fix) / seconds : undefined;
  }
}

function placeOf({ latitude, longitude, altitudeM, altitudeAccuracyM }: Fix): Reading {
  return {
    latitude,
    longitude,
    ...(altitudeM !== null && (altitudeAccuracyM ?? 0) < LEAST_SURE_HEIGHT_M && { altitude: altitudeM }),
  };
}

function apartM(a: Fix, b: Fix): number {
  return haversineM(a.latitude, a.longitude, b.latitude, b.longitude);
}

export type PositionTrouble = 'none-here' | 'not-allowed' | 'no-signal';
/** Follows the phone's position until it is stopped. */
export function watchPosition(onFix: (fix: Fix) => void, onTrouble: (trouble: PositionTrouble) => void): () => void {
  const { geolocation } = navigator as { geolocation?: Geolocation };
  if (!geolocation) {
    onTrouble('none-here');
    return () => undefined;
  }
  const id = geolocation.watchPosition(
    ({ coords, timestamp }) =>
      onFix({
        timeMs: timestamp,
        latitude: coords.latitude,
        longitude: coords.longitude,
        accuracyM: coords.accuracy,
        altitudeM: coords.altitude,
        altitudeAccuracyM: coords.altitudeAccuracy,
        speedMps: coords.speed === null || Number.isNaN(coords.speed) ? null : coords.speed,
      }),
    ({ code }) => onTrouble(code === 1 ? 'not-allowed' : 'no-signal'),
    { enableHighAccuracy: true, maximumAge: 0, timeout: 30_000 },
  );
  return () => geolocation.clearWatch(id);
}
