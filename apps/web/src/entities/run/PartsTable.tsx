import { Checkbox, Select } from 'antd';
import { useState } from 'react';
import { openRiding, type Split } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatClock, formatQuantity } from '../../shared/format/format-quantity.js';
import { cropStrip, StripRecorder } from '../../shared/charts/index.js';
import { useListCoursesQuery } from '../course/index.js';
import { useListOpenSlotsQuery } from '../plan/index.js';
import { useListSetupsQuery } from '../setup/index.js';
import { setupOptions } from './AssignmentFields.js';
import { asPlanned, matchedToPlan, slotOptions, type ProposedPart } from './planned-runs.js';
import { KIND_OPTIONS, WAY_OPTIONS } from './riding-options.js';

/** Channels that show where one run ends and the next begins. */
const TELLING: ReadonlySet<string> = new Set(['speed', 'altitude', 'current', 'assistLevel']);

function varyingChannels(strip: Split['strip']): Split['strip'] {
  const channels = strip.channels.filter(({ name }) => TELLING.has(name));
  return channels.length > 0 ? { ...strip, channels } : strip;
}

const NOTHING_CLEANED = { gaps: [], spikes: [], stuck: [] };

interface Props {
  readonly strip: Split['strip'];
  readonly parts: readonly ProposedPart[];
  readonly onParts: (parts: readonly ProposedPart[]) => void;
}

/** The runs proposed in a log: edges to be dragged, and what each was. */
export function PartsTable({ strip, parts, onParts }: Props) {
  const system = useUnits();
  const { data: courses } = useListCoursesQuery();
  const { data: setups } = useListSetupsQuery();
  const { data: slots } = useListOpenSlotsQuery();
  const [shown, setShown] = useState<{ fromS: number; toS: number }>();
  const change = (index: number, changes: Partial<ProposedPart>): void =>
    onParts(parts.map((part, k) => (k === index ? { ...part, ...changes } : part)));
  const plans = slotOptions(slots);
  const search = { showSearch: { optionFilterProp: 'label' } } as const;
  return (
    <>
      {parts.length === 0 && (
        <p className="quiet">No part of this log looks like a run: nothing moves for 20 s between two stops.</p>
      )}
      <StripRecorder
        strip={shown ? cropStrip(varyingChannels(strip), shown) : varyingChannels(strip)}
        cleaning={NOTHING_CLEANED}
        onShowSpan={setShown}
        spans={parts.flatMap(({ isSelected, fromS, toS }, k) =>
          isSelected ? [{ kind: 'ride' as const, fromS, toS, label: `Run ${k + 1}` }] : [],
        )}
        onSpan={(index, edges) => change(parts.indexOf(parts.filter(({ isSelected }) => isSelected)[index]!), edges)}
      />
      {plans.length > 0 && parts.length > 0 && (
        <div className="actions items-baseline mt-8">
          <Select
            aria-label="Planned runs of"
            className="min-w-220"
            placeholder="Ridden by a plan? Choose its trial"
            {...search}
            value={null as string | null}
            options={(slots ?? []).flatMap(({ trialId, question }, k) =>
              slots!.findIndex((slot) => slot.trialId === trialId) === k ? [{ value: trialId, label: question }] : [],
            )}
            onChange={(trialId) =>
              onParts(
                matchedToPlan(
                  parts,
                  (slots ?? []).filter((slot) => slot.trialId === trialId),
                ),
              )
            }
          />
          <span className="quiet">Its open runs are given to these, in riding order; each can be changed below.</span>
        </div>
      )}
      <div className="scroll-x">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Run</th>
              <th scope="col">Test and setup</th>
              <th scope="col">Course and direction</th>
              <th scope="col">Way of riding, planned run</th>
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
                  <div className="figures nowrap">
                    {formatClock(part.fromS)} to {formatClock(part.toS)}
                  </div>
                  {part.distanceM !== null && (
                    <div className="quiet">{formatQuantity(part.distanceM / 1000, 'km', system)}</div>
                  )}
                </td>
                <td>
                  <Select
                    aria-label={`Test of run ${k + 1}`}
                    className="w-190 mb-4"
                    value={part.testKind}
                    options={KIND_OPTIONS}
                    onChange={(testKind: ProposedPart['testKind']) => change(k, { testKind })}
                  />
                  <Select
                    aria-label={`Setup of run ${k + 1}`}
                    className="w-190"
                    allowClear
                    placeholder="as above"
                    {...search}
                    value={part.setupRevisionId ?? null}
                    options={setupOptions(setups)}
                    onChange={(id: string | null) => change(k, { setupRevisionId: id ?? undefined })}
                  />
                </td>
                <td>
                  <Select
                    aria-label={`Course of run ${k + 1}`}
                    className="w-190 mb-4"
                    allowClear
                    placeholder="as above"
                    {...search}
                    value={part.courseId ?? null}
                    options={(courses ?? []).map(({ id, name }) => ({ value: id, label: name }))}
                    onChange={(courseId: string | null) => change(k, { courseId: courseId ?? undefined })}
                  />
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
                <td>
                  <Select
                    aria-label={`Way of riding of run ${k + 1}`}
                    className="w-190 mb-4"
                    allowClear
                    placeholder="as above"
                    {...search}
                    value={part.riding?.way ?? null}
                    options={WAY_OPTIONS}
                    onChange={(way: NonNullable<typeof part.riding>['way']) =>
                      change(k, { riding: way ? { ...(part.riding ?? openRiding), way } : null })
                    }
                  />
                  {plans.length > 0 && (
                    <Select
                      aria-label={`Planned run that run ${k + 1} is`}
                      className="w-190"
                      allowClear
                      placeholder="not by a plan"
                      popupMatchSelectWidth={false}
                      {...search}
                      value={part.slotId ?? null}
                      options={plans}
                      onChange={(slotId: string | null) => {
                        const slot = slots?.find((one) => one.slotId === slotId);
                        change(k, slot ? asPlanned(slot) : { slotId: undefined });
                      }}
                    />
                  )}
                </td>
                <td className="quiet">{part.why}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
