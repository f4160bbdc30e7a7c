import { appendFileSync } from 'node:fs';
import type { Figure } from '../analysis/index.js';
import { median } from '../numeric/index.js';

/** Path of a file for the counts of a whole table (`npm run bench`), and how many rides it takes; the tests by themselves are content with fewer. */
const TABLE = process.env['EBRIX_COVERAGE'];
const RIDES_OF_TABLE = Number(process.env['EBRIX_COVERAGE_RIDES'] ?? 400);

/** As many rides as a test is content with, or as a whole table asks. */
export function ridesOf(usual: number): number {
  return TABLE ? RIDES_OF_TABLE : usual;
}

export interface Held {
  readonly given: number;
  /** Share of the given intervals that hold the truth. */
  readonly held: number;
  /** Median of |value − truth| ÷ standard uncertainty: 0.67 where errors are normal and stated as they are. */
  readonly medianZ: number;
}

/** Counts how often the 95 % intervals of figures hold what a simulation drew. */
export class Coverage {
  readonly #zOf = new Map<string, { z: number; isHeld: boolean }[]>();

  /** A figure that is not given is counted nowhere: a test that wants it looks at `given`. */
  see(figures: readonly Figure[], truth: Readonly<Record<string, number>>): void {
    for (const [key, value] of Object.entries(truth)) {
      const figure = figures.find((one) => one.key === key);
      if (!figure) continue;
      const [low, high] = figure.interval95;
      const seen = this.#zOf.get(key) ?? [];
      this.#zOf.set(key, seen);
      seen.push({
        z: Math.abs(figure.value - value) / figure.standardUncertainty,
        isHeld: low <= value && value <= high,
      });
    }
  }

  of(key: string): Held {
    const seen = this.#zOf.get(key) ?? [];
    return {
      given: seen.length,
      held: seen.filter(({ isHeld }) => isHeld).length / seen.length,
      medianZ: median(seen.map(({ z }) => z)) ?? NaN,
    };
  }

  /** Every figure that was given holds the truth in this share of its intervals or more; the table, if one is made, gets its lines. */
  expectHeld(simulation: string, least = 0.9): void {
    for (const key of this.#zOf.keys()) {
      const found = this.of(key);
      if (TABLE) appendFileSync(TABLE, `${JSON.stringify({ simulation, key, ...found })}\n`);
      // The table is looked at as a whole: one line of it does not end it.
      else expect({ key, isHeld: found.held >= least || found.held }).toEqual({ key, isHeld: true });
    }
  }
}
