import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { partInputSchemas } from '@ebrix/contract';
import type { Conversion, Life, LogbookSettings, RepeatedFigure } from '@ebrix/contract';
import { LifeView } from '../../entities/life/index.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import LogbookPage from './LogbookPage.js';

const user = userEvent.setup({ delay: null });
const id = '01900000-0000-7000-8000-0000000000b1';
const trike: Conversion = {
  id,
  version: 3,
  updatedAt: '2026-05-01T08:00:00.000Z',
  archivedAt: null,
  name: 'Parcel trike',
  kit: 'Dromel D5',
  motorKind: 'rear-hub-direct',
  pack: 'Fennock 52 V',
  use: 'parcels',
  fittedOn: '2025-05-20',
  km: 1200,
  kmOn: '2026-05-01',
  notes: '',
};
const empty: Life = {
  subject: { kind: 'setup', id },
  name: 'Corvane R2',
  fittedOn: '2025-05-01',
  takenOff: null,
  km: 3000,
  odometerKm: 6800,
  kmPerWeek: null,
  points: [],
  problems: [],
  faults: [],
  rate: null,
  wear: [],
  due: [],
  followUps: [],
  answers: [],
  socket: null,
  cycles: null,
  capacity: [],
  ageing: null,
  resistance: null,
  costs: [],
};
const settings: LogbookSettings = {
  version: 4,
  items: [
    {
      id: 'chain',
      part: 'chain',
      what: 'Chain: measure, oil',
      firstKm: null,
      everyKm: 800,
      everyDays: null,
      drive: 'hub',
    },
  ],
  stages: [{ id: 'year', label: 'After a year', afterKm: null, afterDays: 365 }],
  lowestPackShare: 0.7,
};
function open(path: string, answers: Parameters<typeof fakeApi>[0] = {}) {
  const api = fakeApi({
    conversions: [trike],
    setups: [],
    'bench/bikes': [
      {
        ...partInputSchemas.bikes.parse({ name: 'Round bike 3' }),
        id,
        version: 1,
        updatedAt: trike.updatedAt,
        archivedAt: null,
      },
    ],
    'logbook/entries': { entries: [], next: null },
    'logbook/settings': settings,
    [`conversions/${id}/life`]: { ...empty, subject: { kind: 'conversion', id }, name: trike.name },
    [`bikes/${id}/life`]: { ...empty, subject: { kind: 'bike', id }, name: 'Round bike 3' },
    ...answers,
  });
  renderInApp(
    <Routes>
      <Route path="/logbook/:tab/:id?" element={<LogbookPage />} />
    </Routes>,
    path,
  );
  return api;
}
const show = (life: Partial<Life>, answers: Parameters<typeof fakeApi>[0] = {}) => {
  const api = fakeApi({
    [`setups/${id}/life`]: { ...empty, ...life },
    [`setups/${id}/figures`]: [],
    'logbook/entries': { entries: [], next: null },
    'logbook/settings': settings,
    ...answers,
  });
  renderInApp(<LifeView subject={{ kind: 'setup', id }} />);
  return api;
};
beforeEach(() => localStorage.clear());

describe('conversions out of sight', () => {
  it('stand in a list with what is known of each', async () => {
    open('/logbook/conversions');
    const row = await screen.findByRole('row', { name: /Parcel trike/ });
    expect(row).toHaveTextContent('Dromel D5');
    expect(row).toHaveTextContent('1200 km by');
  });
  it('a line is added; km without their day are asked about, at the field', async () => {
    const api = open('/logbook/conversions', { 'POST conversions': { ...trike, name: 'Milk float' } });
    await user.click(await screen.findByRole('button', { name: 'Add a conversion' }));
    await user.type(screen.getByLabelText('Bike or customer’s name for it'.replace('’', "'")), 'Milk float');
    await user.type(screen.getByLabelText('Ridden since'), '300');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText('Say on which day that was.')).toBeInTheDocument();
    expect(api.requests.some(({ method }) => method === 'POST')).toBe(false);
    await user.type(screen.getByLabelText('… by the day'), '2026-05-01');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'POST')?.body).toMatchObject({
        name: 'Milk float',
        km: 300,
        kmOn: '2026-05-01',
        fittedOn: null,
      }),
    );
  });
  it('changed in another window meanwhile, both versions stand side by side and nothing typed is lost', async () => {
    let puts = 0;
    const api = open(`/logbook/conversions/${id}`, {
      [`PUT conversions/${id}`]: () => {
        puts++;
        return puts === 1
          ? Response.json(
              {
                error: {
                  code: 'changed-meanwhile',
                  message: 'It was changed in another window.',
                  details: { current: { ...trike, version: 4, use: 'letters' } },
                },
              },
              { status: 409 },
            )
          : { ...trike, version: 5 };
      },
    });
    await user.click(await screen.findByRole('button', { name: 'Change' }));
    const use = screen.getByLabelText('Use');
    await user.clear(use);
    await user.type(use, 'parcels and post');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    const alert = await screen.findByRole('alert');
    expect(alert).toHaveTextContent('letters');
    expect(alert).toHaveTextContent('parcels and post');
    await user.click(screen.getByRole('button', { name: 'Overwrite with mine' }));
    await waitFor(() =>
      expect(api.requests.filter(({ method }) => method === 'PUT').at(-1)?.body).toMatchObject({
        version: 4,
        use: 'parcels and post',
      }),
    );
  });
  it('put away, one still counts, and that is said', async () => {
    const api = open(`/logbook/conversions/${id}`, {
      [`PUT conversions/${id}/archive`]: { ...trike, version: 4, archivedAt: '2026-06-01T08:00:00.000Z' },
    });
    await user.click(await screen.findByRole('button', { name: 'Put away' }));
    expect(await screen.findByText(/it still counts among the faults/)).toBeInTheDocument();
    expect(api.requests.find(({ method }) => method === 'PUT')?.body).toEqual({ version: 3, archived: true });
  });
});

it('a bike has a life of its own, under its name', async () => {
  open(`/logbook/bikes/${id}`);
  expect(await screen.findByRole('heading', { name: 'Round bike 3' })).toBeInTheDocument();
  expect(await screen.findByRole('group', { name: 'Life in figures' })).toHaveTextContent('Ridden');
});

describe('intervals', () => {
  it('are changed for all bikes, carrying the version they began from', async () => {
    const api = open('/logbook/intervals', { 'PUT logbook/settings': { ...settings, version: 5 } });
    const every = await screen.findByLabelText('Then every');
    await user.clear(every);
    await user.type(every, '600');
    await user.click(screen.getByRole('button', { name: 'Save the intervals' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'PUT')?.body).toMatchObject({
        version: 4,
        items: [{ id: 'chain', everyKm: 600, everyDays: null }],
        lowestPackShare: 0.7,
      }),
    );
  });
  it('without kilometres and days are asked about, with the place', async () => {
    const api = open('/logbook/intervals');
    await user.clear(await screen.findByLabelText('Then every'));
    await user.click(screen.getByRole('button', { name: 'Save the intervals' }));
    expect(await screen.findByText('Service 1: After how many km, or days?')).toBeInTheDocument();
    expect(api.requests.some(({ method }) => method === 'PUT')).toBe(false);
  });
  it('a refusal is shown and what was typed stays', async () => {
    open('/logbook/intervals', { 'PUT logbook/settings': () => refusal(400, 'invalid-request', 'Not like that.') });
    await user.click(await screen.findByRole('button', { name: 'Save the intervals' }));
    expect(await screen.findByText('Not like that.')).toBeInTheDocument();
    expect(screen.getByLabelText('Then every')).toHaveValue('800');
  });
});

describe('a life', () => {
  it('says how a pack fades, what the socket gives, and what cannot be told yet', async () => {
    show({
      cycles: 212,
      capacity: [
        { day: '2025-05-01', share: 0.98, kind: 'ride', cycles: 0, airTemperatureC: null },
        { day: '2026-05-01', share: 0.9, kind: 'ride', cycles: 200, airTemperatureC: null },
      ],
      ageing: {
        readings: 2,
        fadePer100: 4,
        interval95: [1, 7],
        verdict: 'fades',
        shareNow: 0.9,
        cyclesLeft: 500,
        cyclesInterval95: [200, null],
        words: 'It loses 4 % in 100 full cycles.',
      },
      socket: { kWhPer100Km: 1.21, interval95: [1.17, 1.26], km: 112, charges: 4, oddSpans: 0 },
      costs: [{ currency: 'EUR', amount: 34.5 }],
    });
    expect(await screen.findByText(/Some 212 full cycles.*It loses 4 % in 100 full cycles\./)).toBeInTheDocument();
    expect(screen.getByRole('img', { name: /What the pack gave/ })).toBeInTheDocument();
    const figures = screen.getByRole('group', { name: 'Life in figures' });
    expect(figures).toHaveTextContent('1.21 kWh for 100 km');
    expect(figures).toHaveTextContent('EUR 34.50');
    expect(screen.getByText(/worked out once its fitting, or a first service, is written down/)).toBeInTheDocument();
  });
  it('sets this year against the last, course by course', async () => {
    const runs = ['2025-05-01', '2025-06-01', '2026-05-01', '2026-06-01'].map((date, k) => ({
      id: `01900000-0000-7000-8000-00000000000${k}`,
      value: date < '2026' ? 8 + 0.02 * k : 10 + 0.02 * k,
      standardUncertainty: 0.1,
      interval95: [7.8, 8.2] as [number, number],
      outing: `01900000-0000-7000-8000-00000000001${k}`,
      date,
      airTemperatureC: 15,
    }));
    const figure: RepeatedFigure = {
      testKind: 'range',
      course: { id, name: 'Level round' },
      way: 'steady',
      key: 'netConsumption',
      label: 'Net consumption',
      unit: 'Wh/km',
      revisionNumbers: [1],
      runs,
    };
    show({}, { [`setups/${id}/figures`]: [figure] });
    const section = await screen.findByRole('region', { name: 'This year and last year' });
    expect(section).toHaveTextContent(/Level round, steady: 2026 took 1\.25 times what 2025 took/);
    expect(section).toHaveTextContent('more than the year before');
  });
  it('tells wear at its end and wear that cannot be seen', async () => {
    const of = (part: 'brake-pads' | 'chain', kmLeft: number | null): Life['wear'][number] => ({
      part,
      value: 1,
      limit: 1,
      unit: 'mm',
      kmLeft,
      interval95: [0, null],
      per1000Km: 0,
      readings: 3,
    });
    show({ wear: [of('chain', null), of('brake-pads', 0)] });
    expect(await screen.findByRole('row', { name: /Brake pads/ })).toHaveTextContent('to be replaced now');
    expect(screen.getByRole('row', { name: /Chain/ })).toHaveTextContent('no wear to be seen');
  });
  it('compares what riders said, one time after the other', async () => {
    show({
      followUps: [{ stage: { id: 'year', label: 'After a year' }, state: 'later', day: '2026-12-01' }],
      answers: [
        {
          stage: 'half-year',
          day: '2026-01-01',
          answers: { trust: 5 },
          words: '',
          changed: 'Grips',
          by: 'Bram Tellow',
        },
        { stage: 'first-100-km', day: '2025-06-01', answers: { trust: 3 }, words: 'Quiet.', changed: '', by: '' },
      ],
    });
    const row = await screen.findByRole('row', { name: /Trust that it brings one home/ });
    expect([...row.querySelectorAll('td')].map(({ textContent }) => textContent)).toEqual(['3', '5']);
    expect(screen.getByText('Quiet.', { exact: false })).toBeInTheDocument();
    expect(screen.getByText(/Changed: Grips/)).toBeInTheDocument();
  });
  it('of what does not answer says so, with a way to try again', async () => {
    fakeApi({});
    renderInApp(<LifeView subject={{ kind: 'setup', id }} />);
    expect(await screen.findByRole('button', { name: 'Try again' })).toBeInTheDocument();
  });
});
