import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { DECIDING_FIGURES } from '@ebrix/core/compare';
import { planInputSchema, type Plan, type Trial } from '@ebrix/contract';
import { exampleCourse, exampleListItem, exampleTrial } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { exampleBasis, examplePlan } from '../../testing/ride-examples.js';
import { clockText, draftOf, firstInput, movedSlot, orderedSlots, outlineOf, planDraftSchema } from './plan-draft.js';
import { problemSentences, reasonSentence } from './plan-labels.js';
import { PlanStep } from './PlanStep.js';
import RunSheetPage from './RunSheetPage.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const answers = (plan: Plan | null, more: Parameters<typeof fakeApi>[0] = {}) => ({
  courses: [exampleCourse],
  trials: [exampleListItem],
  [`trials/${exampleTrial.id}`]: exampleTrial,
  [`GET trials/${exampleTrial.id}/plan`]: { plan },
  [`trials/${exampleTrial.id}/plan/basis`]: exampleBasis,
  ...more,
});
beforeEach(() => sessionStorage.clear());

describe('the plan a trial begins with', () => {
  it.each(Object.entries(DECIDING_FIGURES))('rides a test that yields %s', (decidingFigure, { kinds }) => {
    const input = firstInput({ ...exampleTrial, decidingFigure } as Trial, exampleTrial.id)!;
    expect(kinds).toContain(input.tests[0]!.testKind);
  });
  it('that was kept in the browser by an earlier version is dropped, not thrown at the page', () => {
    const input = firstInput(exampleTrial, exampleTrial.id)!;
    expect(planDraftSchema.safeParse({ input, slots: 'three' }).success).toBe(false);
    expect(planDraftSchema.safeParse({ input, slots: [{ id: 'new-1' }] }).success).toBe(false);
    expect(planDraftSchema.safeParse({ input, slots: [] }).success).toBe(true);
  });
});

describe('a draft of a plan', () => {
  const input = planInputSchema.parse({
    runsPerSetup: 4,
    outings: 2,
    tests: [{ testKind: 'range', courseId: exampleCourse.id }],
  });
  it('begins with the test of the figure that decides', () => {
    expect(firstInput(exampleTrial, undefined)!.tests[0]!.testKind).toBe('range');
    expect(firstInput({ ...exampleTrial, decidingFigure: 'energyPer100m' }, undefined)!.tests[0]!.testKind).toBe(
      'hill-climb',
    );
    expect(firstInput({ ...exampleTrial, course: null }, undefined)).toBeUndefined();
  });
  it('has every setup as often, in balance, and there and back where that is ridden', () => {
    const slots = orderedSlots(input, exampleTrial, exampleBasis);
    expect(slots).toHaveLength(8);
    expect(outlineOf({ input, slots }, exampleTrial, exampleBasis)!.balance[0]!.verdict).toBe('balanced');
    const both = orderedSlots(
      { ...input, tests: [{ ...input.tests[0]!, isBothWays: true }] },
      exampleTrial,
      exampleBasis,
    );
    expect(both).toHaveLength(16);
    expect(both.filter(({ direction }) => direction === -1)).toHaveLength(8);
  });
  it('keeps what was ridden and fills up the rest', () => {
    const [first] = draftOf(examplePlan).slots;
    const slots = orderedSlots(input, exampleTrial, exampleBasis, [{ ...first!, state: 'ridden' }]);
    expect(slots).toHaveLength(8);
    expect(slots[0]).toMatchObject({ id: first!.id, state: 'ridden' });
  });
  it('moves a run to where another stands, into its outing, but never one that was ridden', () => {
    const slots = orderedSlots(input, exampleTrial, exampleBasis);
    const moved = movedSlot(slots, slots[7]!.id, slots[1]!.id);
    expect(moved[1]).toMatchObject({ id: slots[7]!.id, outing: 1 });
    const ridden = slots.map((slot, k) => (k === 7 ? { ...slot, state: 'ridden' as const } : slot));
    expect(movedSlot(ridden, slots[7]!.id, slots[1]!.id)).toEqual(ridden);
  });
  it('has no outline of a basis that is of other setups', () => {
    const slots = orderedSlots(input, exampleTrial, exampleBasis);
    expect(
      outlineOf({ input, slots }, exampleTrial, { ...exampleBasis, setups: exampleBasis.setups.slice(1) }),
    ).toBeUndefined();
  });
  it('writes times of day', () => expect([clockText(510), clockText(1445)]).toEqual(['08:30', '00:05']));
});

describe('sentences of a plan', () => {
  it('name all runs of one problem together', () => {
    const name = (id: string): string => `Run ${id}`;
    expect(
      problemSentences(
        [
          { code: 'not-full', slotId: '2' },
          { code: 'not-full', slotId: '3' },
          { code: 'below-reserve', slotId: '4', leftShare: 0.12 },
          { code: 'empties-pack', slotId: '5', missingWh: 31.2 },
          { code: 'after-dark', slotId: '5' },
          { code: 'too-long', minutes: 330 },
        ],
        name,
      ),
    ).toEqual([
      'Run 2 and Run 3 need a full pack, and you have no charger with you.',
      'Run 4 may take the pack below its reserve: 12 % may be left.',
      'Run 5 may not make it home: up to 31 Wh are missing.',
      'Run 5 ends after dark.',
      'The outing takes 5.5 hours: more than you have.',
    ]);
  });
  it.each([
    [{ code: 'counts-differ' as const, setups: [1] }, 'B has fewer runs than the others.'],
    [{ code: 'outing-lacks' as const, setups: [0], outing: 1 }, /Outing 2 lacks A/],
    [{ code: 'place-drift' as const, setups: [0, 1] }, /A is ridden earlier than B/],
    [{ code: 'always-first' as const, setups: [0] }, 'A always goes first in the outing.'],
  ])('%j', (reason, words) =>
    expect(reasonSentence(reason, (list) => list.map((k) => 'AB'[k]).join(' and '))).toMatch(words),
  );
});

describe('the plan of a trial', () => {
  it('says what its runs can show, and is stored as it stands', async () => {
    const api = fakeApi(answers(null, { [`PUT trials/${exampleTrial.id}/plan`]: examplePlan }));
    renderInApp(<PlanStep trial={exampleTrial} />);
    expect(
      await screen.findByText(/With 4 runs each you could only see a difference above [\d.]+ %/),
    ).toBeInTheDocument();
    expect(screen.getByText(/usual scatter of 4.0 % is taken/)).toBeInTheDocument();
    expect(screen.getByText('balanced')).toBeInTheDocument();
    expect(screen.getByText(/The bench does not know torque of the motor/)).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Save the plan' }));
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'PUT')).toBe(true));
    const body = api.requests.find(({ method }) => method === 'PUT')!.body as { version: null; slots: { id: null }[] };
    expect(body.version).toBeNull();
    expect(body.slots).toHaveLength(8);
    expect(body.slots.every(({ id }) => id === null)).toBe(true);
  });
  it('asks why once riding has begun, and keeps what was typed through a reload', async () => {
    const begun: Plan = {
      ...examplePlan,
      slots: examplePlan.slots.map((slot, k) => (k === 0 ? { ...slot, state: 'ridden' } : slot)),
    };
    fakeApi(answers(begun));
    renderInApp(<PlanStep trial={exampleTrial} />);
    expect(await screen.findByRole('img', { name: 'ridden' })).toBeInTheDocument();
    const hands = user();
    const runs = await screen.findByLabelText('Runs of each setup');
    await hands.clear(runs);
    await hands.type(runs, '3');
    expect(screen.getByRole('button', { name: 'Save the plan' })).toBeDisabled();
    await hands.type(screen.getByLabelText(/why the plan changes/), 'Wind was up.');
    expect(screen.getByRole('button', { name: 'Save the plan' })).toBeEnabled();
    expect(sessionStorage.getItem(`draft.plan.${exampleTrial.id}.1`)).toContain('"runsPerSetup":3');
  });
  it('tells when another window was first', async () => {
    const other: Plan = { ...examplePlan, version: 4 };
    fakeApi(
      answers(examplePlan, {
        [`PUT trials/${exampleTrial.id}/plan`]: () =>
          Response.json(
            { error: { code: 'changed-meanwhile', message: 'Changed.', details: { current: other } } },
            { status: 409 },
          ),
      }),
    );
    renderInApp(<PlanStep trial={exampleTrial} />);
    await user().click(await screen.findByRole('button', { name: 'New balanced order' }));
    await user().click(screen.getByRole('button', { name: 'Save the plan' }));
    expect(await screen.findByText(/The plan was changed elsewhere/)).toBeInTheDocument();
  });
  it('needs setups and a course first', async () => {
    fakeApi(answers(null, { courses: [] }));
    renderInApp(<PlanStep trial={{ ...exampleTrial, setups: [] }} />);
    expect(await screen.findByText(/Choose the setups first/)).toBeInTheDocument();
  });
  it('says why the rides cannot be estimated', async () => {
    fakeApi(
      answers(examplePlan, {
        [`trials/${exampleTrial.id}/plan/basis`]: () => refusal(404, 'not-found', 'A chosen course is not here.'),
      }),
    );
    renderInApp(<PlanStep trial={exampleTrial} />);
    expect(await screen.findByText('A chosen course is not here.')).toBeInTheDocument();
  });
});

describe('the run sheet', () => {
  it('has a line for every run, in order, with what is to be done before it', async () => {
    fakeApi(answers(examplePlan, { courses: [{ ...exampleCourse, cautions: 'Carts at the mill.' }] }));
    renderInApp(
      <Routes>
        <Route path="/trials/:id/sheet" element={<RunSheetPage />} />
      </Routes>,
      `/trials/${exampleTrial.id}/sheet`,
    );
    expect(await screen.findByText(/Carts at the mill/)).toBeInTheDocument();
    const rows = screen.getAllByRole('row').slice(1);
    expect(rows.map((row) => /[AB](?=Range|☐)/.exec(row.textContent)?.[0])).toEqual(['A', 'B', 'B', 'A']);
    expect(rows[1]).toHaveTextContent('☐ change the setup, 20 min');
    expect(screen.getByText(/charge full pack 0; pack 1/)).toBeInTheDocument();
    expect(screen.getByText(/Held equal: same rider/)).toBeInTheDocument();
  });
});
