import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { exampleSetups } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import BenchPage from './BenchPage.js';
import SetupPage from './SetupPage.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const stored = {
  id: '01900000-0000-7000-8000-000000000001',
  version: 3,
  updatedAt: '2026-04-07T08:00:00.000Z',
  archivedAt: null,
};
const logger = {
  ...stored,
  name: 'Bench logger 1',
  voltageGain: 0.004,
  currentGain: null,
  currentOffsetA: null,
  distanceGain: null,
  altitudeM: null,
  calibration: '',
  notes: '',
};
const open = (path: string, answers: Parameters<typeof fakeApi>[0]) => {
  const api = fakeApi(answers);
  renderInApp(
    <Routes>
      <Route path="/bench/setups/:id" element={<SetupPage />} />
      <Route path="/bench/:kind" element={<BenchPage />} />
    </Routes>,
    path,
  );
  return api;
};

describe('the bench', () => {
  it('lists setups with their parts, runs and revisions', async () => {
    open('/bench/setups', { setups: exampleSetups });
    const row = await screen.findByRole('row', { name: /Corvane R2/ });
    expect(row).toHaveTextContent('Round bike 3');
    expect(row).toHaveTextContent('Marrow 48');
  });

  it('shows errors of a logger in per cent and unknown ones as unknown', async () => {
    open('/bench/loggers', { 'bench/loggers': [logger] });
    const row = await screen.findByRole('row', { name: /Bench logger 1/ });
    expect(row).toHaveTextContent('0.4 %');
    expect(row).toHaveTextContent('–');
  });

  it('saves a changed part with its version, shares as fractions', async () => {
    const api = open('/bench/loggers', { 'bench/loggers': [logger], [`PUT bench/loggers/${stored.id}`]: logger });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Bench logger 1' }));
    const current = await screen.findByLabelText('Current error ±');
    await hands.type(current, '0,8');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    const sent = api.asked.find(({ method }) => method === 'PUT')!.body as Record<string, unknown>;
    expect(sent).toMatchObject({ version: 3, voltageGain: 0.004, currentOffsetA: null });
    expect(sent['currentGain']).toBeCloseTo(0.008, 12);
  });

  it('shows at the field what cannot be, and nothing is sent', async () => {
    const api = open('/bench/riders', { 'bench/riders': [] });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Add a rider' }));
    await hands.type(await screen.findByLabelText('Mass'), 'heavy');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText(/Write a number, for example 23.5/)).toBeInTheDocument();
    expect(api.asked.some(({ method }) => method === 'POST')).toBe(false);
    sessionStorage.clear();
  });

  it('says why a part in use is not deleted', async () => {
    open('/bench/loggers', {
      'bench/loggers': [{ ...logger, archivedAt: '2026-05-01T00:00:00.000Z' }],
      [`DELETE bench/loggers/${stored.id}`]: () =>
        refusal(409, 'in-use', 'It is used by runs or setups, so it cannot be deleted. Archive it instead.'),
    });
    await user().click(await screen.findByRole('button', { name: 'Delete' }));
    expect(await screen.findByText(/used by runs or setups/)).toBeInTheDocument();
  });

  it('shows the revisions of a setup, newest first, with the caution before riding', async () => {
    open(`/bench/setups/${exampleSetups[0]!.id}`, { setups: exampleSetups });
    expect(await screen.findByRole('row', { name: /As first fitted/ })).toHaveTextContent('level 3, limit 25 km/h');
    expect(screen.getByText(/Check your local rules/)).toBeInTheDocument();
  });
});
