import type { SetupFacts } from '@ebrix/core/bench';
import type { RevisionDetail } from '@ebrix/contract';

/** A stored revision as the core takes it. */
export function factsOf({ parts, settings, fit }: Pick<RevisionDetail, 'fit' | 'parts' | 'settings'>): SetupFacts {
  return { ...parts, settings, fit };
}
