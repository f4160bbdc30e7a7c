import { criterionWords } from '@ebrix/core/decision';
import type { UseDto } from '@ebrix/contract';
import type { Difference } from '../../shared/ui/ConflictChoice.js';
import type { DraftUse } from './live-use.js';

/** What two windows say differently of a use, line by line. */
export function differencesOfUse(mine: DraftUse, theirs: UseDto | undefined): Difference[] {
  if (!theirs) return [];
  const rows: Difference[] = [
    { label: 'Name', theirs: theirs.name, mine: mine.name },
    { label: 'Notes', theirs: theirs.notes, mine: mine.notes },
  ];
  const keys = new Set([...theirs.criteria, ...mine.criteria].map(({ key }) => key));
  for (const key of keys) {
    const text = (use: Pick<DraftUse, 'criteria'>): string => {
      const found = use.criteria.find((one) => one.key === key);
      if (!found) return '–';
      const corners = found.worth?.map(({ at, worth }) => `${at}: ${Math.round(100 * worth)} %`).join(', ');
      return `weight ${found.weight}${corners ? `; ${corners}` : ''}`;
    };
    rows.push({ label: criterionWords(key).label, theirs: text(theirs), mine: text(mine) });
  }
  const bounds = ({ mustHaves }: Pick<DraftUse, 'mustHaves'>): string =>
    mustHaves
      .map(
        ({ key, atLeast, atMost }) =>
          `${criterionWords(key).label}${atLeast === null ? '' : ` at least ${atLeast}`}${atMost === null ? '' : ` at most ${atMost}`}`,
      )
      .join('; ') || '–';
  rows.push({ label: 'What has to be kept', theirs: bounds(theirs), mine: bounds(mine) });
  return rows.filter((row) => row.theirs !== row.mine);
}
