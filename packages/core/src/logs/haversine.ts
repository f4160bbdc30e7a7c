import { EARTH_MEAN_RADIUS_M } from '../units/index.js';

const RADIANS = Math.PI / 180;

/** Great-circle distance in metres between two positions in degrees, on the sphere of mean radius. */
export function haversineM(latitudeA: number, longitudeA: number, latitudeB: number, longitudeB: number): number {
  const halfLatitude = Math.sin(((latitudeB - latitudeA) * RADIANS) / 2);
  const halfLongitude = Math.sin(((longitudeB - longitudeA) * RADIANS) / 2);
  const h = halfLatitude ** 2 + Math.cos(latitudeA * RADIANS) * Math.cos(latitudeB * RADIANS) * halfLongitude ** 2;
  return 2 * EARTH_MEAN_RADIUS_M * Math.asin(Math.min(1, Math.sqrt(h)));
}
