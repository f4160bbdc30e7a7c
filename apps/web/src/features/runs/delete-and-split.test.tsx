import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { openRiding, type OpenSlot, type RunDetail, type Split } from '@ebrix/contract';
import { exampleCleaning, exampleRun, exampleSetups, ONE_PAGE } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { confirmedParts, matchedToPlan, toProposedParts } from '../../entities/run/index.js';
import { SplitRun } from './SplitRun.js';
import { WheelSuspect } from './WheelSuspect.js';
import RunsPage from './RunsPage.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const run = { ...exampleRun(1, 5.5), cleaning: exampleCleaning } as unknown as RunDetail;
const split: Split = {
  totalS: 1200,
  runs: [0, 700].map((fromS) => ({
    fromS,
    toS: fromS + 500,
    testKind: 'range' as const,
    why: 'Between two stops',
    distanceM: 3000,
    direction: 1 as const,
  })),
  strip: { fromS: 0, toS: 1200, totalS: 1200, channels: [] },
};
const slot = (n: number, direction: 1 | -1 = 1): OpenSlot => ({
  slotId: `01900000-0000-7000-8000-0000000007${String(n).padStart(2, '0')}`,
  trialId: '01900000-0000-7000-8000-000000000700',
  question: 'Which needs less?',
  letter: 'A',
  setup: 'Corvane R2',
  revisionId: exampleSetups[1]!.revisions[0]!.id,
  courseId: run.course.id,
  testKind: 'hill-climb',
  direction,
  riding: { ...openRiding, way: 'steady' },
  outing: 1,
  number: n,
});

describe('runs that should not be there', () => {
  it('are deleted together, with a way back', async () => {
    const items = [exampleRun(1, 5.5), exampleRun(2, 5.6)];
    const api = fakeApi({
      runs: { items, total: 2, ...ONE_PAGE },
      'POST runs/delete': { changed: 2 },
      'POST runs/restore': { changed: 2 },
    });
    renderInApp(
      <Routes>
        <Route path="/runs" element={<RunsPage />} />
      </Routes>,
      '/runs',
    );
    const hands = user();
    for (const box of await screen.findAllByRole('checkbox', { name: /^Choose the run of/ })) await hands.click(box);
    await hands.click(screen.getByRole('button', { name: 'Delete these 2' }));
    await hands.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() =>
      expect(api.requests.filter(({ method }) => method === 'POST').map(({ path, body }) => [path, body])).toEqual([
        ['runs/delete', { runIds: items.map(({ id }) => id) }],
        ['runs/restore', { runIds: items.map(({ id }) => id) }],
      ]),
    );
  });

  it('are split into those that are ticked, each with what is its own', async () => {
    const done = jest.fn();
    const path = `runs/${run.id}/split`;
    const api = fakeApi({
      [path]: split,
      [`POST ${path}`]: { runIds: [exampleRun(3, 1).id] },
      courses: [],
      setups: exampleSetups,
      'plans/open-slots': [],
    });
    renderInApp(<SplitRun run={run} onDone={done} onCancel={() => undefined} />);
    const hands = user();
    await hands.click(await screen.findByRole('checkbox', { name: 'Run 1' }));
    await hands.click(screen.getByRole('button', { name: 'Keep only this part' }));
    await waitFor(() => expect(done).toHaveBeenCalledWith([exampleRun(3, 1).id]));
    expect(api.requests.find(({ method }) => method === 'POST')!.body).toMatchObject({
      version: run.version,
      parts: [{ logSpan: { fromS: 700, toS: 1200 }, courseId: run.course.id, setupRevisionId: null, slotId: null }],
    });
  });

  it('take the planned runs in riding order, those that are not ticked left out', () => {
    const parts = toProposedParts(split).map((part, k) => ({ ...part, isSelected: k === 1 }));
    const matched = matchedToPlan(parts, [slot(1, -1), slot(2)]);
    expect(confirmedParts(matched, 'elsewhere')).toEqual([
      {
        logSpan: { fromS: 700, toS: 1200 },
        testKind: 'hill-climb',
        courseId: run.course.id,
        direction: -1,
        setupRevisionId: slot(1).revisionId,
        riding: slot(1).riding,
        slotId: slot(1).slotId,
      },
    ]);
  });
});

it('a wheel that surely disagrees with the positions is put right by one click, and only then asked about', async () => {
  const suspect = { ratio: 1.05, lower: 1.04, upper: 1.06, isSuspect: true };
  const api = fakeApi({ 'POST runs/riding': { changed: 1 } });
  renderInApp(<WheelSuspect run={run} />);
  expect(screen.queryByRole('button')).not.toBeInTheDocument();
  cleanup();
  renderInApp(<WheelSuspect run={{ ...run, cleaning: { ...run.cleaning, speedComparison: suspect } }} />);
  await user().click(screen.getByRole('button', { name: 'Take the wheel times 0.952' }));
  await waitFor(() => expect(api.requests[0]!.body).toEqual({ runIds: [run.id], riding: {}, wheelFactor: 0.952 }));
});
