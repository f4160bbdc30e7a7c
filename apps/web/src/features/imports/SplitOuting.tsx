import { Button, Checkbox, Select } from 'antd';
import { useState } from 'react';
import type { ImportFile, MappingDto, PartOfOuting, Split } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatClock, formatQuantity } from '../../shared/format/format-quantity.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { cropStrip, StripRecorder } from '../../shared/charts/index.js';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { KIND_OPTIONS } from '../../entities/run/index.js';
import { useSplitImportMutation } from '../../entities/import/index.js';

/** A run that the log seems to hold, as the tester leaves or changes it. */
export interface ProposedPart {
  readonly isSelected: boolean;
  readonly fromS: number;
  readonly toS: number;
  readonly testKind: PartOfOuting['testKind'];
  readonly courseId: string | undefined;
  readonly direction: 1 | -1;
  readonly why: string;
  readonly distanceM: number | null;
}

/** What becomes runs of a file, on the file's course where a run has none of its own; none: the file is one run. */
export function confirmedParts(parts: readonly ProposedPart[] | undefined, courseOfFile: string): PartOfOuting[] {
  return (parts ?? []).flatMap(({ isSelected, fromS, toS, testKind, courseId, direction }) =>
    isSelected ? [{ logSpan: { fromS, toS }, testKind, courseId: courseId ?? courseOfFile, direction }] : [],
  );
}

interface Props {
  readonly file: ImportFile;
  readonly mapping: MappingDto | null;
  /** The course chosen for the whole file: its gates are looked for. */
  readonly courseOf: () => string | undefined;
  readonly parts: readonly ProposedPart[] | undefined;
  readonly onParts: (parts: readonly ProposedPart[] | undefined) => void;
}

/** Channels that show where one run ends and the next begins. */
const TELLING: ReadonlySet<string> = new Set(['speed', 'altitude', 'current', 'assistLevel']);

function varyingChannels(strip: Split['strip']): Split['strip'] {
  const channels = strip.channels.filter(({ name }) => TELLING.has(name));
  return channels.length > 0 ? { ...strip, channels } : strip;
}

const NOTHING_CLEANED = { gaps: [], spikes: [], stuck: [] };

/** One log of a whole outing, split into the runs it holds: proposed by the program, confirmed in one go. */
export function SplitOuting({ file, mapping, courseOf, parts, onParts }: Props) {
  const system = useUnits();
  const { data: courses } = useListCoursesQuery();
  const [split, { data, error, isLoading }] = useSplitImportMutation();
  const [shown, setShown] = useState<{ fromS: number; toS: number }>();
  const look = async (): Promise<void> => {
    const courseId = courseOf();
    const result = await split({ id: file.id, mapping, courseId: courseId ?? null });
    if (result.data) onParts(toParts(result.data));
  };
  if (!parts)
    return (
      <div className="actions items-baseline">
        <Button loading={isLoading} onClick={() => void look()}>
          Split into several runs
        </Button>
        <span className="quiet">At stops, at gaps, and at the gates of the course.</span>
        {error !== undefined && <Problem error={error} />}
      </div>
    );
  const change = (index: number, changes: Partial<ProposedPart>): void =>
    onParts(parts.map((part, k) => (k === index ? { ...part, ...changes } : part)));
  const taken = parts.filter(({ isSelected }) => isSelected);
  return (
    <section aria-label={`Runs in ${file.fileName}`}>
      <div className="actions items-baseline mt-10">
        <h3>
          {taken.length} of {parts.length} runs selected
        </h3>
        <Button size="small" onClick={() => onParts(undefined)}>
          Don’t split
        </Button>
      </div>
      {parts.length === 0 && (
        <p className="quiet">No part of this log looks like a run: nothing moves for 20 s between two stops.</p>
      )}
      {data && (
        <StripRecorder
          strip={shown ? cropStrip(varyingChannels(data.strip), shown) : varyingChannels(data.strip)}
          cleaning={NOTHING_CLEANED}
          onShowSpan={setShown}
          spans={parts.flatMap(({ isSelected, fromS, toS }, k) =>
            isSelected ? [{ kind: 'ride' as const, fromS, toS, label: `Run ${k + 1}` }] : [],
          )}
          onSpan={(index, edges) => {
            const part = parts.indexOf(taken[index]!);
            change(part, edges);
          }}
        />
      )}
      <div className="scroll-x">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Run</th>
              <th scope="col">From, to</th>
              <th scope="col">Test</th>
              <th scope="col">Course</th>
              <th scope="col">Direction</th>
              <th scope="col">Why</th>
            </tr>
          </thead>
          <tbody>
            {parts.map((part, k) => (
              <tr key={k}>
                <td>
                  <Checkbox
                    className="nowrap"
                    checked={part.isSelected}
                    onChange={({ target }) => change(k, { isSelected: target.checked })}
                  >
                    Run {k + 1}
                  </Checkbox>
                </td>
                <td className="figures nowrap">
                  {formatClock(part.fromS)} to {formatClock(part.toS)}
                  {part.distanceM !== null && (
                    <div className="quiet">{formatQuantity(part.distanceM / 1000, 'km', system)}</div>
                  )}
                </td>
                <td>
                  <Select
                    aria-label={`Test of run ${k + 1}`}
                    className="w-190"
                    value={part.testKind}
                    options={KIND_OPTIONS}
                    onChange={(testKind: ProposedPart['testKind']) => change(k, { testKind })}
                  />
                </td>
                <td>
                  <Select
                    aria-label={`Course of run ${k + 1}`}
                    className="w-190"
                    allowClear
                    placeholder="as above"
                    showSearch={{ optionFilterProp: 'label' }}
                    value={part.courseId ?? null}
                    options={(courses ?? []).map(({ id, name }) => ({ value: id, label: name }))}
                    onChange={(courseId: string | null) => change(k, { courseId: courseId ?? undefined })}
                  />
                </td>
                <td>
                  <Select
                    aria-label={`Direction of run ${k + 1}`}
                    className="w-120"
                    value={part.direction}
                    options={[
                      { value: 1, label: 'as drawn' },
                      { value: -1, label: 'reversed' },
                    ]}
                    onChange={(direction: 1 | -1) => change(k, { direction })}
                  />
                </td>
                <td className="quiet">{part.why}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function toParts({ runs }: Split): ProposedPart[] {
  return runs.map((run) => ({ ...run, isSelected: true, courseId: undefined }));
}
