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

/** Way and speed out of fixes: by the receiver's own speed where it has one, else by the places. */
export class WayByFixes {
  private last: Fix | undefined;
  distanceM: number;

  constructor(startM = 0) {
    this.distanceM = startM;
  }

  take(fix: Fix): Reading {
    const before = this.last;
    this.last = fix;
    const seconds = before ? (fix.timeMs - before.timeMs) / 1000 : 0;
    const apartM = before ? haversineM(before.latitude, before.longitude, fix.latitude, fix.longitude) : 0;
    const speedMps = fix.speedMps ?? (seconds > 0 ? apartM / seconds : undefined);
    if (before && seconds > 0 && speedMps !== undefined && speedMps > STANDING_MPS) {
      // Places jump by what they are unsure by; the receiver's speed, from the carrier, hardly does.
      this.distanceM +=
        fix.speedMps === null ? apartM : ((before.speedMps ?? fix.speedMps) + fix.speedMps) * 0.5 * seconds;
    }
    return {
      distance: this.distanceM,
      latitude: fix.latitude,
      longitude: fix.longitude,
      ...(speedMps !== undefined && { speed: 3.6 * (speedMps > STANDING_MPS ? speedMps : 0) }),
      ...(fix.altitudeM !== null && (fix.altitudeAccuracyM ?? 0) < LEAST_SURE_HEIGHT_M && { altitude: fix.altitudeM }),
    };
  }
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
