import { createHash } from 'node:crypto';
import { checkSetup, countChecks, clearanceItems, openClearance, type Mark, type SetupFacts } from '@ebrix/core/bench';
import type { Clearance, RevisionParts, SetupFit, SetupSettings } from '@ebrix/contract';

export interface StoredFacts {
  readonly parts: RevisionParts;
  readonly settings: SetupSettings;
  readonly fit: SetupFit;
}

/** The facts of a revision as the core looks at them. */
export function toFacts({ parts, settings, fit }: StoredFacts): SetupFacts {
  return { ...parts, settings, fit };
}

/** Clearances that were worked out, by all that they rest on; the oldest goes first. */
const known = new Map<string, Clearance>();
const MOST_KNOWN = 4000;

/** Of a list of many setups nearly all are as they were when it was last looked at. */
export function clearanceOf({ parts, settings, fit }: StoredFacts, marks: readonly Mark[]): Clearance {
  const key = createHash('sha256')
    .update(JSON.stringify([parts, settings, fit, marks]))
    .digest('base64');
  const before = known.get(key);
  if (before) return before;
  const facts = toFacts({ parts, settings, fit });
  const checks = checkSetup(facts, marks);
  const items = clearanceItems(facts, checks, marks);
  const clearance = { ...countChecks(checks), openClearance: openClearance(items).length, items: items.length };
  known.set(key, clearance);
  if (known.size > MOST_KNOWN) known.delete(known.keys().next().value!);
  return clearance;
}
