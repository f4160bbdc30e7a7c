import type { MarkInput, RevisionDetail } from '@ebrix/contract';

/** What this window shows of the marks in hand, so that nobody signs over what it has not shown. */
export function seenMarks(
  { marks }: Pick<RevisionDetail, 'marks'>,
  ids: readonly string[],
): NonNullable<MarkInput['seen']> {
  return Object.fromEntries(ids.map((id) => [id, marks.find((mark) => mark.id === id)?.at ?? null]));
}
