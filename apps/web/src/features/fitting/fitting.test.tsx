import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import fc from 'fast-check';
import type { Fitting, FittingStep } from '@ebrix/contract';
import { exampleDetail } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import FittingsPage from './FittingsPage.js';
import FittingTab from './FittingTab.js';
import { bare, clockOffset, elapsedS, moved, ownId, withStep } from './steps.js';

const step = (id: string, more: Partial<FittingStep> = {}): FittingStep => ({
  id,
  title: `Step ${id}`,
  detail: '',
  tools: ['spanners'],
  caution: '',
  isDone: false,
  elapsedS: 0,
  difficulty: null,
  trouble: '',
  cure: '',
  runningSince: null,
  ...more,
});

describe('fitting steps', () => {
  it('count on while their clock runs, by the server’s time', () => {
    const running = step('a', { elapsedS: 60, runningSince: '2026-04-01T08:00:00.000Z' });
    const offset = clockOffset({ now: '2026-04-01T08:01:30.000Z' }, 1_000);
    expect(elapsedS(running, 1_000 + offset)).toBe(150);
    expect(elapsedS(running, 11_000 + offset)).toBe(160);
    expect(elapsedS(step('b', { elapsedS: 60 }), 1e15)).toBe(60);
  });
  it('move without one being lost or doubled', () =>
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.string({ minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 12 }),
        fc.nat(11),
        fc.integer({ min: -2, max: 14 }),
        (ids, which, to) => {
          const steps = ids.map((id) => step(id));
          const id = ids[which % ids.length]!;
          const after = moved(steps, id, to).map((one) => one.id);
          expect([...after].sort()).toEqual([...ids].sort());
          expect(after.indexOf(id)).toBe(Math.min(Math.max(0, to), ids.length - 1));
          expect(after.filter((one) => one !== id)).toEqual(ids.filter((one) => one !== id));
        },
      ),
    ));
  it('change one at a time and keep the clock out of what is stored', () => {
    const steps = [step('a', { runningSince: '2026-04-01T08:00:00.000Z' }), step('b')];
    expect(withStep(steps, 'b', { isDone: true })).toEqual([bare(steps[0]!), { ...bare(steps[1]!), isDone: true }]);
    expect(bare(steps[0]!)).not.toHaveProperty('runningSince');
    expect(ownId([{ id: 'own-1' }, { id: 'own-3' }])).toBe('own-2');
  });
});

const setup = exampleDetail();
const fitting = (steps: FittingStep[], version = 1): Fitting => ({
  setupId: setup.id,
  version,
  updatedAt: null,
  steps,
  now: '2026-04-01T08:00:00.000Z',
});
const show = (steps: FittingStep[], more: Parameters<typeof fakeApi>[0] = {}) => {
  const api = fakeApi({ [`setups/${setup.id}/fitting`]: fitting(steps), 'fitting-templates': [], photos: [], ...more });
  renderInApp(<FittingTab setup={setup} />);
  return api;
};
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });

describe('the fitting of a setup', () => {
  it('shows the caution of the step at hand, the time and the tools in all', async () => {
    show([
      step('a', { isDone: true, elapsedS: 3600 }),
      step('b', { elapsedS: 125, caution: 'Fingers clear.', tools: ['chain whip'] }),
      step('c', { caution: 'Later.' }),
    ]);
    expect(await screen.findByText('Fingers clear.')).toBeInTheDocument();
    expect(screen.queryByText('Later.')).not.toBeInTheDocument();
    expect(screen.getByRole('timer')).toHaveTextContent('1:02:05');
    expect(screen.getByText('chain whip, spanners')).toBeInTheDocument();
    expect(screen.getByText(/1 of 3 steps done/)).toBeInTheDocument();
  });

  it('starts a clock, ticks a step off, and keeps difficulty, trouble and cure', async () => {
    const api = show([step('a')], {
      [`POST setups/${setup.id}/fitting/clock`]: fitting([step('a', { runningSince: '2026-04-01T08:00:00.000Z' })], 2),
      [`PUT setups/${setup.id}/fitting`]: fitting([step('a')], 3),
    });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Start the clock: Step a' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'POST')?.body).toEqual({
        version: 1,
        stepId: 'a',
        isRunning: true,
      }),
    );
    await hands.click(screen.getByRole('checkbox', { name: 'Step a: done' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'PUT')?.body).toMatchObject({
        steps: [{ id: 'a', isDone: true }],
      }),
    );
    await hands.click(screen.getByRole('button', { name: /^1. Step a/ }));
    const trouble = await screen.findByLabelText('Trouble found');
    await hands.type(trouble, 'Cup seized{Enter}');
    await waitFor(() =>
      expect(api.requests.filter(({ method }) => method === 'PUT').at(-1)?.body).toMatchObject({
        steps: [{ trouble: 'Cup seized' }],
      }),
    );
  });

  it('adds a step of one’s own', async () => {
    const api = show([step('a')], { [`PUT setups/${setup.id}/fitting`]: fitting([step('a'), step('own-1')], 2) });
    await user().type(await screen.findByLabelText('Your own step'), 'Mudguard moved{Enter}');
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'PUT')?.body).toMatchObject({
        version: 1,
        steps: [{ id: 'a' }, { id: 'own-1', title: 'Mudguard moved', elapsedS: 0 }],
      }),
    );
  });

  it('ends in a choice when it was changed elsewhere', async () => {
    const theirs = fitting([step('a', { isDone: true, elapsedS: 300 })], 5);
    const api = show([step('a')], {
      [`PUT setups/${setup.id}/fitting`]: ({ body }: { body: unknown }) =>
        (body as { version: number }).version === 5
          ? theirs
          : Response.json(
              { error: { code: 'changed-meanwhile', message: 'Changed.', details: { current: theirs } } },
              { status: 409 },
            ),
    });
    const hands = user();
    await hands.type(await screen.findByLabelText('Your own step'), 'Bell moved{Enter}');
    expect(await screen.findByText(/The fitting was changed elsewhere/)).toBeInTheDocument();
    expect(screen.getByRole('row', { name: /Bell moved not there/ })).toBeInTheDocument();
    await hands.click(screen.getByRole('button', { name: 'Overwrite with mine' }));
    await waitFor(() =>
      expect(
        api.requests.filter(({ method }) => method === 'PUT').map(({ body }) => (body as { version: number }).version),
      ).toEqual([1, 5]),
    );
  });
});

it('compares fitting times of setups', async () => {
  fakeApi({
    fittings: [
      {
        setupId: setup.id,
        setupName: 'Corvane R2',
        kitName: 'Corvane R2',
        steps: 15,
        done: 14,
        elapsedS: 10_920,
        hardest: { title: 'Crank sensor', difficulty: 3 },
        troubles: 1,
        tools: ['caliper', 'spanners'],
      },
    ],
  });
  renderInApp(<FittingsPage />);
  const row = await screen.findByRole('row', { name: /Corvane R2/ });
  expect(row).toHaveTextContent('3:02:00 so far');
  expect(row).toHaveTextContent('3: Crank sensor');
});
