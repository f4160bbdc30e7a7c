import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import PartsPage from './PartsPage.js';

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
      <Route path="/bench/:kind" element={<PartsPage />} />
    </Routes>,
    path,
  );
  return api;
};

describe('the bench', () => {
  it('shows errors of a logger in per cent and unknown ones as unknown', async () => {
    open('/bench/loggers', { 'bench/loggers': [logger] });
    const row = await screen.findByRole('row', { name: /Bench logger 1/ });
    expect(row).toHaveTextContent('0.4 %');
    expect(row).toHaveTextContent('–');
  });

  it('sorts parts by what is known of them, what is not known last', async () => {
    const of = (n: number, name: string, voltageGain: number | null) => ({
      ...logger,
      id: `01900000-0000-7000-8000-00000000000${n}`,
      name,
      voltageGain,
    });
    open('/bench/loggers', {
      'bench/loggers': [of(1, 'Middling', 0.004), of(2, 'Unknown', null), of(3, 'Fine', 0.001)],
    });
    await screen.findByRole('button', { name: 'Middling' });
    const names = () =>
      screen
        .getAllByRole('button')
        .map(({ textContent }) => textContent)
        .filter((text) => ['Middling', 'Unknown', 'Fine'].includes(text));
    await user().click(screen.getByRole('button', { name: /Voltage error/ }));
    expect(names()).toEqual(['Fine', 'Middling', 'Unknown']);
    await user().click(screen.getByRole('button', { name: /Voltage error/ }));
    expect(names()).toEqual(['Middling', 'Fine', 'Unknown']);
    await user().click(screen.getByRole('button', { name: /Name/ }));
    expect(names()).toEqual(['Fine', 'Middling', 'Unknown']);
    await user().click(screen.getByRole('button', { name: /Name/ }));
    expect(names()).toEqual(['Unknown', 'Middling', 'Fine']);
  });

  it('sorts prices by their amount, not by their letters', async () => {
    const [cheap, dear] = [
      { amount: 99.5, currency: 'EUR', date: '2026-04-01' },
      { amount: 389, currency: 'EUR', date: '2026-04-01' },
    ];
    const charger = { ...stored, chemistry: null, outputV: null, outputA: null, efficiency: null, notes: '' };
    open('/bench/chargers', {
      'bench/chargers': [
        { ...charger, id: stored.id, name: 'Dear', price: dear },
        { ...charger, id: '01900000-0000-7000-8000-000000000007', name: 'Cheap', price: cheap },
      ],
    });
    await screen.findByRole('button', { name: 'Dear' });
    await user().click(screen.getByRole('button', { name: /Price/ }));
    const rows = screen.getAllByRole('row').flatMap(({ textContent }) => /^(Dear|Cheap)/.exec(textContent)?.[0] ?? []);
    expect(rows).toEqual(['Cheap', 'Dear']);
  });

  it('saves a changed part with its version, shares as fractions', async () => {
    const api = open('/bench/loggers', { 'bench/loggers': [logger], [`PUT bench/loggers/${stored.id}`]: logger });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Bench logger 1' }));
    const current = await screen.findByLabelText('Current error ±', { selector: 'input' });
    await hands.type(current, '0,8');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    const sent = api.requests.find(({ method }) => method === 'PUT')!.body as Record<string, unknown>;
    expect(sent).toMatchObject({ version: 3, voltageGain: 0.004, currentOffsetA: null });
    expect(sent['currentGain']).toBeCloseTo(0.008, 12);
  });

  it('shows at the field what cannot be, and nothing is sent', async () => {
    const api = open('/bench/riders', { 'bench/riders': [] });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Add a rider' }));
    await hands.type(await screen.findByLabelText('Mass', { selector: 'input' }), 'heavy');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText(/Write a number, for example 23.5/)).toBeInTheDocument();
    expect(api.requests.some(({ method }) => method === 'POST')).toBe(false);
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

  it('brings in parts from a CSV and tells what came of it, or what is wrong in it', async () => {
    const api = open('/bench/riders', {
      'bench/riders': [],
      'POST bench/riders/csv': { added: 2, changed: 1, unchanged: 0 },
    });
    const file = new File(['name,massKg'], 'riders.csv', { type: 'text/csv' });
    await user().upload(await screen.findByLabelText('Parts CSV'), file);
    expect(await screen.findByText('2 added, 1 changed, 0 unchanged.')).toBeInTheDocument();
    expect(api.requests.some(({ path, method }) => path === 'bench/riders/csv' && method === 'POST')).toBe(true);
  });

  it('shows two windows on one part both versions, and saves over the stored one only when told to', async () => {
    const meanwhile = { ...logger, version: 4, currentGain: 0.02, calibration: 'Against the shunt.' };
    let refusals = 0;
    const api = open('/bench/loggers', {
      'bench/loggers': [logger],
      [`PUT bench/loggers/${stored.id}`]: ({ body }: { body: unknown }) => {
        if ((body as { version: number }).version === 4) return meanwhile;
        refusals++;
        return Response.json(
          { error: { code: 'changed-meanwhile', message: 'Changed.', details: { current: meanwhile } } },
          { status: 409 },
        );
      },
    });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Bench logger 1' }));
    await hands.type(await screen.findByLabelText('Current error ±', { selector: 'input' }), '0.8');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    const conflict = await screen.findByRole('alert');
    expect(within(conflict).getByRole('row', { name: /Current error/ })).toHaveTextContent('2 %');
    expect(within(conflict).getByRole('row', { name: /Current error/ })).toHaveTextContent('0.8 %');
    expect(within(conflict).getByRole('row', { name: /How it was calibrated/ })).toHaveTextContent(
      'Against the shunt.',
    );
    await hands.click(screen.getByRole('button', { name: 'Overwrite with mine' }));
    await waitFor(() => expect(screen.queryByRole('alert')).not.toBeInTheDocument());
    expect(refusals).toBe(1);
    const last = api.requests.filter(({ method }) => method === 'PUT').at(-1)!.body as Record<string, unknown>;
    expect(last).toMatchObject({ version: 4, currentGain: 0.008, calibration: '' });
    sessionStorage.clear();
  });
});
