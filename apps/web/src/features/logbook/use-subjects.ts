import { useMemo } from 'react';
import { useListConversionsQuery, type SubjectChoice } from '../../entities/life/index.js';
import { useListPartsQuery } from '../../entities/part/index.js';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import type { Query } from '../../shared/ui/QueryView.js';

interface Subjects {
  readonly choices: readonly SubjectChoice[];
  /** What is still on its way, or failed; undefined once all is there. */
  readonly waiting: Query<unknown> | undefined;
}

/** All that entries may be about: setups with a kit first, then conversions out of sight, then bikes on their own. */
export function useSubjects(): Subjects {
  const setups = useListSetupsQuery();
  const conversions = useListConversionsQuery();
  const bikes = useListPartsQuery('bikes');
  const choices = useMemo(() => {
    const open = <T extends { readonly archivedAt: string | null }>(list: readonly T[] | undefined): T[] =>
      (list ?? []).filter(({ archivedAt }) => archivedAt === null);
    return [
      ...open(setups.data)
        .filter(({ revisions }) => revisions[0]?.kit !== null)
        .map(({ id, name }): SubjectChoice => ({ subject: { kind: 'setup', id }, name })),
      ...open(conversions.data).map(({ id, name }): SubjectChoice => ({
        subject: { kind: 'conversion', id },
        name: `${name} (out of sight)`,
      })),
      ...open(bikes.data).map(({ id, name }): SubjectChoice => ({
        subject: { kind: 'bike', id },
        name: `${name} (bike)`,
      })),
    ];
  }, [setups.data, conversions.data, bikes.data]);
  const queries: readonly Query<unknown>[] = [setups, conversions, bikes];
  return { choices, waiting: queries.find(({ data }) => data === undefined) };
}
