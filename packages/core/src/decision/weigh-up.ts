import { seededRandom, standardNormal, type Random } from '../numeric/index.js';
import { worthOf, type ValueFunction } from './value-function.js';

/** One thing that counts for a use, and how much. */
export interface Criterion {
  readonly key: string;
  readonly label: string;
  /** 0 or more; only their shares count. */
  readonly weight: number;
  readonly worth: ValueFunction;
}
/** A bound that a setup has to keep, or it is out. */
export interface MustHave {
  readonly key: string;
  readonly label: string;
  readonly atLeast?: number;
  readonly atMost?: number;
}
/** What is known of one setup in one key: a figure of its runs, a price, a mass, a rating. */
export interface Standing {
  readonly value: number;
  /** 0 for what is known. */
  readonly standardUncertainty: number;
  /** Of it, what an instrument shared by all setups makes: it moves them together. */
  readonly sharedUncertainty?: number;
  /** What it has in common with other setups: deviations by source, each source moving all that name it together. What is left of the whole is its own. */
  readonly sources?: Readonly<Record<string, number>>;
  readonly degreesOfFreedom?: number;
  /** Runs or outings behind it. */
  readonly n?: number;
}
export interface Candidate {
  readonly name: string;
  readonly standings: Readonly<Record<string, Standing>>;
}
export interface Use {
  readonly criteria: readonly Criterion[];
  readonly mustHaves: readonly MustHave[];
}

export interface WeighedSetup {
  readonly name: string;
  /** Shares of the draws: in which it was the best of those that kept every bound, and in which it kept every bound. */
  readonly isBest: number;
  readonly meetsAll: number;
  /** Bounds it broke, the most often broken first. */
  readonly breaks: readonly { readonly key: string; readonly label: string; readonly share: number }[];
  /** Weighted worth, 0…1: mean and 95 % of the draws. */
  readonly worth: { readonly mean: number; readonly low: number; readonly high: number };
  /** Mean worth of each criterion that is known of all, before its weight. */
  readonly parts: Readonly<Record<string, number>>;
}
export interface WeighedUp {
  /** Best first. */
  readonly setups: readonly WeighedSetup[];
  /** Not weighed, since something that counts is not known of them. */
  readonly leftOut: readonly { readonly name: string; readonly missing: readonly string[] }[];
  /** Share of the draws in which no setup kept every bound. */
  readonly noneMeets: number;
}

const DRAWS = 4000;
const LOW = 0.025;

/**
 * Weighs setups up for one use by sampling: in each draw every standing is drawn from its uncertainty (t where it rests on few runs, what
 * setups have in common once for all of them), bounds are kept or broken, and the weighted mean of the worths decides.
 *
 * Shapes: one standing a setup and key; setups without one that counts are left out by name.
 * Method: additive value model with Monte Carlo propagation (Keeney & Raiffa 1976, ch. 3; JCGM 101:2008). Draws by a stated seed.
 */
export function weighUp(use: Use, candidates: readonly Candidate[], seed: number, draws = DRAWS): WeighedUp {
  const keys = keysOf(use);
  const missingOf = ({ standings }: Candidate): string[] => keys.filter((key) => standings[key] === undefined);
  const known = candidates.filter((one) => missingOf(one).length === 0);
  // What has no weight is looked at all the same where it is known of all: its weight may yet be moved.
  const drawnKeys = [
    ...keys,
    ...use.criteria
      .map(({ key }) => key)
      .filter((key) => !keys.includes(key) && known.every(({ standings }) => standings[key] !== undefined)),
  ];
  const random = seededRandom(seed);
  // Where nothing has a weight all are worth the same, nothing.
  const wholeWeight = use.criteria.reduce((sum, { weight }) => sum + weight, 0) || 1;
  const tallies = known.map(() => ({
    best: 0,
    meets: 0,
    broken: use.mustHaves.map(() => 0),
    worths: new Float64Array(draws),
    parts: use.criteria.map(() => 0),
  }));
  let none = 0;
  for (let draw = 0; draw < draws; draw++) {
    const drawn = drawStandings(drawnKeys, known, random);
    // Several where they are worth the same: then they share the draw.
    let best: number[] = [];
    known.forEach((_, s) => {
      const tally = tallies[s]!;
      const values = drawn[s]!;
      let keepsAll = true;
      use.mustHaves.forEach(({ key, atLeast = -Infinity, atMost = Infinity }, m) => {
        if (values[key]! >= atLeast && values[key]! <= atMost) return;
        tally.broken[m]!++;
        keepsAll = false;
      });
      let worth = 0;
      use.criteria.forEach(({ key, weight, worth: of }, c) => {
        if (values[key] === undefined) return;
        const part = worthOf(of, values[key]);
        tally.parts[c]! += part;
        worth += (weight * part) / wholeWeight;
      });
      tally.worths[draw] = worth;
      if (!keepsAll) return;
      tally.meets++;
      const ahead = best.length === 0 ? Infinity : worth - tallies[best[0]!]!.worths[draw]!;
      if (ahead > 0) best = [s];
      else if (ahead === 0) best.push(s);
    });
    if (best.length === 0) none++;
    for (const s of best) tallies[s]!.best += 1 / best.length;
  }
  const setups = known.map(({ name }, s): WeighedSetup => {
    const { best, meets, broken, worths, parts } = tallies[s]!;
    const sorted = worths.toSorted();
    const at = (share: number): number => sorted[Math.round(share * (draws - 1))]!;
    return {
      name,
      isBest: best / draws,
      meetsAll: meets / draws,
      breaks: use.mustHaves
        .map(({ key, label }, m) => ({ key, label, share: broken[m]! / draws }))
        .filter(({ share }) => share > 0)
        .sort((a, b) => b.share - a.share),
      worth: { mean: worths.reduce((sum, one) => sum + one, 0) / draws, low: at(LOW), high: at(1 - LOW) },
      parts: Object.fromEntries(
        use.criteria.flatMap(({ key }, c) => (drawnKeys.includes(key) ? [[key, parts[c]! / draws]] : [])),
      ),
    };
  });
  return {
    setups: setups.sort((a, b) => b.isBest - a.isBest || b.worth.mean - a.worth.mean),
    leftOut: candidates.flatMap((one) => {
      const missing = missingOf(one);
      return missing.length > 0 ? [{ name: one.name, missing }] : [];
    }),
    noneMeets: none / draws,
  };
}

/** All keys that count, each once. */
export function keysOf({ criteria, mustHaves }: Use): string[] {
  return [
    ...new Set([
      ...criteria.filter(({ weight }) => weight > 0).map(({ key }) => key),
      ...mustHaves.map(({ key }) => key),
    ]),
  ];
}

function drawStandings(
  keys: readonly string[],
  candidates: readonly Candidate[],
  random: Random,
): Record<string, number>[] {
  const drawn = candidates.map((): Record<string, number> => ({}));
  for (const key of keys) {
    const together = standardNormal(random);
    const sources = new Map<string, number>();
    let scale: number | undefined;
    candidates.forEach(({ standings }, s) => {
      const {
        value,
        standardUncertainty,
        sharedUncertainty = 0,
        degreesOfFreedom = Infinity,
        sources: own,
      } = standings[key]!;
      if (!own) {
        const left = Math.sqrt(Math.max(0, standardUncertainty ** 2 - sharedUncertainty ** 2));
        drawn[s]![key] = value + sharedUncertainty * together + left * studentDraw(random, degreesOfFreedom);
        return;
      }
      // One scatter was estimated for all: it is too small or too large for all of them together.
      scale ??= studentScale(random, degreesOfFreedom);
      let [sum, squares] = [0, 0];
      for (const source in own) {
        let z = sources.get(source);
        if (z === undefined) sources.set(source, (z = standardNormal(random)));
        sum += own[source]! * z;
        squares += own[source]! ** 2;
      }
      const left = Math.sqrt(Math.max(0, standardUncertainty ** 2 - squares));
      drawn[s]![key] = value + scale * (sum + left * standardNormal(random));
    });
  }
  return drawn;
}

/** More degrees of freedom than this are none to speak of. */
const MANY = 60;
/** A draw of Student's t: a normal over the root of a mean of squares of normals. */
function studentDraw(random: Random, degreesOfFreedom: number): number {
  return standardNormal(random) * studentScale(random, degreesOfFreedom);
}
function studentScale(random: Random, degreesOfFreedom: number): number {
  if (!(degreesOfFreedom <= MANY)) return 1;
  return 1 / Math.sqrt(chiSquareDraw(random, Math.max(1, degreesOfFreedom)) / Math.max(1, degreesOfFreedom));
}

/** Twice a draw of the gamma distribution of half the degrees of freedom (Marsaglia & Tsang 2000); below two by one normal more. */
function chiSquareDraw(random: Random, degreesOfFreedom: number): number {
  if (degreesOfFreedom < 2) {
    const shape = degreesOfFreedom / 2;
    return chiSquareDraw(random, degreesOfFreedom + 2) * random() ** (1 / shape);
  }
  const d = degreesOfFreedom / 2 - 1 / 3;
  const c = 1 / Math.sqrt(9 * d);
  for (;;) {
    const z = standardNormal(random);
    const v = (1 + c * z) ** 3;
    if (v > 0 && Math.log(1 - random()) < z ** 2 / 2 + d - d * v + d * Math.log(v)) return 2 * d * v;
  }
}
