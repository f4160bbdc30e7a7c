import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { exampleCourse, exampleRun, exampleSetups, ONE_PAGE } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import RunsPage from './RunsPage.js';

const answers = {
  setups: exampleSetups,
  courses: [exampleCourse],
  runs: {
    items: [
      exampleRun(1, 5.52),
      { ...exampleRun(2, 6.91), exclusion: { reason: 'Pack was not full.', at: '2026-04-08T08:00:00.000Z' } },
    ],
    total: 2,
    ...ONE_PAGE,
  },
};

describe('the list of runs', () => {
  it('asks for what the address says, and ignores nonsense in it', async () => {
    const api = fakeApi(answers);
    renderInApp(<RunsPage />, '/runs?sort=netConsumption&order=up&text=tyres');
    expect(await screen.findByText('2 runs')).toBeInTheDocument();
    const { query } = api.requests.find(({ path }) => path === 'runs')!;
    expect([query.get('sort'), query.get('order'), query.get('text')]).toEqual(['netConsumption', 'up', 'tyres']);
  });

  it('shows all runs when the address makes no sense', async () => {
    const api = fakeApi(answers);
    renderInApp(<RunsPage />, '/runs?sort=colour&page=minus');
    expect(await screen.findByText('2 runs')).toBeInTheDocument();
    expect(api.requests.find(({ path }) => path === 'runs')!.query.get('sort')).toBe('date');
  });

  it('shows figures with their uncertainty, and why a run is left out', async () => {
    fakeApi(answers);
    renderInApp(<RunsPage />, '/runs');
    expect(await screen.findByText('left out: Pack was not full.')).toBeInTheDocument();
    expect(screen.getByText('5.520')).toBeInTheDocument();
    expect(screen.getAllByText('± 0.050')).toHaveLength(2);
  });

  it('waits for a pause in typing before it searches', async () => {
    const api = fakeApi(answers);
    renderInApp(<RunsPage />, '/runs');
    await screen.findByText('2 runs');
    await userEvent
      .setup({ delay: null, pointerEventsCheck: 0 })
      .type(screen.getByRole('textbox', { name: 'Search' }), 'quay');
    await waitFor(() => expect(api.requests.at(-1)!.query.get('text')).toBe('quay'));
    expect(api.requests.filter(({ path, query }) => path === 'runs' && query.get('text') === 'qu')).toHaveLength(0);
  });

  it('goes on and back by what the list says, and from the first page again where it is sorted otherwise', async () => {
    const api = fakeApi({ ...answers, runs: { ...answers.runs, next: 'further', previous: 'nearer' } });
    renderInApp(<RunsPage />, '/runs?after=here');
    const user = userEvent.setup({ delay: null, pointerEventsCheck: 0 });
    const asked = () => {
      const query = api.requests.filter(({ path }) => path === 'runs').at(-1)!.query;
      return ['after', 'before', 'sort'].map((key) => query.get(key));
    };
    await user.click(await screen.findByRole('button', { name: 'Next 50' }));
    await waitFor(() => expect(asked()).toEqual(['further', null, 'date']));
    await user.click(screen.getByRole('button', { name: '50 before' }));
    await waitFor(() => expect(asked()).toEqual([null, 'nearer', 'date']));
    await user.click(screen.getByRole('button', { name: /^Net/ }));
    await waitFor(() => expect(asked()).toEqual([null, null, 'netConsumption']));
    expect(screen.getByRole('link', { name: 'Save as CSV' }).getAttribute('href')).not.toMatch(/after|before/);
  });

  it('turns its own order about by the head it is sorted by, and begins upwards by another', async () => {
    const api = fakeApi(answers);
    renderInApp(<RunsPage />, '/runs');
    const user = userEvent.setup({ delay: null, pointerEventsCheck: 0 });
    for (const [head, turned] of [
      [/^Day/, 'ascending'],
      [/^Day/, 'descending'],
      [/^Setup/, 'ascending'],
      [/^Setup/, 'descending'],
      [/^Setup/, 'ascending'],
    ] as const) {
      const column = await screen.findByRole('columnheader', { name: head });
      await user.click(within(column).getByRole('button'));
      await waitFor(() => expect(column).toHaveAttribute('aria-sort', turned));
    }
    const { query } = api.requests.filter(({ path }) => path === 'runs').at(-1)!;
    expect(query.get('sort')).toBe('setup');
  });

  it('says where a page holds nothing any more, and leads to the first', async () => {
    const api = fakeApi({ ...answers, runs: { items: [], total: 2, ...ONE_PAGE } });
    renderInApp(<RunsPage />, '/runs?after=here');
    await userEvent.setup({ delay: null }).click(await screen.findByRole('button', { name: 'To the first' }));
    await waitFor(() => expect(api.requests.at(-1)!.query.get('after')).toBeNull());
  });

  it('chooses single runs and all of a page, and names how many', async () => {
    fakeApi(answers);
    renderInApp(<RunsPage />, '/runs');
    const user = userEvent.setup({ delay: null, pointerEventsCheck: 0 });
    const boxes = await screen.findAllByRole('checkbox', { name: /^Choose the run of/ });
    await user.click(boxes[1]!);
    expect(screen.getByRole('button', { name: 'Delete it' })).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Choose none' }));
    await user.click(screen.getByRole('button', { name: 'Choose all 2 shown' }));
    expect(boxes.map((box) => (box as HTMLInputElement).checked)).toEqual([true, true]);
    await user.click(boxes[0]!);
    expect(screen.getByRole('button', { name: 'Delete it' })).toBeInTheDocument();
  });
});
