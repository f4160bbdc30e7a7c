import { logOfColumns } from '../testing/test-logs.js';
import { directionsOf } from './directions.js';

/** 100 m by position along a bearing for each span of 20 s. */
const logAlong = (bearings: readonly (number | undefined)[]) => {
  let [north, east] = [0, 0];
  const step = (t: number, part: (radians: number) => number): number => {
    const bearing = bearings[Math.min(bearings.length - 1, Math.floor(t / 20))];
    return bearing === undefined ? 0 : 5 * part((bearing * Math.PI) / 180);
  };
  return logOfColumns(20 * bearings.length - 1, 1, {
    'speed (km/h)': () => 18,
    'latitude (deg)': (t) => 10 + (north += step(t, Math.cos)) / 111_195,
    'longitude (deg)': (t) => 10 + (east += step(t, Math.sin)) / 111_195 / Math.cos((10 * Math.PI) / 180),
  });
};
const spans = (count: number) => Array.from({ length: count }, (_, k) => ({ from: 20 * k, to: 20 * k + 19 }));

describe('directions of spans', () => {
  it('are told by the positions, the first being there, wherever it leads', () => {
    for (const first of [0, 77, 180, 300])
      expect(directionsOf(logAlong([first, first + 180, first + 175, first + 10]), spans(4), undefined)).toEqual({
        of: [1, -1, -1, 1],
        isInTurns: false,
      });
  });
  it('are as noted, and as the tester set them, before what the positions say', () => {
    const log = logAlong([0, 180, 0]);
    expect(directionsOf(log, spans(3), [-1, -1, 1]).of).toEqual([-1, -1, 1]);
    const set = spans(3).map((logSpan, k) => (k === 2 ? { ...logSpan, direction: -1 as const } : logSpan));
    expect(directionsOf(log, set, undefined).of).toEqual([1, -1, -1]);
  });
  it('are taken in turns where nothing tells them, and said to be', () => {
    const silent = logOfColumns(79, 1, { 'speed (km/h)': () => 18 });
    expect(directionsOf(silent, spans(4), undefined)).toEqual({ of: [1, -1, 1, -1], isInTurns: true });
    const still = directionsOf(logAlong([0, undefined, 0, 180]), spans(4), undefined);
    expect(still).toEqual({ of: [1, -1, 1, -1], isInTurns: true });
  });
  it('of a span across the first are neither there nor back', () =>
    expect(directionsOf(logAlong([0, 90]), spans(2), undefined).isInTurns).toBe(true));
});
