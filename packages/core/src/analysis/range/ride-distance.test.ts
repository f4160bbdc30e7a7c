import fc from 'fast-check';
import { logOf, logOfColumns } from '../../testing/test-logs.js';
import { rideDistance } from './ride-distance.js';

const table = (header: string, rows: readonly (readonly number[])[]) =>
  logOf([header, ...rows.map((row) => row.join(','))].join('\n'));

describe('the distance of a ride', () => {
  it('is the wheel’s where it counted, whatever the speed says', () => {
    const found = rideDistance(logOfColumns(100, 1, { 'distance (m)': (t) => 6 * t, 'speed (km/h)': () => 30 }))!;
    expect(found.source).toBe('wheel distance');
    expect(found.distanceM).toBeCloseTo(600, 6);
  });
  it('goes on through a display that was set to zero on the way, but for the step in which it was', () => {
    const rows = Array.from({ length: 201 }, (_, t) => [t, t < 100 ? 5 * t : 5 * (t - 100)]);
    expect(rideDistance(table('time (s),distance (m)', rows))!.distanceM).toBeCloseTo(5 * 199, 6);
  });
  it('leaves out a jump that no bike rides', () => {
    const rows = Array.from({ length: 101 }, (_, t) => [t, 5 * t + (t >= 50 ? 90_000 : 0)]);
    expect(rideDistance(table('time (s),distance (m)', rows))!.distanceM).toBeCloseTo(5 * 99, 0);
  });
  it('is the integral of the speed, at any steady speed and rate', () =>
    fc.assert(
      fc.property(fc.double({ min: 5, max: 40, noNaN: true }), fc.constantFrom(1, 4, 10), (kmh, hz) => {
        const found = rideDistance(logOfColumns(60, hz, { 'speed (km/h)': () => kmh }))!;
        expect(found.source).toBe('speed over time');
        expect(Math.abs(found.distanceM / ((kmh / 3.6) * 60) - 1)).toBeLessThan(1e-3);
      }),
      { numRuns: 20 },
    ));
  it('says how much of it lies in a gap, and how unsure that is', () => {
    const rows = Array.from({ length: 400 }, (_, t) => [t < 200 ? t : t + 40, 18 + 3 * Math.sin(t / 25)]);
    const found = rideDistance(table('time (s),speed (km/h)', rows))!;
    expect(found.acrossGapsM).toBeGreaterThan(40 * 3);
    expect(found.acrossGapsM).toBeLessThan(41 * 7);
    expect(found.uncertaintyAcrossGapsM).toBeGreaterThan(0);
  });
  it('is that between positions where nothing else was logged', () => {
    const rows = Array.from({ length: 101 }, (_, t) => [t, 47 + t * 5e-5, 8]);
    const found = rideDistance(table('time (s),latitude,longitude', rows))!;
    expect(found.source).toBe('positions');
    // One degree of latitude is 111.195 km on the mean sphere.
    expect(found.distanceM).toBeCloseTo(100 * 5e-5 * 111_195, 0);
  });
  it('is unknown where nothing tells it', () =>
    expect(rideDistance(logOfColumns(60, 1, { 'voltage (V)': () => 50 }))).toBeUndefined());
});
