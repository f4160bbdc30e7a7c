import { compareSpeeds } from './compare-speeds.js';

const METRES_PER_DEGREE = 111_195;
/** A second each at 6 m/s by the wheel times `wheel`; `leapAt`: the bike was carried 1.5 km on in that second. */
function ride(seconds: number, wheel: number, leapAt?: number) {
  const timeS = Float64Array.from({ length: seconds }, (_, k) => k);
  const metres = timeS.map((t) => 6 * t + (leapAt !== undefined && t >= leapAt ? 1500 : 0));
  return {
    timeS,
    channels: {
      speed: timeS.map((t) => wheel * 6 + 0.05 * Math.sin(t)),
      latitude: metres.map((m) => 45 + m / METRES_PER_DEGREE),
      longitude: timeS.map(() => 7),
    },
  };
}
const of = ({ timeS, channels }: ReturnType<typeof ride>) => compareSpeeds(timeS, channels, 3)!;

describe('wheel against positions', () => {
  it('agree, or show the factor by which the wheel is out', () => {
    expect(of(ride(900, 1))).toMatchObject({ isSuspect: false });
    const out = of(ride(900, 1.05));
    expect(out.isSuspect).toBe(true);
    expect(out.ratio).toBeCloseTo(1.05, 2);
  });
  it('do not blame the wheel where the bike was carried on between two rides of one file', () => {
    const { ratio, isSuspect } = of(ride(900, 1, 300));
    expect(isSuspect).toBe(false);
    expect(ratio).toBeCloseTo(1, 2);
  });
  it('are compared across many short gaps too', () => {
    const { timeS, channels } = ride(900, 1.05);
    const kept = [...timeS.keys()].filter((k) => k % 30 < 20);
    const pick = (values: Float64Array): Float64Array => Float64Array.from(kept, (k) => values[k]!);
    const found = compareSpeeds(
      pick(timeS),
      {
        speed: pick(channels.speed),
        latitude: pick(channels.latitude),
        longitude: pick(channels.longitude),
      },
      3,
    );
    expect(found?.isSuspect).toBe(true);
  });
});
