import type { Check } from './check-setup.js';
import type { Need } from './rule.js';

export interface WantedFact {
  readonly need: Need;
  /** How many checks wait for it. */
  readonly checks: number;
  /** How many of them can hurt someone. */
  readonly stops: number;
}

/** What to measure first: the facts that most checks wait for, those that can hurt someone before the rest. */
export function mostWanted(checks: readonly Check[], most: number): WantedFact[] {
  const facts = new Map<string, WantedFact>();
  for (const { needs, state, severity } of checks) {
    if (state !== 'open' && state !== 'likely') continue;
    for (const need of needs) {
      const key = `${need.owner}.${need.field}`;
      const known = facts.get(key) ?? { need, checks: 0, stops: 0 };
      const isStop = severity === 'stop' && state === 'open';
      facts.set(key, { ...known, checks: known.checks + 1, stops: known.stops + (isStop ? 1 : 0) });
    }
  }
  return [...facts.values()].sort((a, b) => b.stops - a.stops || b.checks - a.checks).slice(0, most);
}
