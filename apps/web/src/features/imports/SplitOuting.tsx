import { Button } from 'antd';
import { useEffect, useRef } from 'react';
import type { ImportFile, MappingDto } from '@ebrix/contract';
import { formatClock } from '../../shared/format/format-quantity.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { PartsTable, toProposedParts, type ProposedPart } from '../../entities/run/index.js';
import { useSplitImportMutation } from '../../entities/import/index.js';

interface Props {
  readonly file: ImportFile;
  readonly mapping: MappingDto | null;
  /** The course chosen for the whole file: its gates are looked for. */
  readonly courseOf: () => string | undefined;
  readonly parts: readonly ProposedPart[] | undefined;
  readonly onParts: (parts: readonly ProposedPart[] | undefined) => void;
}

/** One log of a whole outing, split into the runs it holds: proposed by the program, confirmed in one go. */
export function SplitOuting({ file, mapping, courseOf, parts, onParts }: Props) {
  const [split, { data, error, isLoading }] = useSplitImportMutation();
  const gaps = file.inspection?.longGaps ?? [];
  const look = async (): Promise<void> => {
    const courseId = courseOf();
    const result = await split({ id: file.id, mapping, courseId: courseId ?? null });
    if (result.data) onParts(toProposedParts(result.data));
  };
  // A log that stands still for long is two rides until somebody says that it is one.
  const hasProposed = useRef(false);
  useEffect(() => {
    if (hasProposed.current || gaps.length === 0 || parts) return;
    hasProposed.current = true;
    void look();
  });
  const [gap] = gaps;
  const why = gap && (
    <p className="caution" role="status">
      {gap.endS > gap.startS
        ? `Nothing is logged from ${formatClock(gap.startS)} to ${formatClock(gap.endS)}`
        : `The clock is set back at ${formatClock(gap.startS)}`}
      {gaps.length > 1 && `, and ${gaps.length - 1} times more`}: probably another ride begins there. As one run, what
      was not logged would have to be guessed.
    </p>
  );
  if (!parts || !data)
    return (
      <>
        {why}
        <div className="actions items-baseline">
          <Button loading={isLoading} onClick={() => void look()}>
            Split into several runs
          </Button>
          <span className="quiet">At stops, at gaps, and at the gates of the course.</span>
          {error !== undefined && <Problem error={error} />}
        </div>
      </>
    );
  const taken = parts.filter(({ isSelected }) => isSelected);
  return (
    <section aria-label={`Runs in ${file.fileName}`}>
      {why}
      <div className="actions items-baseline mt-10">
        <h3>
          {taken.length} of {parts.length} runs selected
        </h3>
        <Button size="small" onClick={() => onParts(undefined)}>
          Don’t split
        </Button>
      </div>
      <PartsTable strip={data.strip} parts={parts} onParts={onParts} />
    </section>
  );
}
