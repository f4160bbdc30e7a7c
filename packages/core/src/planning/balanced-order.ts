import { CoreError, requireAtLeast } from '../errors/index.js';
import { seededRandom, type Random } from '../numeric/index.js';

/** Setups by index, in the order ridden: per outing its rounds, in each round every setup once. */
export type RidingOrder = readonly (readonly (readonly number[])[])[];

export interface OrderRequest {
  /** 1 to 6. */
  readonly setups: number;
  /** Rounds in all: runs of each setup. */
  readonly rounds: number;
  readonly outings: number;
  readonly seed: number;
  /** Work of changing from one setup to another between two runs; of equally balanced orders the one with least is taken. */
  readonly changeCost?: (from: number, to: number) => number;
}

const MAX_SETUPS = 6;
/** Orders looked at for the one with the least changing. */
const CANDIDATES = 60;

/**
 * A balanced order of runs: rounds alternate so that no setup is always first, and none always follows the same other one.
 *
 * Method: two setups ride AB BA AB BA … (ABBA, then BAAB in the next outing of two rounds); three and more the rows of a Latin
 *         square balanced for carry-over (for an odd number: the square and its mirror). Which setup takes which
 *         place, and the order of the rows, come from the seed. Rounds are shared out evenly over the outings.
 * Fails:  throws `too-short` for less than one setup, round or outing, `out-of-range` above six setups.
 * Source: Williams (1949), Australian Journal of Scientific Research A 2, 149–168.
 */
export function balancedOrder(request: OrderRequest): RidingOrder {
  const { setups, rounds, outings, seed, changeCost } = request;
  requireAtLeast(setups, 1, 'setups');
  requireAtLeast(rounds, 1, 'rounds');
  requireAtLeast(outings, 1, 'outings');
  if (setups > MAX_SETUPS) throw new CoreError('out-of-range', `setups must be at most ${MAX_SETUPS}, got ${setups}`);
  const random = seededRandom(seed);
  if (!changeCost) return oneOrder(setups, rounds, outings, random);
  let best: RidingOrder | undefined;
  let least = Infinity;
  for (let k = 0; k < CANDIDATES; k++) {
    const order = oneOrder(setups, rounds, outings, random);
    const cost = order.reduce((sum, outing) => sum + costOf(outing.flat(), changeCost), 0);
    if (cost < least) [best, least] = [order, cost];
  }
  return best!;
}

function costOf(sequence: readonly number[], changeCost: (from: number, to: number) => number): number {
  return sequence.slice(1).reduce((sum, to, k) => sum + (to === sequence[k]! ? 0 : changeCost(sequence[k]!, to)), 0);
}

function oneOrder(setups: number, rounds: number, outings: number, random: Random): RidingOrder {
  const rows: (readonly number[])[] = [];
  while (rows.length < rounds) {
    const labels = shuffled(range(setups), random);
    const square = balancedRows(setups).map((row) => row.map((place) => labels[place]!));
    rows.push(...shuffled(square, random));
  }
  // Outings of whole ABBA blocks would all begin with the same setup: each such outing turns the next one round.
  const evenBefore = (outing: number): number => {
    const sizes = range(outing).map((k) => Math.floor(rounds / outings) + (k < rounds % outings ? 1 : 0));
    return sizes.filter((size) => size % 2 === 0).length;
  };
  let next = 0;
  return range(Math.min(outings, rounds)).map((outing) => {
    const count = Math.floor(rounds / outings) + (outing < rounds % outings ? 1 : 0);
    const taken = rows.slice(next, next + count);
    next += count;
    return setups === 2 ? alternated(rows[0]!, taken.length, next - count + evenBefore(outing)) : taken;
  });
}

/** AB BA AB BA …, begun with AB for an even `start`. */
function alternated(row: readonly number[], count: number, start: number): (readonly number[])[] {
  const turned = [...row].reverse();
  return range(count).map((k) => ((k + start) % 2 === 0 ? row : turned));
}

/** Rows in which every place is taken equally often by every setup, and every setup follows every other equally often. */
function balancedRows(setups: number): number[][] {
  const zigzag = range(setups).map((k) => (k % 2 === 0 ? k / 2 : setups - (k + 1) / 2));
  const square = range(setups).map((shift) => zigzag.map((value) => (value + shift) % setups));
  return setups % 2 === 0 || setups === 1 ? square : [...square, ...square.map((row) => [...row].reverse())];
}

function shuffled<T>(items: readonly T[], random: Random): T[] {
  const mixed = [...items];
  for (let k = mixed.length - 1; k > 0; k--) {
    const j = Math.floor(random() * (k + 1));
    [mixed[k], mixed[j]] = [mixed[j]!, mixed[k]!];
  }
  return mixed;
}

function range(length: number): number[] {
  return Array.from({ length }, (_, k) => k);
}
