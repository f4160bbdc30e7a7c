import { wander } from '../testing/plain-ride.js';
import { seededRandom, type Random } from '../numeric/index.js';
import { trackLength } from './track-length.js';

type Road = (way: number, random: Random) => number;
/** Change of direction per metre, or all at once at a corner. */
const ROADS: Readonly<Record<string, () => Road>> = {
  straight: () => () => 0,
  streets: () => {
    let next = 100;
    return (way, random) => {
      if (way < next) return 0;
      next = way + 60 + 200 * random();
      return random() < 0.5 ? Math.PI / 2 : -Math.PI / 2;
    };
  },
  winding: () => (way) => (0.65 * Math.sin(way / 40)) / 45,
};

/** Five kilometres with stops, seen every so many seconds by positions that wander by a size with a memory. */
function ride(roadOf: () => Road, stepS: number, sizeM: number, memoryS: number, random: Random) {
  const road = roadOf();
  const [x, y, t]: [number[], number[], number[]] = [[], [], []];
  let [east, north, heading, v, time, way, stopAt, standing, since] = [0, 0, 0, 0, 0, 0, 400, 0, 0];
  while (way < 5000) {
    if (standing > 0) {
      standing -= 0.1;
      v = 0;
    } else {
      v = Math.min(6.5, v + 0.1);
      if (way > stopAt) [standing, stopAt] = [5 + 40 * random(), way + 250 + 500 * random()];
    }
    if (since <= 1e-9) {
      x.push(east);
      y.push(north);
      t.push(time);
      since = stepS;
    }
    if (v > 0) heading += road(way, random);
    east += Math.sin(heading) * v * 0.1;
    north += Math.cos(heading) * v * 0.1;
    way += v * 0.1;
    since -= 0.1;
    time += 0.1;
  }
  const [offX, offY] = [0, 1].map(() => wander(random, x.length, stepS, sizeM, memoryS)) as [number[], number[]];
  const latitude = Float64Array.from(y, (metres, k) => 40 + (metres + offY[k]!) / 111_194.93);
  const longitude = Float64Array.from(
    x,
    (metres, k) => 5 + (metres + offX[k]!) / 111_194.93 / Math.cos((40 * Math.PI) / 180),
  );
  const track = trackLength(Float64Array.from(t), { latitude, longitude }, true)!;
  return { way, track, off: track.cumulativeM.at(-1)! / way - 1 };
}

describe('the length of a track', () => {
  it.each(
    Object.keys(ROADS).flatMap(
      (road) =>
        [
          [road, 1, 0, 1, 0.003],
          [road, 1, 1, 20, 0.01],
          [road, 1, 2.5, 60, 0.01],
          [road, 1, 2.5, 10, 0.025],
          [road, 2, 1, 20, 0.01],
          [road, 5, 2, 30, 0.02],
        ] as const,
    ),
  )('%s, every %d s, wandering by %d m for %d s: right within %d', (road, stepS, sizeM, memoryS, limit) => {
    const random = seededRandom(road.length + 10 * stepS + memoryS);
    for (let n = 0; n < 6; n++)
      expect(Math.abs(ride(ROADS[road]!, stepS, sizeM, memoryS, random).off)).toBeLessThan(limit);
  });
  it('says how unsure it is where positions are so far apart that bends lie between them', () => {
    const random = seededRandom(9);
    for (const road of ['streets', 'winding'])
      for (let n = 0; n < 6; n++) {
        const { off, way, track } = ride(ROADS[road]!, 10, 2, 30, random);
        expect(Math.abs(off)).toBeLessThan((2.5 * Math.hypot(track.noiseUncertaintyM, 0.006 * way)) / way);
      }
  });
  it('is none of a bike that only stands, however its positions wander, and needs three positions', () => {
    const random = seededRandom(4);
    const still = (): Float64Array =>
      Float64Array.from(wander(random, 600, 1, 2.5, 20), (metres) => 40 + metres / 111_194.93);
    const t = Float64Array.from({ length: 600 }, (_, k) => k);
    expect(trackLength(t, { latitude: still(), longitude: still() }, true)!.cumulativeM.at(-1)).toBeLessThan(40);
    expect(
      trackLength(t.subarray(0, 2), { latitude: still().subarray(0, 2), longitude: still().subarray(0, 2) }, true),
    ).toBeUndefined();
    expect(trackLength(t, {}, true)).toBeUndefined();
  });
});
