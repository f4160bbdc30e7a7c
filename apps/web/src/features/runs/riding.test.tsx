import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { openRiding, type RunDetail } from '@ebrix/contract';
import { exampleRun, ONE_PAGE } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { ProposedRiding } from './ProposedRiding.js';
import RunsPage from './RunsPage.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const changed = (api: ReturnType<typeof fakeApi>) => api.requests.find(({ path }) => path === 'runs/riding')?.body;

describe('how runs were ridden', () => {
  it('is written down for those chosen; what is left blank is not sent', async () => {
    const items = [exampleRun(1, 5.5), { ...exampleRun(2, 5.6), isSimulated: true }];
    const api = fakeApi({ runs: { items, total: 2, ...ONE_PAGE }, 'POST runs/riding': { changed: 2 } });
    renderInApp(<RunsPage />, '/runs');
    expect(await screen.findByText('simulated')).toBeInTheDocument();
    const hands = user();
    for (const box of await screen.findAllByRole('checkbox', { name: /^Choose the run of/ })) await hands.click(box);
    await hands.click(screen.getByRole('button', { name: 'Correct details of these 2' }));
    await hands.type(screen.getByLabelText('Assist level'), '3');
    await hands.click(screen.getByRole('button', { name: 'Show what changes' }));
    expect(await screen.findAllByText(/level 3/)).toHaveLength(2);
    expect(changed(api)).toBeUndefined();
    await hands.click(screen.getByRole('button', { name: 'Change these 2 runs' }));
    await waitFor(() => expect(changed(api)).toEqual({ runIds: items.map(({ id }) => id), riding: { level: '3' } }));
  });

  it('is proposed by the log with its reason, and written down only when confirmed', async () => {
    const run = {
      ...exampleRun(1, 5.5),
      warnings: [
        { code: 'looks-like-throttle', message: 'It looks like throttle only.' },
        { code: 'level-held-3', message: 'Level 3 was held nearly all the way.' },
      ],
    } as unknown as RunDetail;
    const api = fakeApi({ 'POST runs/riding': { changed: 1 } });
    renderInApp(<ProposedRiding run={run} />);
    expect(screen.getByText(/It looks like throttle only. Level 3 was held/)).toBeInTheDocument();
    expect(changed(api)).toBeUndefined();
    await user().click(screen.getByRole('button', { name: 'Yes, write that down' }));
    await waitFor(() => expect(changed(api)).toEqual({ runIds: [run.id], riding: { way: 'throttle', level: '3' } }));
  });

  it('is not proposed where it is written down', () => {
    const run = {
      ...exampleRun(1, 5.5),
      riding: { ...openRiding, way: 'steady' },
      warnings: [],
    } as unknown as RunDetail;
    renderInApp(<ProposedRiding run={run} />);
    expect(screen.queryByRole('button', { name: 'Yes, write that down' })).not.toBeInTheDocument();
  });
});
