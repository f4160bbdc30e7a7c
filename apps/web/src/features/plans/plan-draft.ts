import { balancedOrder, changeWork, outlinePlan, type PlanOutline } from '@ebrix/core/planning';
import { TEST_KINDS } from '@ebrix/core/analysis';
import { z } from 'zod';
import { DECIDING_FIGURES } from '@ebrix/core/compare';
import {
  planInputSchema,
  planSlotSchema,
  type Plan,
  type PlanBasis,
  type PlanInput,
  type Trial,
} from '@ebrix/contract';

const { outing, revisionId, letter, test, direction, state } = planSlotSchema.shape;
/** What a browser keeps of a plan that is being made, checked when it comes back. */
export const planDraftSchema = z.strictObject({
  input: planInputSchema,
  // The id is the stored one, or a made one that begins with "new".
  slots: z.array(z.strictObject({ id: z.string(), outing, revisionId, letter, test, direction, state })).readonly(),
});
/** A planned run as it is moved about. */
export type DraftSlot = Readonly<z.output<typeof planDraftSchema>['slots'][number]>;
export type PlanDraft = Readonly<z.output<typeof planDraftSchema>>;

const DEFAULT_RUNS = 4;
const DEFAULT_OUTINGS = 2;

/** What a trial begins its plan with: the deciding figure's own test on the trial's course. */
export function firstInput(trial: Trial, courseId: string | undefined): PlanInput | undefined {
  const course = trial.course?.id ?? courseId;
  if (course === undefined) return undefined;
  // The kind of test that the figure is read from; no other yields it.
  const [testKind] = DECIDING_FIGURES[trial.decidingFigure].kinds;
  return planInputSchema.parse({
    runsPerSetup: DEFAULT_RUNS,
    outings: DEFAULT_OUTINGS,
    tests: [{ testKind, courseId: course, effort: 'steady', isBothWays: TEST_KINDS[testKind].bothDirections }],
  });
}

/** A fresh balanced order; what was ridden keeps its place at the head of its outing. */
export function orderedSlots(
  input: PlanInput,
  trial: Trial,
  basis: PlanBasis | undefined,
  kept: readonly DraftSlot[] = [],
): DraftSlot[] {
  const arms = trial.setups;
  if (arms.length === 0) return [];
  const slots: DraftSlot[] = [...kept];
  const used = new Map<string, number>();
  for (const { letter, test } of kept) used.set(`${letter} ${test}`, (used.get(`${letter} ${test}`) ?? 0) + 1);
  let count = 0;
  input.tests.forEach((test, t) => {
    const order = balancedOrder({
      setups: arms.length,
      rounds: input.runsPerSetup,
      outings: input.outings,
      seed: input.seed + t,
      ...(basis && basis.setups.length === arms.length && { changeCost: changeWork(basis.setups) }),
    });
    order.forEach((rounds, outing) => {
      for (const setup of rounds.flat()) {
        const arm = arms[setup]!;
        const key = `${arm.letter} ${t}`;
        const already = used.get(key) ?? 0;
        if (already > 0) {
          used.set(key, already - 1);
          continue;
        }
        for (const direction of test.isBothWays ? ([1, -1] as const) : ([1] as const))
          slots.push({
            id: `new-${count++}`,
            outing: outing + 1,
            revisionId: arm.revisionId,
            letter: arm.letter,
            test: t,
            direction,
            state: 'planned',
          });
      }
    });
  });
  // Ridden first, then test by test: what heats a motor comes last, where it was put.
  return slots.sort((a, b) => a.outing - b.outing || Number(a.state === 'planned') - Number(b.state === 'planned'));
}

/** One outing more at the end, with so many balanced rounds of the first test. */
export function withOuting({ input, slots }: PlanDraft, trial: Trial, rounds: number): PlanDraft {
  const outing = Math.max(0, ...slots.map((slot) => slot.outing)) + 1;
  const order = balancedOrder({ setups: trial.setups.length, rounds, outings: 1, seed: input.seed + outing });
  const directions = input.tests[0]?.isBothWays ? ([1, -1] as const) : ([1] as const);
  const added = order.flat(2).flatMap((setup, k) =>
    directions.map((direction): DraftSlot => {
      const { revisionId, letter } = trial.setups[setup]!;
      return {
        id: `new-${outing}-${k}-${direction}`,
        outing,
        revisionId,
        letter,
        test: 0,
        direction,
        state: 'planned',
      };
    }),
  );
  return {
    input: { ...input, outings: Math.min(MOST_OUTINGS, Math.max(input.outings, outing)) },
    slots: [...slots, ...added],
  };
}
const MOST_OUTINGS = 12;

export function draftOf(plan: Plan): PlanDraft {
  return {
    input: plan.input,
    slots: plan.slots.map(({ id, outing, revisionId, letter, test, direction, state }) => ({
      id,
      outing,
      revisionId,
      letter,
      test,
      direction,
      state,
    })),
  };
}

/** Moves a run to where another one stands, and into that one's outing. */
export function movedSlot(slots: readonly DraftSlot[], from: string, onto: string): DraftSlot[] {
  const moving = slots.find(({ id }) => id === from);
  const target = slots.findIndex(({ id }) => id === onto);
  if (!moving || target < 0 || moving.state !== 'planned') return [...slots];
  const outing = slots[target]!.outing;
  const rest = slots.filter(({ id }) => id !== from);
  rest.splice(target, 0, { ...moving, outing });
  return rest.sort((a, b) => a.outing - b.outing);
}

const minutesOf = (clock: string): number => {
  const [hours = 0, minutes = 0] = clock.split(':').map(Number);
  return hours * 60 + minutes;
};

/** Timetable, balance and cost; undefined while the basis is of other tests or setups. */
export function outlineOf(
  { input, slots }: PlanDraft,
  trial: Trial,
  basis: PlanBasis | undefined,
): PlanOutline | undefined {
  if (!basis || basis.setups.length !== trial.setups.length) return undefined;
  if (basis.setups.some(({ rides }) => rides.length !== input.tests.length)) return undefined;
  const indexOf = new Map(basis.setups.map(({ letter }, k) => [letter, k]));
  if (slots.some(({ letter, test }) => !indexOf.has(letter) || test >= input.tests.length)) return undefined;
  return outlinePlan({
    setups: basis.setups,
    tests: input.tests.map(({ testKind, isPartWay }) => ({
      needsFullPack: TEST_KINDS[testKind].needsFullPack && !isPartWay,
    })),
    slots: slots.map(({ id, outing, letter, test }) => ({
      slotId: id,
      outing,
      setup: indexOf.get(letter)!,
      test,
    })),
    canCharge: input.hasChargerOut,
    rules: {
      startMin: minutesOf(input.startsAt),
      hoursAvailable: input.hoursPerOuting,
      darkFromMin: minutesOf(input.darkFrom),
      changeSetupMin: input.changeSetupMin,
      betweenRunsMin: input.betweenRunsMin,
      restAfterChargeMin: input.restAfterChargeMin,
      reserveShare: input.reserveShare,
    },
  });
}

export function clockText(minutes: number): string {
  const whole = Math.round(minutes);
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${two(Math.floor(whole / 60) % 24)}:${two(whole % 60)}`;
}
