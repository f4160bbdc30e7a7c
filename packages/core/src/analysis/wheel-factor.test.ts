import { logOfColumns } from '../testing/test-logs.js';
import { analyseTest } from './index.js';
import { readingsWithWheelFactor, withWheelFactor } from './wheel-factor.js';

/** Twenty minutes at some 22 km/h and 200 W. */
const wheelLog = () =>
  logOfColumns(1200, 1, {
    'speed (km/h)': (t) => 22 + Math.sin(t / 30),
    'distance (m)': (t) => (22 * t - 30 * (Math.cos(t / 30) - 1)) / 3.6,
    'voltage (V)': (t) => 50 - t / 1000,
    'current (A)': (t) => 4 + 0.5 * Math.sin(t / 20),
  });
const valueOf = (analysis: ReturnType<typeof analyseTest>, key: string): number =>
  analysis.figures.find((figure) => figure.key === key)!.value;

describe('a wheel circumference that was set wrong', () => {
  it('is put right in distance, speed and consumption alike, and leaves the log as it was', () => {
    const log = wheelLog();
    const before = Array.from(log.channels.speed!);
    const [as, right] = [analyseTest('range', log, {}), analyseTest('range', log, { wheelFactor: 0.95 })];
    expect(valueOf(right, 'distance')).toBeCloseTo(0.95 * valueOf(as, 'distance'), 6);
    expect(valueOf(right, 'meanMovingSpeed')).toBeCloseTo(0.95 * valueOf(as, 'meanMovingSpeed'), 3);
    expect(valueOf(right, 'netConsumption')).toBeCloseTo(valueOf(as, 'netConsumption') / 0.95, 5);
    expect(right.warnings.map(({ code }) => code)).toContain('wheel-corrected');
    expect(Array.from(log.channels.speed!)).toEqual(before);
  });

  it('once is as it was, and twice is the product', () => {
    const log = wheelLog();
    expect(withWheelFactor(log, 1).channels.speed).toEqual(log.channels.speed);
    const twice = withWheelFactor(withWheelFactor(log, 0.9), 1.1).channels.distance!;
    const once = withWheelFactor(log, 0.99).channels.distance!;
    twice.forEach((value, k) => expect(value).toBeCloseTo(once[k]!, 9));
  });

  it('takes readings of the display along, and nothing that is not counted by the wheel', () => {
    const readings = readingsWithWheelFactor(
      { tripDistanceKm: 10, highestSpeedKmh: 30, restVoltageStartV: 54, barsOut: [{ km: 5, left: 3 }] },
      0.9,
    );
    expect(readings).toEqual({
      tripDistanceKm: 9,
      highestSpeedKmh: 27,
      restVoltageStartV: 54,
      barsOut: [{ km: 4.5, left: 3 }],
    });
  });
});
