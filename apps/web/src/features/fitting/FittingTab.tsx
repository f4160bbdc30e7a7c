import { DIFFICULTY_ANCHORS } from '@ebrix/core/bench';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Button, Checkbox, Input, Popconfirm, Select } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import {
  fittingSchema,
  type Fitting,
  type FittingStep,
  type FittingStepInput,
  type SetupDetail,
} from '@ebrix/contract';
import { formatClock } from '../../shared/format/format-quantity.js';
import { Answer, Problem } from '../../shared/ui/Answer.js';
import { ConflictChoice, storedMeanwhile, type Difference } from '../../shared/ui/ConflictChoice.js';
import { useShortcut } from '../help/index.js';
import { Photos } from '../photos/index.js';
import {
  useGetFittingQuery,
  useListTemplatesQuery,
  useSaveFittingMutation,
  useSaveTemplateMutation,
  useSetClockMutation,
} from './api.js';
import { bare, clockOffset, elapsedS, moved, ownId, withStep } from './steps.js';

/** Fitting, step by step, with a clock that runs on the server: a reload or another phone does not stop it. */
export default function FittingTab({ setup }: { readonly setup: SetupDetail }) {
  const query = useGetFittingQuery(setup.id, { refetchOnMountOrArgChange: true });
  return <Answer query={query}>{(fitting) => <Steps fitting={fitting} />}</Answer>;
}

function Steps({ fitting }: { readonly fitting: Fitting }) {
  const { setupId, version, steps } = fitting;
  const now = useServerNow(fitting);
  const [save, saving] = useSaveFittingMutation();
  const [setClock, clocking] = useSetClockMutation();
  const [openId, setOpenId] = useState<string>();
  // What was not stored because another window was first.
  const [mine, setMine] = useState<readonly FittingStepInput[]>();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const store = async (next: readonly FittingStepInput[], basedOn = version): Promise<void> => {
    setMine(next);
    const { data } = await save({ setupId, version: basedOn, steps: next });
    if (data) setMine(undefined);
  };
  const error = saving.error ?? clocking.error;
  const current = fittingSchema.safeParse(storedMeanwhile(saving.error));
  const running = steps.find(({ runningSince }) => runningSince !== null);
  const next = steps.find(({ isDone }) => !isDone);
  const toggle = (step: FittingStep): void =>
    void setClock({ setupId, version, stepId: step.id, isRunning: step.runningSince === null });
  useShortcut('s', 'Start or stop the clock of the step at hand', () => {
    const step = running ?? next;
    if (step) toggle(step);
  });
  const total = steps.reduce((sum, step) => sum + elapsedS(step, now), 0);
  const tools = [...new Set(steps.flatMap((step) => step.tools))].sort();
  const onDragEnd = ({ active, over }: DragEndEvent): void => {
    if (!over || active.id === over.id) return;
    void store(
      moved(
        steps,
        String(active.id),
        steps.findIndex(({ id }) => id === over.id),
      ).map(bare),
    );
  };
  return (
    <div className="split">
      <div>
        {current.success && mine ? (
          <ConflictChoice
            what="The fitting was changed elsewhere while you worked here."
            differences={stepDifferences(current.data.steps, mine)}
            keepLabel="Store mine over it"
            takeLabel="Take the stored one"
            isBusy={saving.isLoading}
            onKeepMine={() => void store(mine, current.data.version)}
            onTakeTheirs={() => {
              setMine(undefined);
              saving.reset();
            }}
          />
        ) : (
          error !== undefined && <Problem error={error} />
        )}
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
          <SortableContext items={steps.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
            <ol className="fitting" aria-label="Fitting steps">
              {steps.map((step, k) => (
                <StepRow
                  key={step.id}
                  step={step}
                  number={k + 1}
                  setupId={setupId}
                  seconds={elapsedS(step, now)}
                  isNext={step === next && !running}
                  isOpen={openId === step.id}
                  onOpen={() => setOpenId(openId === step.id ? undefined : step.id)}
                  onToggle={() => toggle(step)}
                  onChange={(change) => void store(withStep(steps, step.id, change))}
                  onRemove={() => void store(steps.filter(({ id }) => id !== step.id).map(bare))}
                />
              ))}
            </ol>
          </SortableContext>
        </DndContext>
        <AddStep
          onAdd={(title) =>
            void store([
              ...steps.map(bare),
              {
                id: ownId(steps),
                title,
                detail: '',
                tools: [],
                caution: '',
                isDone: false,
                elapsedS: 0,
                difficulty: null,
                trouble: '',
                cure: '',
              },
            ])
          }
        />
      </div>
      <aside>
        <div className="quiet">Time in all</div>
        <div className="figures" style={{ fontSize: 26, fontWeight: 700 }} role="timer" aria-label="Time in all">
          {formatClock(total)}
        </div>
        <p className="quiet">
          {steps.filter(({ isDone }) => isDone).length} of {steps.length} steps done
          {running && `; the clock runs on “${running.title}”`}
        </p>
        <h2 style={{ marginTop: 18 }}>Tools</h2>
        <p>{tools.join(', ') || '–'}</p>
        <h2 style={{ marginTop: 18 }}>Difficulty, as it is noted</h2>
        <ol style={{ margin: 0, paddingLeft: 20 }}>
          {DIFFICULTY_ANCHORS.map((anchor) => (
            <li key={anchor}>{anchor}</li>
          ))}
        </ol>
        <Templates steps={steps} onTake={(taken) => void store(taken)} />
        <p style={{ marginTop: 14 }}>
          <Link to="/bench/fittings">Fitting times of all setups</Link>
        </p>
      </aside>
    </div>
  );
}

/** The server's time, going on each second while a clock runs. */
function useServerNow(fitting: Fitting): number {
  const offset = useMemo(() => clockOffset(fitting, Date.now()), [fitting]);
  const isRunning = fitting.steps.some(({ runningSince }) => runningSince !== null);
  const [here, setHere] = useState(Date.now);
  useEffect(() => {
    if (!isRunning) return undefined;
    setHere(Date.now());
    const timer = setInterval(() => setHere(Date.now()), 1000);
    return () => clearInterval(timer);
  }, [isRunning, fitting]);
  return here + offset;
}

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
function StepRow({ step, number, setupId, seconds, isNext, isOpen, onOpen, onToggle, onChange, onRemove }: RowProps) {
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
        <span className="figures" style={{ minWidth: 62, textAlign: 'right' }}>
          {seconds > 0 ? formatClock(seconds) : ''}
        </span>
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
          {step.cure && ` Cured: ${step.cure}`}
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
          style={{ width: '100%' }}
          options={DIFFICULTY_ANCHORS.map((anchor, k) => ({ value: k + 1, label: `${k + 1}: ${anchor}` }))}
          onChange={(difficulty: number | undefined) => onChange({ difficulty: difficulty ?? null })}
        />
      </label>
      <label>
        Trouble found
        <LateInput value={step.trouble} onCommit={(trouble) => onChange({ trouble })} />
      </label>
      <label>
        What cured it
        <LateInput value={step.cure} onCommit={(cure) => onChange({ cure })} />
      </label>
      {step.runningSince === null && (
        <label>
          Minutes, if the clock was forgotten
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
        <Popconfirm title={`Take “${step.title}” out, with its time and notes?`} okText="Take out" onConfirm={onRemove}>
          <Button size="small">Take this step out</Button>
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

function AddStep({ onAdd }: { readonly onAdd: (title: string) => void }) {
  const [title, setTitle] = useState('');
  return (
    <form
      className="actions"
      style={{ marginTop: 12 }}
      onSubmit={(event) => {
        event.preventDefault();
        if (title.trim() === '') return;
        onAdd(title.trim());
        setTitle('');
      }}
    >
      <Input
        aria-label="A step of your own"
        placeholder="A step of your own"
        style={{ maxWidth: 320 }}
        maxLength={120}
        value={title}
        onChange={({ target }) => setTitle(target.value)}
      />
      <Button htmlType="submit">Add step</Button>
    </form>
  );
}

interface TemplateProps {
  readonly steps: readonly FittingStep[];
  readonly onTake: (steps: readonly FittingStepInput[]) => void;
}
function Templates({ steps, onTake }: TemplateProps) {
  const { data: templates } = useListTemplatesQuery();
  const [saveTemplate, { error }] = useSaveTemplateMutation();
  const [name, setName] = useState('');
  const isBegun = steps.some((step) => step.isDone || step.elapsedS > 0 || step.runningSince !== null);
  return (
    <>
      <h2 style={{ marginTop: 18 }}>Own templates</h2>
      {(templates ?? []).length > 0 && (
        <Select
          aria-label="Take the steps of a template"
          placeholder={isBegun ? 'Only before the first step' : 'Take the steps of …'}
          disabled={isBegun}
          style={{ width: '100%', marginBottom: 8 }}
          value={null}
          options={(templates ?? []).map((template) => ({ value: template.id, label: template.name }))}
          onChange={(id: string | null) => {
            const chosen = templates?.find((template) => template.id === id);
            if (chosen)
              onTake(
                chosen.steps.map((step) => ({
                  ...step,
                  isDone: false,
                  elapsedS: 0,
                  difficulty: null,
                  trouble: '',
                  cure: '',
                })),
              );
          }}
        />
      )}
      <form
        className="actions"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() === '') return;
          const kept = steps.map(({ id, title, detail, tools, caution }) => ({ id, title, detail, tools, caution }));
          void saveTemplate({ name: name.trim(), steps: kept }).then(({ data }) => data && setName(''));
        }}
      >
        <Input
          aria-label="Name of the template"
          placeholder="Name"
          style={{ width: 130 }}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        <Button htmlType="submit">Keep these steps</Button>
      </form>
      {error !== undefined && <Problem error={error} />}
    </>
  );
}

function stepDifferences(theirs: readonly FittingStep[], mine: readonly FittingStepInput[]): Difference[] {
  const words = (step: FittingStepInput | undefined): string =>
    step
      ? [
          step.isDone ? 'done' : 'not done',
          formatClock(step.elapsedS),
          step.difficulty && `difficulty ${step.difficulty}`,
          step.trouble,
          step.cure,
        ]
          .filter(Boolean)
          .join(', ')
      : 'not there';
  const ids = [...new Set([...theirs, ...mine].map(({ id }) => id))];
  const order = (steps: readonly { readonly title: string }[]): string => steps.map(({ title }) => title).join(' · ');
  const rows = ids.map((id) => {
    const [a, b] = [theirs.find((step) => step.id === id), mine.find((step) => step.id === id)];
    return { label: (a ?? b)!.title, theirs: words(a), mine: words(b) };
  });
  return [...rows, { label: 'Order', theirs: order(theirs), mine: order(mine) }].filter(
    (row) => row.theirs !== row.mine,
  );
}
