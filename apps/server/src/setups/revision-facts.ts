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

export function clearanceOf(stored: StoredFacts, marks: readonly Mark[]): Clearance {
  const facts = toFacts(stored);
  const checks = checkSetup(facts, marks);
  const items = clearanceItems(facts, checks, marks);
  return { ...countChecks(checks), openClearance: openClearance(items).length, items: items.length };
}
