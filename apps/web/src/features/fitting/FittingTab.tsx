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
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Button, Input } from 'antd';
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
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { ConflictChoice, storedMeanwhile, type Difference } from '../../shared/ui/ConflictChoice.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useGetFittingQuery, useSaveFittingMutation, useSetClockMutation } from './api.js';
import { StepRow } from './StepRow.js';
import { bare, clockOffset, elapsedS, freshStep, moved, ownId, withStep } from './steps.js';
import { Templates } from './Templates.js';

/** Fitting, step by step, with a clock that runs on the server: a reload or another phone does not stop it. */
export default function FittingTab({ setup }: { readonly setup: SetupDetail }) {
  const query = useGetFittingQuery(setup.id, { refetchOnMountOrArgChange: true });
  return <QueryView query={query}>{(fitting) => <Steps fitting={fitting} />}</QueryView>;
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
  useShortcut('s', 'Start or stop the clock of the current step', () => {
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
            keepLabel="Overwrite with mine"
            takeLabel="Use the saved version"
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
            void store([...steps.map(bare), freshStep({ id: ownId(steps), title, detail: '', tools: [], caution: '' })])
          }
        />
      </div>
      <aside>
        <div className="quiet">Total time</div>
        <div className="figures text-26 weight-700" role="timer" aria-label="Total time">
          {formatClock(total)}
        </div>
        <p className="quiet">
          {steps.filter(({ isDone }) => isDone).length} of {steps.length} steps done
          {running && `; the clock runs on “${running.title}”`}
        </p>
        <h2 className="mt-18">Tools</h2>
        <p>{tools.join(', ') || '–'}</p>
        <h2 className="mt-18">Difficulty scale</h2>
        <ol className="m-0 pl-20">
          {DIFFICULTY_ANCHORS.map((anchor) => (
            <li key={anchor}>{anchor}</li>
          ))}
        </ol>
        <Templates steps={steps} onTake={(taken) => void store(taken)} />
        <p className="mt-14">
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

function AddStep({ onAdd }: { readonly onAdd: (title: string) => void }) {
  const [title, setTitle] = useState('');
  return (
    <form
      className="actions mt-12"

      onSubmit={(event) => {
        event.preventDefault();
        if (title.trim() === '') return;
        onAdd(title.trim());
        setTitle('');
      }}
    >
      <Input
        aria-label="Your own step"
        placeholder="Your own step"
        className="max-w-320"
        maxLength={120}
        value={title}
        onChange={({ target }) => setTitle(target.value)}
      />
      <Button htmlType="submit">Add step</Button>
    </form>
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
