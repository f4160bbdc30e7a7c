import { channelRange, clockTicks, nearestBin, stripPath } from './strip-path.js';

const channel = (timesS: number[], values: (number | null)[]) => ({
  name: 'speed' as const,
  label: 'speed',
  unit: 'km/h' as const,
  timesS,
  low: values,
  high: values,
});
const same = (v: number): number => v;

describe('the line of a channel', () => {
  it('is lifted over missing samples and over gaps', () => {
    expect(stripPath(channel([0, 1, 2, 3], [1, null, 3, 4]), [], same, same)).toBe('M0.0 1.0M2.0 3.0L3.0 4.0');
    expect(stripPath(channel([0, 1, 30, 31], [1, 2, 3, 4]), [{ startS: 1, endS: 30 }], same, same)).toBe(
      'M0.0 1.0L1.0 2.0M30.0 3.0L31.0 4.0',
    );
  });
  it('has at most two points a bin', () => {
    const wide = { ...channel([0, 1], [1, 2]), high: [5, 6] };
    expect(stripPath(wide, [], same, same).match(/[ML]/g)).toHaveLength(4);
  });
  it('has a range only where there is something, from zero when it starts near it', () => {
    expect(channelRange(channel([0], [null]))).toBeUndefined();
    expect(channelRange(channel([0, 1], [3, 30]))).toEqual([0, 30]);
    expect(channelRange(channel([0, 1], [50, 55]))).toEqual([50, 55]);
    expect(channelRange(channel([0], [5]))).toEqual([4, 6]);
  });
  it('finds the nearest reading', () =>
    expect([nearestBin([0, 10, 20], 4), nearestBin([0, 10, 20], 16), nearestBin([0, 10], 99)]).toEqual([0, 2, 1]));
  it('has ticks at round times', () => {
    expect(clockTicks(0, 1600, 6)).toEqual([0, 300, 600, 900, 1200, 1500]);
    expect(clockTicks(61, 64, 3)).toEqual([61, 62, 63, 64]);
  });
});
