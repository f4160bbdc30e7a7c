/** A place on the earth, degrees. */
export interface Place {
  readonly latitude: number;
  readonly longitude: number;
}
export interface PathPlace extends Place {
  /** Along the course from its start, m. */
  readonly distanceM: number;
}
export interface GateAhead {
  readonly name: string;
  readonly distanceM: number;
}

const M_PER_DEGREE = 111_320;
/** Farther from the course than this nobody is on it, beside what the receiver itself is unsure by. */
const ON_COURSE_M = 25;
/** A fix this unsure tells no place. */
const LEAST_SURE_M = 60;
/** The place found last is trusted so far back and so far ahead: a course that crosses itself is not jumped along. */
const BACK_M = 40;
const AHEAD_PER_S = 25;
/** So far before its first place a way is still ridden along. */
const BEFORE_M = 60;

/** A course whose ends lie as near to each other as this comes round. */
const ROUND_M = 60;

/** A way that is ridden several times, one lap behind the other, with its gates in each; once where it does not come round. */
export function lapped<G extends GateAhead>(
  path: readonly PathPlace[],
  gates: readonly G[],
  { laps, lengthM }: { readonly laps: number; readonly lengthM: number | null },
): { readonly path: readonly PathPlace[]; readonly gates: readonly G[] } {
  const [first, last] = [path[0], path.at(-1)];
  if (laps <= 1 || lengthM === null || !first || !last || apartM(first, last) > ROUND_M) return { path, gates };
  const each = Array.from({ length: laps }, (_, lap) => lap * lengthM);
  const behind = <T extends { readonly distanceM: number }>(list: readonly T[]): T[] =>
    each.flatMap((beforeM) => list.map((one) => ({ ...one, distanceM: one.distanceM + beforeM })));
  return { path: behind(path), gates: behind(gates) };
}

function apartM(a: Place, b: Place): number {
  const east = Math.cos((a.latitude * Math.PI) / 180) * M_PER_DEGREE;
  return Math.hypot((b.longitude - a.longitude) * east, (b.latitude - a.latitude) * M_PER_DEGREE);
}

/** Follows a rider along a course by positions, and says which gates were passed, each once. */
export class PositionGates<G extends GateAhead = GateAhead> {
  private lastM: number | undefined;
  private lastS = 0;
  private readonly passed = new Set<number>();

  /** `path`: at least two places in order along the course; gates in any order. */
  constructor(
    private readonly path: readonly PathPlace[],
    private readonly gates: readonly G[],
  ) {}

  /** Where the rider is along the course, m; undefined while off it or not known. */
  get alongM(): number | undefined {
    return this.lastM;
  }

  /** The next gate that was not passed yet, and how far it is. */
  next(): (G & { readonly awayM: number }) | undefined {
    const { lastM } = this;
    if (lastM === undefined) return undefined;
    const ahead = this.gates
      .filter(({ distanceM }, k) => !this.passed.has(k) && distanceM > lastM)
      .sort((a, b) => a.distanceM - b.distanceM)[0];
    return ahead && { ...ahead, awayM: ahead.distanceM - lastM };
  }

  /**
   * One fix: seconds of the phone's clock, place, and what the receiver says it is unsure by (95 %, m).
   * Gives the gates that lie between the place before and this one, with the second at which each was passed, by the straight line between both.
   */
  take(timeS: number, place: Place, accuracyM: number): readonly { readonly gate: G; readonly timeS: number }[] {
    if (!(accuracyM <= LEAST_SURE_M)) return [];
    const found = this.nearest(place, timeS);
    if (!found || found.awayM > ON_COURSE_M + accuracyM) return [];
    const { lastM: beforeM, lastS: beforeS } = this;
    this.lastM = found.alongM;
    this.lastS = timeS;
    if (beforeM === undefined || found.alongM <= beforeM) return [];
    return this.gates.flatMap((gate, k) => {
      // Who comes to the first place from the side stood at nought along the way.
      const isAhead = gate.distanceM > beforeM || (gate.distanceM === beforeM && beforeM <= 0);
      if (this.passed.has(k) || !isAhead || gate.distanceM > found.alongM) return [];
      this.passed.add(k);
      const part = (gate.distanceM - beforeM) / (found.alongM - beforeM);
      return [{ gate, timeS: beforeS + part * (timeS - beforeS) }];
    });
  }

  private nearest(place: Place, timeS: number): { alongM: number; awayM: number } | undefined {
    const east = Math.cos((place.latitude * Math.PI) / 180) * M_PER_DEGREE;
    const reach =
      this.lastM === undefined
        ? [-Infinity, Infinity]
        : [this.lastM - BACK_M, this.lastM + BACK_M + AHEAD_PER_S * Math.max(1, timeS - this.lastS)];
    const found: { alongM: number; awayM: number }[] = [];
    for (let k = 1; k < this.path.length; k++) {
      const [a, b] = [this.path[k - 1]!, this.path[k]!];
      if (b.distanceM < reach[0]! || a.distanceM > reach[1]!) continue;
      const [ax, ay] = [(a.longitude - place.longitude) * east, (a.latitude - place.latitude) * M_PER_DEGREE];
      const [dx, dy] = [(b.longitude - a.longitude) * east, (b.latitude - a.latitude) * M_PER_DEGREE];
      const square = dx * dx + dy * dy;
      const lengthM = b.distanceM - a.distanceM;
      const least = k === 1 && lengthM > 0 ? -BEFORE_M / lengthM : 0;
      const part = square > 0 ? Math.min(1, Math.max(least, -(ax * dx + ay * dy) / square)) : 0;
      const awayM = Math.hypot(ax + part * dx, ay + part * dy);
      found.push({ alongM: a.distanceM + part * lengthM, awayM });
    }
    const nearestM = Math.min(...found.map(({ awayM }) => awayM));
    if (this.lastM !== undefined) return found.find(({ awayM }) => awayM === nearestM);
    // The end of a round lies where its start is: who sets off is at the start.
    return found
      .filter(({ awayM }) => awayM <= nearestM + ON_COURSE_M)
      .reduce<(typeof found)[number] | undefined>((a, b) => (a && a.alongM <= b.alongM ? a : b), undefined);
  }
}
