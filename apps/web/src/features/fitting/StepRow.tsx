import { DIFFICULTY_ANCHORS } from '@ebrix/core/bench';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Button, Checkbox, Input, Popconfirm, Select } from 'antd';
import { useEffect, useState } from 'react';
import type { FittingStep, FittingStepInput } from '@ebrix/contract';
import { formatClock } from '../../shared/format/format-quantity.js';
import { Photos } from '../../entities/photo/index.js';

interface RowProps {
  readonly step: FittingStep;
  readonly number: number;
  readonly setupId: string;
  readonly seconds: number;
  readonly isNext: boolean;
  readonly isOpen: boolean;
  readonly onOpen: () => void;
  readonly onToggle: () => void;
  readonly onChange: (change: Partial<FittingStepInput>) => void;
  readonly onRemove: () => void;
}
/** One step: handle, tick, clock; opened, what was noted about it. */
export function StepRow({
  step,
  number,
  setupId,
  seconds,
  isNext,
  isOpen,
  onOpen,
  onToggle,
  onChange,
  onRemove,
}: RowProps) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: step.id,
  });
  const isRunning = step.runningSince !== null;
  return (
    <li
      ref={setNodeRef}
      className={isRunning ? 'running' : ''}
      style={{
        transform: CSS.Transform.toString(transform),
        transition,
        ...(isDragging && { zIndex: 2, opacity: 0.85 }),
      }}
    >
      <div className="fitting-row">
        <button
          ref={setActivatorNodeRef}
          type="button"
          className="handle"
          {...attributes}
          {...listeners}
          aria-label={`Move “${step.title}”: space, then arrow keys`}
        >
          ⋮⋮
        </button>
        <Checkbox
          checked={step.isDone}
          onChange={({ target }) => onChange({ isDone: target.checked })}
          aria-label={`${step.title}: done`}
        />
        <button type="button" className="text-button fitting-title" aria-expanded={isOpen} onClick={onOpen}>
          {number}. {step.title}
        </button>
        <span className="figures min-w-62 align-right">{seconds > 0 ? formatClock(seconds) : ''}</span>
        <Button
          size="small"
          type={isRunning || isNext ? 'primary' : 'default'}
          onClick={onToggle}
          aria-label={`${isRunning ? 'Stop' : 'Start'} the clock: ${step.title}`}
        >
          {isRunning ? 'Stop' : 'Start'}
        </Button>
      </div>
      {step.caution && (isOpen || isRunning || isNext) && <p className="caution">{step.caution}</p>}
      {!isOpen && step.trouble && (
        <p className="quiet fitting-note">
          Trouble: {step.trouble}
          {step.cure && ` Fixed: ${step.cure}`}
        </p>
      )}
      {isOpen && (
        <StepDetails step={step} setupId={setupId} seconds={seconds} onChange={onChange} onRemove={onRemove} />
      )}
    </li>
  );
}

type DetailProps = Pick<RowProps, 'onChange' | 'onRemove' | 'seconds' | 'setupId' | 'step'>;
function StepDetails({ step, setupId, seconds, onChange, onRemove }: DetailProps) {
  return (
    <div className="fitting-details">
      {step.detail && <p>{step.detail}</p>}
      <label>
        Tools
        <LateInput
          value={step.tools.join(', ')}
          onCommit={(text) =>
            onChange({
              tools: text
                .split(',')
                .map((tool) => tool.trim())
                .filter((tool) => tool !== ''),
            })
          }
        />
      </label>
      <label>
        Difficulty
        <Select
          allowClear
          aria-label={`Difficulty of ${step.title}`}
          value={step.difficulty}
          className="w-100-pct"
          options={DIFFICULTY_ANCHORS.map((anchor, k) => ({ value: k + 1, label: `${k + 1}: ${anchor}` }))}
          onChange={(difficulty: number | undefined) => onChange({ difficulty: difficulty ?? null })}
        />
      </label>
      <label>
        Trouble found
        <LateInput value={step.trouble} onCommit={(trouble) => onChange({ trouble })} />
      </label>
      <label>
        What fixed it
        <LateInput value={step.cure} onCommit={(cure) => onChange({ cure })} />
      </label>
      {step.runningSince === null && (
        <label>
          Minutes, if you forgot the clock
          <LateInput
            value={seconds > 0 ? String(Math.round(seconds / 6) / 10) : ''}
            onCommit={(text) => {
              const minutes = Number(text.replace(',', '.'));
              if (Number.isFinite(minutes) && minutes >= 0) onChange({ elapsedS: minutes * 60 });
            }}
          />
        </label>
      )}
      <div className="whole-row">
        <Photos owner="setup" ownerId={setupId} step={step.id} />
      </div>
      <div className="whole-row">
        <Popconfirm title={`Remove “${step.title}” with its time and notes?`} okText="Remove" onConfirm={onRemove}>
          <Button size="small">Remove this step</Button>
        </Popconfirm>
      </div>
    </div>
  );
}

/** Stores what was typed when one leaves the field or presses Enter, not at every letter. */
function LateInput({ value, onCommit }: { readonly value: string; readonly onCommit: (text: string) => void }) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const commit = (): void => {
    if (text !== value) onCommit(text);
  };
  return <Input value={text} onChange={({ target }) => setText(target.value)} onBlur={commit} onPressEnter={commit} />;
}
