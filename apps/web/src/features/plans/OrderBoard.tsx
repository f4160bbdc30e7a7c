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
import { Link } from 'react-router';
import type { Letter, Plan, PlanInput } from '@ebrix/contract';
import type { OutingStep, PlanOutline } from '@ebrix/core/planning';
import { TEST_KINDS } from '@ebrix/core/analysis';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { clockText, type DraftSlot } from './plan-draft.js';
import { problemSentences, STEP_LABELS, stepsBefore } from './plan-labels.js';

interface Props {
  readonly input: PlanInput;
  readonly slots: readonly DraftSlot[];
  readonly stored: Plan | null;
  readonly outline: PlanOutline | undefined;
  readonly courseName: (id: string) => string;
  readonly onMove: (from: string, onto: string) => void;
}

/** Runs in the order they are to be ridden, outing by outing, with the hour each begins; moved by drag or by keys. */
export function OrderBoard({ input, slots, stored, outline, courseName, onMove }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const numberOf = new Map(slots.map(({ id }, k) => [id, k + 1]));
  const runName = (id: string): string => {
    const slot = slots.find((one) => one.id === id);
    return `Run ${numberOf.get(id) ?? '?'} (${slot?.letter ?? '?'})`;
  };
  const outings = [...new Set(slots.map(({ outing }) => outing))].sort((a, b) => a - b);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }: DragEndEvent) => {
        if (over && active.id !== over.id) onMove(String(active.id), String(over.id));
      }}
    >
      <SortableContext items={slots.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        <div className="order-board">
          {outings.map((outing) => {
            const schedule = outline?.outings.find((one) => one.outing === outing);
            return (
              <section key={outing} aria-label={`Outing ${outing}`}>
                <h3>
                  Outing {outing}
                  {schedule && (
                    <span className="quiet figures weight-400">
                      {' '}
                      {clockText(schedule.steps[0]?.startMin ?? 0)} to {clockText(schedule.endMin)}
                    </span>
                  )}
                </h3>
                <ol>
                  {slots
                    .filter((slot) => slot.outing === outing)
                    .map((slot) => (
                      <SlotRow
                        key={slot.id}
                        slot={slot}
                        number={numberOf.get(slot.id)!}
                        letter={slot.letter}
                        what={`${TEST_KINDS[input.tests[slot.test]!.testKind].label}, ${courseName(input.tests[slot.test]!.courseId)}`}
                        before={schedule ? stepsBefore(schedule.steps, slot.id) : []}
                        ride={schedule?.steps.find((step) => step.kind === 'ride' && step.slotId === slot.id)}
                        runId={stored?.slots.find(({ id }) => id === slot.id)?.runId ?? null}
                        isOutOfOrder={stored?.slots.find(({ id }) => id === slot.id)?.isOutOfOrder ?? false}
                      />
                    ))}
                </ol>
                {problemSentences(schedule?.problems ?? [], runName).map((sentence) => (
                  <p key={sentence} className="caution mt-6">
                    {sentence}
                  </p>
                ))}
              </section>
            );
          })}
        </div>
      </SortableContext>
    </DndContext>
  );
}

function SlotRow({
  slot,
  number,
  letter,
  what,
  before,
  ride,
  runId,
  isOutOfOrder,
}: {
  readonly slot: DraftSlot;
  readonly number: number;
  readonly letter: Letter;
  readonly what: string;
  readonly before: readonly OutingStep[];
  readonly ride: OutingStep | undefined;
  readonly runId: string | null;
  readonly isOutOfOrder: boolean;
}) {
  const isFixed = slot.state !== 'planned';
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: slot.id,
    disabled: isFixed,
  });
  return (
    <li
      ref={setNodeRef}
      style={{
        transform: CSS.Transform.toString(transform),
        transition,
        ...(isDragging && { zIndex: 2, opacity: 0.85 }),
      }}
    >
      {before.length > 0 && (
        <div className="quiet between">
          {before.map(({ kind, minutes }) => `${STEP_LABELS[kind]} ${Math.round(minutes)} min`).join(', then ')}
        </div>
      )}
      <div className="slot-row">
        {isFixed ? (
          <span className="tick" role="img" aria-label={slot.state === 'ridden' ? 'ridden' : 'under way'}>
            {slot.state === 'ridden' ? '✓' : '…'}
          </span>
        ) : (
          <button
            ref={setActivatorNodeRef}
            type="button"
            className="handle"
            {...attributes}
            {...listeners}
            aria-label={`Move run ${number}: space, then arrow keys`}
          >
            ⋮⋮
          </button>
        )}
        <span className="figures">{number}</span>
        <SetupMark letter={letter} />
        <span>
          {what}
          {slot.direction === -1 && ', reversed'}
        </span>
        <span className="quiet figures end">
          {ride?.kind === 'ride' && `${clockText(ride.startMin)} · ${Math.round(100 * ride.packLeftShare)} % left`}
        </span>
        {(runId !== null || isOutOfOrder) && (
          <span className="end">
            {runId !== null && <Link to={`/runs/${runId}`}>its run</Link>}
            {isOutOfOrder && <span className="quiet"> out of order</span>}
          </span>
        )}
      </div>
    </li>
  );
}
