import type { OpenSlot, PartOfOuting, Split } from '@ebrix/contract';
import { TEST_KINDS } from '@ebrix/core/analysis';

/** A run that a log seems to hold, as the tester leaves or changes it; what is undefined is as in the whole. */
export interface ProposedPart {
  readonly isSelected: boolean;
  readonly fromS: number;
  readonly toS: number;
  readonly testKind: PartOfOuting['testKind'];
  readonly courseId: string | undefined;
  readonly direction: 1 | -1;
  readonly setupRevisionId: string | undefined;
  readonly riding: PartOfOuting['riding'];
  readonly slotId: string | undefined;
  readonly why: string;
  readonly distanceM: number | null;
}

export function toProposedParts({ runs }: Split): ProposedPart[] {
  const open = { courseId: undefined, setupRevisionId: undefined, riding: null, slotId: undefined };
  return runs.map((run) => ({ ...run, ...open, isSelected: true }));
}

/** What becomes runs, on the whole's course where a run has none of its own. */
export function confirmedParts(parts: readonly ProposedPart[] | undefined, courseOfWhole: string): PartOfOuting[] {
  return (parts ?? []).flatMap(({ isSelected, fromS, toS, testKind, courseId, direction, ...more }) =>
    isSelected
      ? [
          {
            logSpan: { fromS, toS },
            testKind,
            courseId: courseId ?? courseOfWhole,
            direction,
            setupRevisionId: more.setupRevisionId ?? null,
            riding: more.riding,
            slotId: more.slotId ?? null,
          },
        ]
      : [],
  );
}

/** A planned run gives what it was planned to be. */
export function asPlanned(
  slot: OpenSlot,
): Pick<ProposedPart, 'courseId' | 'direction' | 'riding' | 'setupRevisionId' | 'slotId' | 'testKind'> {
  const { slotId, courseId, direction, riding, testKind, revisionId } = slot;
  return { slotId, courseId, direction, riding, testKind, setupRevisionId: revisionId };
}

/** The chosen parts, in the order they were ridden, take the planned runs in theirs. */
export function matchedToPlan(parts: readonly ProposedPart[], slots: readonly OpenSlot[]): ProposedPart[] {
  let next = 0;
  return parts.map((part) => {
    const slot = part.isSelected ? slots[next++] : undefined;
    return slot ? { ...part, ...asPlanned(slot) } : { ...part, slotId: undefined };
  });
}

export const slotLabel = ({ outing, number, letter, setup, testKind, direction }: OpenSlot): string =>
  `${number}, outing ${outing}: ${letter} ${setup}, ${TEST_KINDS[testKind].label.toLowerCase()}${direction === -1 ? ', reversed' : ''}`;

/** Planned runs by their trial, to choose from. */
export function slotOptions(slots: readonly OpenSlot[] | undefined) {
  const trials = [...new Map((slots ?? []).map(({ trialId, question }) => [trialId, question]))];
  return trials.map(([trialId, question]) => ({
    label: question,
    title: question,
    options: slots!
      .filter((slot) => slot.trialId === trialId)
      .map((slot) => ({ value: slot.slotId, label: slotLabel(slot) })),
  }));
}
