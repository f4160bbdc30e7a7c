import { PathFollower, type PathPlace, type Place } from '../track/index.js';

export interface GateAhead {
  readonly name: string;
  readonly distanceM: number;
}

/** Says which gates of a course a rider passes by positions, each once. */
export class PositionGates<G extends GateAhead = GateAhead> {
  private readonly follower: PathFollower;
  private lastS = 0;
  private readonly passed = new Set<number>();

  /** `path`: at least two places in order along the course; gates in any order. */
  constructor(
    path: readonly PathPlace[],
    private readonly gates: readonly G[],
  ) {
    this.follower = new PathFollower(path);
  }

  /** Where the rider is along the course, m; undefined while off it or not known. */
  get alongM(): number | undefined {
    return this.follower.alongM;
  }

  /** The next gate that was not passed yet, and how far it is. */
  next(): (G & { readonly awayM: number }) | undefined {
    const lastM = this.alongM;
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
    const [beforeM, beforeS] = [this.alongM, this.lastS];
    const found = this.follower.take(timeS, place, accuracyM);
    if (!found) return [];
    this.lastS = timeS;
    const { alongM, isNext } = found;
    if (beforeM === undefined || !isNext || alongM <= beforeM) return [];
    return this.gates.flatMap((gate, k) => {
      // Who comes to the first place from the side stood at nought along the way.
      const isAhead = gate.distanceM > beforeM || (gate.distanceM === beforeM && beforeM <= 0);
      if (this.passed.has(k) || !isAhead || gate.distanceM > alongM) return [];
      this.passed.add(k);
      const part = (gate.distanceM - beforeM) / (alongM - beforeM);
      return [{ gate, timeS: beforeS + part * (timeS - beforeS) }];
    });
  }
}
