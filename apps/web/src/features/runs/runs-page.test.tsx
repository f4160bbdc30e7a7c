import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { exampleCourse, exampleRun, exampleSetups } from '../../testing/examples.js';
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
});
