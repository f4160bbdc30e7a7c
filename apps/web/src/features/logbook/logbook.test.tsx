import { act, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { Conversion, EntriesPage, Life, LogEntry, ReliabilityDto } from '@ebrix/contract';
import { exampleDetail } from '../../testing/examples.js';
import { sendWaiting } from '../../entities/life/index.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import LogbookPage from './LogbookPage.js';

const setup = exampleDetail();
const listed = {
  ...setup,
  revisions: setup.revisions.map(({ marks: _m, parts: _p, fit: _f, ...revision }) => revision),
};
const fleet: Conversion = {
  id: '01900000-0000-7000-8000-00000000f1ee',
  version: 1,
  updatedAt: '2026-05-01T08:00:00.000Z',
  archivedAt: null,
  name: 'Round bike 5',
  kit: 'Dromel D5',
  motorKind: 'rear-hub-direct',
  pack: '',
  use: 'milk round',
  fittedOn: '2025-05-20',
  km: 2900,
  kmOn: '2026-06-25',
  notes: '',
};
const entry: LogEntry = {
  id: '01900000-0000-7000-8000-0000000000e1',
  version: 1,
  subject: { kind: 'setup', id: setup.id },
  subjectName: setup.name,
  day: '2026-05-02',
  odometerKm: 812,
  cost: { amount: 12, currency: 'EUR' },
  by: 'Ottoline Vask',
  source: null,
  updatedAt: '2026-05-02T08:00:00.000Z',
  details: {
    kind: 'fault',
    part: 'spokes',
    symptom: null,
    words: '<img src=x onerror=alert(1)>',
    effect: 'limped',
    daysOff: 3,
    cause: '',
    cure: 'relaced',
    underWarranty: false,
  },
};
const page = (...entries: LogEntry[]): EntriesPage => ({ entries, next: null });
const usual = {
  version: 0,
  items: [
    {
      id: 'spokes',
      part: 'spokes',
      what: 'Spokes: even tension',
      firstKm: 100,
      everyKm: 800,
      everyDays: null,
      drive: 'hub',
    },
  ],
  stages: [{ id: 'year', label: 'After a year', afterKm: null, afterDays: 365 }],
  lowestPackShare: 0.7,
};
function open(path: string, answers: Readonly<Record<string, unknown>> = {}) {
  const api = fakeApi({
    setups: [listed],
    conversions: [fleet],
    'bench/bikes': [],
    'logbook/entries': page(entry),
    'logbook/settings': usual,
    ...answers,
  });
  const { store } = renderInApp(
    <Routes>
      <Route path="/logbook/:tab/:id?" element={<LogbookPage />} />
    </Routes>,
    path,
  );
  return { ...api, store };
}
const user = userEvent.setup({ delay: null });
beforeEach(() => localStorage.clear());

it('shows what was written down as text, whatever it holds', async () => {
  open('/logbook/entries');
  expect(await screen.findByText(/<img src=x onerror/)).toBeInTheDocument();
  expect(screen.getByText(/limped home, 3 days off the road, cured by: relaced/)).toBeInTheDocument();
  expect(document.querySelector('img')).toBeNull();
});

it('a reading is two touches and a number; it goes with an id of its own', async () => {
  const api = open('/logbook/entries', { 'POST logbook/entries': { stored: 1, already: 0 } });
  await user.type(await screen.findByLabelText('Distance'), '1240,5');
  await user.click(screen.getByRole('button', { name: 'Write it down' }));
  await waitFor(() => {
    const sent = api.requests.find(({ method }) => method === 'POST')?.body as { entries: { id: string }[] };
    expect(sent.entries).toMatchObject([
      { subject: { kind: 'setup', id: setup.id }, details: { kind: 'odometer', way: 'reading', km: 1240.5 } },
    ]);
    expect(sent.entries[0]!.id).toMatch(/^[\da-f-]{36}$/);
  });
});

it('says what is missing, at the form', async () => {
  open('/logbook/entries');
  await user.click(await screen.findByRole('button', { name: 'Write it down' }));
  expect(await screen.findByRole('alert')).toHaveTextContent('Distance: Write a number.');
  await user.click(screen.getByRole('button', { name: 'Accident' }));
  await user.click(screen.getByRole('button', { name: 'Write it down' }));
  expect(screen.getByRole('alert')).toHaveTextContent('Say what happened.');
});

it('waits in the browser while the server does not answer, and goes in once when it does', async () => {
  let isDown = true;
  const api = open('/logbook/entries', {
    'POST logbook/entries': () => {
      if (isDown) throw new TypeError('no network');
      return { stored: 1, already: 0 };
    },
  });
  await user.type(await screen.findByLabelText('Distance'), '77');
  await user.click(screen.getByRole('button', { name: 'Write it down' }));
  expect(await screen.findByText(/One entry waits in this browser/)).toBeInTheDocument();
  const [kept] = JSON.parse(localStorage.getItem('ebrix.logbook.waiting')!) as { id: string }[];
  isDown = false;
  await act(() => sendWaiting(api.store.dispatch));
  await waitFor(() => expect(localStorage.getItem('ebrix.logbook.waiting')).toBeNull());
  const sent = api.requests
    .filter(({ method }) => method === 'POST')
    .map(({ body }) => (body as { entries: { id: string }[] }).entries[0]!.id);
  expect(new Set(sent)).toEqual(new Set([kept!.id]));
});

it('one that is refused when it comes to be sent does not hold the others back and is not lost', async () => {
  let isDown = true;
  const stored: string[] = [];
  const api = open('/logbook/entries', {
    'POST logbook/entries': ({ body }: { body: unknown }) => {
      if (isDown) throw new TypeError('no network');
      const { entries } = body as { entries: { day: string }[] };
      if (entries.some(({ day }) => day === '2026-01-01')) return refusal(404, 'not-found', 'This setup is gone.');
      stored.push(...entries.map(({ day }) => day));
      return { stored: entries.length, already: 0 };
    },
  });
  for (const day of ['2026-01-01', '2026-01-02']) {
    fireEvent.change(await screen.findByLabelText('Day'), { target: { value: day } });
    await user.type(screen.getByLabelText('Distance'), '5');
    await user.click(screen.getByRole('button', { name: 'Write it down' }));
    await waitFor(() => expect(screen.getByLabelText('Distance')).toHaveValue(''));
  }
  expect(screen.getByText(/2 entries wait in this browser/)).toBeInTheDocument();
  isDown = false;
  await act(() => sendWaiting(api.store.dispatch));
  expect(stored).toEqual(['2026-01-02']);
  expect(screen.getByText(/shows 5 km: This setup is gone\./)).toBeInTheDocument();
  await user.click(screen.getByRole('button', { name: 'Throw away' }));
  expect(screen.queryByText(/This setup is gone/)).toBeNull();
});

it('of a bike out of sight one writes what it was ridden since fitting, and no display is asked for', async () => {
  const api = open(`/logbook/entries?about=conversion:${fleet.id}`, {
    'POST logbook/entries': { stored: 1, already: 0 },
  });
  await user.click(await screen.findByRole('button', { name: 'Fault' }));
  await user.type(screen.getByLabelText('Ridden since it was fitted'), '310');
  await user.click(screen.getByRole('button', { name: 'Write it down' }));
  await waitFor(() =>
    expect(api.requests.find(({ method }) => method === 'POST')?.body).toMatchObject({
      entries: [{ subject: { kind: 'conversion' }, odometerKm: 310 }],
    }),
  );
  await user.click(screen.getByRole('button', { name: 'Kit fitted' }));
  expect(screen.queryByLabelText('Ridden since it was fitted')).toBeNull();
});

it('a dangerous fault carries a caution', async () => {
  open('/logbook/entries');
  await user.click(await screen.findByRole('button', { name: 'Fault' }));
  await user.selectOptions(screen.getByLabelText('What it did'), 'danger');
  expect(screen.getByText(/Do not ride it until the cause is found/)).toBeInTheDocument();
});

it('rows of a spreadsheet are looked at before they are stored', async () => {
  const api = open('/logbook/entries', { 'POST logbook/entries': { stored: 2, already: 0 } });
  await user.click(await screen.findByText('Paste many from a spreadsheet'));
  const box = screen.getByLabelText('Rows out of a spreadsheet');
  await user.click(box);
  await user.paste('day;bike;what;km\n2026-04-07;Round bike 5;odometer;90\n2026-04-08;Nobody;odometer;9');
  expect(await screen.findByText(/Line 3: No bike is called “Nobody”/)).toBeInTheDocument();
  expect(screen.getByRole('button', { name: 'Mend the lines above first' })).toBeDisabled();
  await user.clear(box);
  await user.click(box);
  await user.paste('day;bike;what;km\n2026-04-07;Round bike 5;odometer;90\n2026-04-08;round;odometer;120');
  await user.click(await screen.findByRole('button', { name: 'Write down 2' }));
  await waitFor(() =>
    expect(api.requests.find(({ method }) => method === 'POST')?.body).toMatchObject({
      entries: [
        { subject: { kind: 'conversion', id: fleet.id }, details: { km: 90 } },
        { subject: { kind: 'conversion', id: fleet.id }, details: { km: 120 } },
      ],
    }),
  );
});

const rate = (label: string, faults: number, km: number, more: object = {}) => ({
  label,
  conversions: 2,
  km,
  faults,
  rate: (1000 * faults) / km,
  interval95: [0.1, 2] as [number, number],
  upperBound: 3.3,
  isUneven: false,
  words: faults === 0 ? 'No fault in 900 km: fewer than 3.3 in 1 000 km.' : `${faults} faults`,
  ...more,
});
const trend = {
  verdict: 'early' as const,
  shape: 0.4,
  interval95: [0.2, 0.8] as [number, number],
  words: 'They become rarer with use.',
};
const reliability: ReliabilityDto = {
  all: rate('all', 6, 5000, { words: '6 faults in 5 000 km: 1.2 in 1 000 km (0.44 to 2.6).' }),
  groups: [rate('Corvane R2', 0, 900), rate('Dromel D5', 6, 4100)],
  comparisons: [
    {
      a: 'Corvane R2',
      b: 'Dromel D5',
      ratio: 0,
      interval95: [0, 4],
      pValue: 0.6,
      verdict: 'open',
      words: 'cannot be told',
    },
  ],
  trend,
  parts: [{ ...rate('spokes', 6, 5000), part: 'spokes', trend }],
  curves: [
    { label: 'Corvane R2', points: [] },
    {
      label: 'Dromel D5',
      points: [
        { at: 58, atRisk: 2, mean: 0.5, standardError: 0.3, interval: [0.1, 2] },
        { at: 90, atRisk: 2, mean: 1, standardError: 0.4, interval: [0.3, 3] },
      ],
    },
  ],
  lives: [],
  said: [{ kit: 'Dromel D5', stage: 'year', key: 'trust', bikes: 2, median: 3.5, lowest: 3, highest: 4 }],
  conversions: [
    {
      subject: { kind: 'conversion', id: fleet.id },
      name: 'Round bike 5',
      groups: { kit: 'Dromel D5', motorKind: '', pack: '', use: '' },
      km: 2900,
      isKept: true,
      faults: 4,
    },
    {
      subject: { kind: 'setup', id: setup.id },
      name: 'Untold',
      groups: { kit: 'X', motorKind: '', pack: '', use: '' },
      km: 100,
      isKept: false,
      faults: 0,
    },
  ],
};

it('faults: no fault is a bound, never a zero; what does not count is told', async () => {
  open('/logbook/faults', { 'logbook/reliability': reliability });
  const none = await screen.findByRole('row', { name: /Corvane R2/ });
  expect(none).toHaveTextContent('fewer than 3.3');
  expect(screen.getByRole('img', { name: /Faults of one bike so far/ })).toBeInTheDocument();
  expect(screen.getByText('Spokes').closest('tr')).toHaveTextContent('They become rarer with use.');
  expect(screen.getByText(/What was counted: 1 of 2 fitted kits/)).toBeInTheDocument();
  expect(screen.getByText(/no entries: does not count/)).toBeInTheDocument();
  expect(screen.getByRole('row', { name: /Trust that it brings one home/ })).toHaveTextContent('3.5 (3 to 4, 2)');
});

it('nothing ridden teaches how to begin', async () => {
  open('/logbook/faults', {
    'logbook/reliability': {
      ...reliability,
      all: null,
      groups: [],
      comparisons: [],
      trend: null,
      parts: [],
      curves: [],
      conversions: [],
    },
  });
  expect(await screen.findByText(/So far no fitted kit has any/)).toBeInTheDocument();
});

const life: Life = {
  subject: { kind: 'conversion', id: fleet.id },
  name: fleet.name,
  fittedOn: '2025-05-20',
  takenOff: null,
  km: 2900,
  odometerKm: 2900,
  kmPerWeek: 36,
  points: [],
  problems: [{ day: '2026-02-01', code: 'went-back', message: 'On 2026-02-01 the odometer shows less.' }],
  faults: [],
  rate: rate('x', 0, 900),
  wear: [
    {
      part: 'chain',
      value: 0.45,
      limit: 0.75,
      unit: '%',
      kmLeft: 640,
      interval95: [300, null],
      per1000Km: 0.3,
      readings: 2,
    },
  ],
  due: [
    {
      item: { id: 'spokes', part: 'spokes', what: 'Spokes: even tension' },
      state: 'overdue',
      last: null,
      kmLeft: -40,
      daysLeft: null,
      day: '2026-05-01',
    },
  ],
  followUps: [{ stage: { id: 'year', label: 'After a year' }, state: 'due', day: '2026-05-20' }],
  answers: [
    {
      stage: 'year',
      day: '2026-05-01',
      answers: { trust: 4 },
      words: 'It just starts.',
      changed: '',
      by: 'Bram Tellow',
    },
  ],
  socket: null,
  cycles: null,
  capacity: [],
  ageing: null,
  resistance: null,
  costs: [],
};

it('a life tells what wears, what is due and who is to be asked; a click writes a service down', async () => {
  const api = open(`/logbook/conversions/${fleet.id}`, {
    [`conversions/${fleet.id}/life`]: life,
    'POST logbook/entries': { stored: 1, already: 0 },
  });
  expect(await screen.findByText(/On 2026-02-01 the odometer shows less/)).toBeInTheDocument();
  expect(screen.getByRole('row', { name: /Chain/ })).toHaveTextContent('640 km (300 or more)');
  const due = screen.getByRole('row', { name: /Spokes: even tension/ });
  expect(due).toHaveTextContent('40 km over');
  await user.click(within(due).getByRole('button', { name: /Done today/ }));
  await waitFor(() =>
    expect(api.requests.find(({ method }) => method === 'POST')?.body).toMatchObject({
      entries: [{ details: { kind: 'service', items: ['spokes'] } }],
    }),
  );
  await user.click(screen.getByRole('button', { name: 'Ask: After a year' }));
  expect(screen.getByRole('group', { name: 'Trust that it brings one home' })).toBeInTheDocument();
});

it('a list of what is due prints, and is offered as a calendar', async () => {
  open('/logbook/due', {
    'logbook/due': [{ subject: life.subject, name: life.name, due: life.due, followUps: life.followUps }],
  });
  expect(await screen.findByRole('link', { name: /Save as a calendar/ })).toHaveAttribute(
    'href',
    '/api/logbook/service.ics',
  );
  expect(screen.getByText(/To be asked: after a year/)).toBeInTheDocument();
});
