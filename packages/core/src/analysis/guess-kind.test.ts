import { logOfColumns } from '../testing/test-logs.js';
import { guessKind, isSteppedLoad } from './guess-kind.js';

const kindOf = (columns: Record<string, (t: number) => number>, seconds: number, distanceM: number | null): string =>
  guessKind(logOfColumns(seconds, 2, columns), distanceM)[0];
const square = (t: number, period: number, on: number): boolean => t % period < on;

describe('the kind of test that a part of a log looks like', () => {
  it('is levels where three of them were held for half a minute each', () =>
    expect(kindOf({ 'speed (km/h)': () => 20, 'assist level': (t) => Math.floor(t / 60) }, 200, 1100)).toBe(
      'assist-levels',
    ));
  it('is a range ride where the level was changed now and then on a long way', () =>
    expect(kindOf({ 'speed (km/h)': () => 20, 'assist level': (t) => (square(t, 300, 280) ? 3 : 4) }, 1200, 6600)).toBe(
      'range',
    ));
  it('is a response test of standing starts on a short way', () =>
    expect(
      kindOf(
        { 'speed (km/h)': (t) => (square(t, 25, 12) ? 0 : 14), 'current (A)': (t) => (square(t, 25, 12) ? 0 : 6) },
        150,
        300,
      ),
    ).toBe('assist-response'));
  it('is a climb where the way rises by more than three in a hundred', () => {
    const climb = { 'speed (km/h)': () => 12, 'altitude (m)': (t: number) => 200 + 0.2 * t };
    expect(kindOf(climb, 300, 1000)).toBe('hill-climb');
    const level = { ...climb, 'altitude (m)': (t: number) => 200 + 0.01 * t };
    expect(kindOf(level, 300, 1000)).toBe('range');
  });
  it('is top speed where fast passes have turns between them', () =>
    expect(kindOf({ 'speed (km/h)': (t) => (square(t, 60, 35) ? 30 : 6) }, 240, 1600)).toBe('top-speed'));
  it('is a battery test where a standing pack is loaded in steps, with or without a speed', () => {
    const loads = { 'voltage (V)': () => 50, 'current (A)': (t: number) => (square(t, 60, 30) ? 8 : 0) };
    expect(kindOf(loads, 240, null)).toBe('battery');
    expect(kindOf({ ...loads, 'speed (km/h)': () => 0 }, 240, 0)).toBe('battery');
    expect(isSteppedLoad(logOfColumns(240, 2, { ...loads, 'speed (km/h)': () => 18 }))).toBe(false);
  });
  it('is an ordinary ride where nothing speaks for another', () => {
    expect(kindOf({ 'speed (km/h)': () => 22 }, 1200, 7300)).toBe('range');
    expect(guessKind(logOfColumns(60, 2, { 'voltage (V)': () => 50 }), null)[1]).toBe('an ordinary ride');
  });
});
