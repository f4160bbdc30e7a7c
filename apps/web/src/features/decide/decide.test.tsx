import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import fc from 'fast-check';
import { Route, Routes } from 'react-router';
import { valueFunctionProblem } from '@ebrix/core/decision';
import {
  moneyBookSchema,
  type PackageLook,
  type PreparedPackage,
  type SetupCosts,
  type UseDto,
  type WeighUp,
} from '@ebrix/contract';
import { exampleSetups } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import DecidePage from './DecidePage.js';
import { issueText } from './form-issues.js';
import { askFor, inHundred, NEW_USE, scaleOf, weighHere } from './live-use.js';
import { lineOfForm, purchaseDifferences } from './purchase-lines.js';
import { differencesOfUse } from './use-clash.js';
import { addCorner, moveCorner, removeCorner, spanOf } from './worth-corners.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const setup = exampleSetups[0]!;
const revisionId = setup.revisions[0]!.id;
const ID = '01890a5d-ac96-774b-bcce-b302099a8057';
const use: UseDto = {
  id: ID,
  version: 3,
  updatedAt: '2026-04-01T08:00:00.000Z',
  archivedAt: null,
  name: 'Bread round',
  notes: '',
  criteria: [
    { key: 'netConsumption', weight: 4, worth: null },
    { key: 'cost', weight: 1, worth: null },
  ],
  mustHaves: [],
};
const sure = (value: number) => ({ value, standardUncertainty: 0 });
const answer: WeighUp = {
  setups: [
    {
      letter: 'A',
      revisionId,
      setupId: setup.id,
      name: 'Corvane',
      standings: { netConsumption: sure(6), cost: sure(900) },
    },
    {
      letter: 'B',
      revisionId: ID,
      setupId: ID,
      name: 'Quillon',
      standings: { netConsumption: sure(9), cost: sure(500) },
    },
  ],
  criteria: [
    {
      key: 'netConsumption',
      label: 'Net consumption',
      unit: 'Wh/km',
      better: 'less',
      weight: 0,
      worth: [
        { at: 4, worth: 1 },
        { at: 14, worth: 0 },
      ],
      isUsualWorth: true,
      basis: 'Range and consumption on Level round; A 3, B 2 runs',
    },
    {
      key: 'cost',
      label: 'Cost of the conversion',
      unit: 'money',
      better: 'less',
      weight: 0,
      worth: [
        { at: 500, worth: 1 },
        { at: 1000, worth: 0 },
      ],
      isUsualWorth: true,
      basis: '',
    },
  ],
  mustHaves: [],
  weighed: { setups: [], leftOut: [], noneMeets: 0, ranges: [], dominated: [], measuring: [], words: '' },
  currency: 'EUR',
};
const open = (answers: Parameters<typeof fakeApi>[0], path = '/decide/uses', isReload = false) => {
  if (!isReload) sessionStorage.clear();
  const api = fakeApi({
    uses: [use],
    setups: [{ ...setup, revisions: [{ ...setup.revisions[0]!, runCount: 3 }] }],
    courses: [],
    'weigh-up': answer,
    packages: [],
    ...answers,
  });
  renderInApp(
    <Routes>
      <Route path="/decide/:tab/:id?" element={<DecidePage />} />
    </Routes>,
    path,
  );
  return api;
};

describe('a use on the page', () => {
  it('answers at once when a weight is moved, and says what would turn it', async () => {
    open({});
    // 0.8 · 0.8 + 0.2 · 0.2 = 0.68 against 0.8 · 0.5 + 0.2 · 1 = 0.6.
    expect(await screen.findByText('Corvane in 100 of 100, mainly for net consumption.')).toBeInTheDocument();
    const outcome = within(screen.getByRole('region', { name: 'Answer' }));
    expect(outcome.getByText('68')).toBeInTheDocument();
    expect(screen.getByText('above 1.5: Quillon')).toBeInTheDocument();
    const weight = screen.getByRole('slider', { name: 'Weight of Cost of the conversion' });
    for (let k = 0; k < 3; k++) fireEvent.keyDown(weight, { key: 'ArrowRight', keyCode: 39 });
    expect(await screen.findByText('Quillon in 100 of 100, mainly for cost of the conversion.')).toBeInTheDocument();
    expect(screen.getByText('Not saved yet.')).toBeInTheDocument();
  });

  it('saves what was changed with the version it began from, and lets one choose when another window was first', async () => {
    const theirs = { ...use, version: 4, notes: 'from the other window' };
    const api = open({
      [`PUT uses/${ID}`]: ({ body }: { body: unknown }) =>
        (body as { version: number }).version === 3
          ? Response.json(
              { error: { code: 'changed-meanwhile', message: 'Changed.', details: { current: theirs } } },
              { status: 409 },
            )
          : { ...use, version: 5, notes: 'mine' },
    });
    await user().type(await screen.findByLabelText('Notes'), 'mine');
    await user().click(screen.getByRole('button', { name: 'Save' }));
    const choice = within(await screen.findByText(/changed in another window/).then((p) => p.closest('div')!));
    expect(choice.getByText('from the other window')).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Overwrite with mine' }));
    await waitFor(() => expect(api.requests.filter(({ method }) => method === 'PUT')).toHaveLength(2));
    expect(api.requests.filter(({ method }) => method === 'PUT').map(({ body }) => body)).toMatchObject([
      { version: 3, notes: 'mine' },
      { version: 4, notes: 'mine' },
    ]);
  });

  it('shows what a figure is worth, and takes corners by number and by key', async () => {
    open({});
    await user().click(await screen.findByRole('button', { name: 'What Net consumption is worth' }));
    const corner = screen.getByRole('slider', { name: 'Corner 2: worth 0 at 14 Wh/km' });
    fireEvent.keyDown(corner, { key: 'ArrowUp' });
    expect(await screen.findByRole('slider', { name: 'Corner 2: worth 5 at 14 Wh/km' })).toBeInTheDocument();
    const at = screen.getByLabelText('Corner 1 at');
    await user().clear(at);
    await user().type(at, '6,5');
    expect(await screen.findByRole('slider', { name: 'Corner 1: worth 100 at 6.5 Wh/km' })).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Back to the usual curve' }));
    expect(await screen.findByRole('slider', { name: 'Corner 1: worth 100 at 4 Wh/km' })).toBeInTheDocument();
  });

  it('keeps what was typed through a reload, with the version it began from', async () => {
    open({});
    await user().type(await screen.findByLabelText('Notes'), 'half');
    cleanup();
    const api = open({ uses: [{ ...use, version: 4 }], [`PUT uses/${ID}`]: { ...use, version: 5 } }, undefined, true);
    expect(await screen.findByLabelText('Notes')).toHaveValue('half');
    await user().click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'PUT')?.body).toMatchObject({ version: 3, notes: 'half' }),
    );
    await waitFor(() => expect(sessionStorage.getItem(`draft.use.${ID}`)).toBeNull());
  });

  it('without a name is not sent, and without rides there is nothing to weigh', async () => {
    const api = open({}, '/decide/uses/new');
    await user().click(await screen.findByRole('button', { name: 'Save the use' }));
    expect(await screen.findByText('Give it a name.')).toBeInTheDocument();
    expect(api.requests.some(({ method, path }) => method === 'POST' && path === 'uses')).toBe(false);
  });
  it('teaches where nothing was ridden', async () => {
    open({ setups: [], uses: [] });
    expect(await screen.findByText(/No setup has been ridden yet/)).toBeInTheDocument();
  });
});

describe('money on the page', () => {
  const costs: SetupCosts = {
    setupId: setup.id,
    name: setup.name,
    version: 0,
    isOwn: false,
    lines: [
      {
        what: 'Corvane R2',
        kind: 'part',
        source: 'bought',
        price: { amount: 412.5, currency: 'EUR' },
        sharedBy: 1,
        isOfBike: false,
      },
    ],
    sums: {
      home: 'EUR',
      conversion: 412.5,
      withBike: 412.5,
      byKind: { part: 412.5 },
      unpriced: ['Fennock'],
      unrated: [],
      rates: [],
    },
    perUsableWh: null,
    running: null,
    reason: 'No rides yet: what 100 km take is not known.',
    payback: [],
  };
  it('says at least while a price is missing, and sends lines with the price as typed', async () => {
    const api = open(
      {
        [`setups/${setup.id}/costs`]: costs,
        [`PUT setups/${setup.id}/purchases`]: { ...costs, version: 1, isOwn: true },
        money: { version: 0, book: moneyBookSchema.parse({}) },
      },
      `/decide/money/${setup.id}`,
    );
    expect(await screen.findByText(/at least EUR\s412\.50/)).toBeInTheDocument();
    expect(screen.getByText('No rides yet: what 100 km take is not known.')).toBeInTheDocument();
    const price = screen.getByLabelText('Price');
    await user().clear(price);
    await user().type(price, '399,90');
    await user().click(screen.getByRole('button', { name: 'Save the purchases' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'PUT')?.body).toMatchObject({
        version: 0,
        lines: [{ what: 'Corvane R2', price: { amount: 399.9, currency: 'EUR' } }],
      }),
    );
  });
  it('says in which line something cannot be, and sends nothing', async () => {
    const api = open(
      {
        [`setups/${setup.id}/costs`]: costs,
        money: { version: 0, book: moneyBookSchema.parse({}) },
      },
      `/decide/money/${setup.id}`,
    );
    await user().type(await screen.findByLabelText('Currency'), 'O');
    await user().click(screen.getByRole('button', { name: 'Save the purchases' }));
    expect(await screen.findByText('Line 1: Three capital letters, for example EUR.')).toBeInTheDocument();
    expect(api.requests.some(({ method }) => method === 'PUT')).toBe(false);
    expect(issueText({ path: ['wear', 2, 'lastsKm'], message: 'From the shorter to the longer life.' })).toBe(
      'Parts that wear. Line 3: From the shorter to the longer life.',
    );
    expect(issueText({ path: ['packCycles', 1], message: 'Must be above 0.' })).toBe(
      'Full cycles a pack lasts. Must be above 0.',
    );
  });
  it('says what the server says', async () => {
    open(
      {
        [`setups/${setup.id}/costs`]: refusal(404, 'not-found', 'This setup no longer exists.'),
        money: { version: 0, book: moneyBookSchema.parse({}) },
      },
      `/decide/money/${setup.id}`,
    );
    expect(await screen.findByText('This setup no longer exists.')).toBeInTheDocument();
  });
  it('a line without an amount has no price, and two windows are set side by side', () => {
    const line = lineOfForm({ what: ' Cog ', kind: 'tool', source: 'owned', amount: null, isOfBike: false }, 'EUR');
    expect(line).toMatchObject({ what: 'Cog', price: null, sharedBy: 1 });
    expect(purchaseDifferences([line], [{ ...line, sharedBy: 2 }])).toEqual([
      { label: 'Cog', theirs: 'tool, owned, no price', mine: 'tool, owned, no price, shared by 2' },
    ]);
  });
});

describe('what lies behind', () => {
  it('asks the server for standings only, so that weights move here', () => {
    const asked = askFor({ ...NEW_USE, mustHaves: [{ key: 'cost', atLeast: null, atMost: 900, courseId: null }] }, [
      ID,
    ]);
    expect(asked.use.criteria.every(({ weight, worth }) => weight === 0 && worth === null)).toBe(true);
    expect(asked.use.mustHaves[0]).toMatchObject({ key: 'cost', courseId: null });
  });
  it('keeps bounds, and leaves out those without a number', () => {
    const bounded = { ...answer, mustHaves: [{ key: 'cost', label: 'Cost', unit: 'money', atLeast: null, atMost: 1 }] };
    const bound = { key: 'cost', atLeast: null, atMost: 700, courseId: null } as const;
    expect(weighHere({ ...use, mustHaves: [bound] }, bounded, 50).setups[0]).toMatchObject({
      name: 'Quillon',
      isBest: 1,
    });
    expect(weighHere({ ...use, mustHaves: [{ ...bound, atMost: null }] }, bounded, 50).setups[0]!.name).toBe('Corvane');
  });
  it('shows numbers in the person’s units', () => {
    expect(scaleOf('km', 'imperial', 'EUR').withDoubt(16.09344, 1.609344)).toBe('10.0 ± 1.0 mi');
    expect(scaleOf('money', 'imperial', 'GBP').text(912.4)).toBe('912.4 GBP');
    expect(scaleOf('hours', 'metric', 'EUR').withDoubt(4, 0)).toBe('4 h');
    expect([0, 0.001, 0.714, 0.999, 1].map(inHundred)).toEqual(
      ['0', '< 1', '71', '> 99', '1'].map((t, k) => (k === 4 ? '100' : t)),
    );
  });
  it('names every line that two windows say differently', () => {
    const rows = differencesOfUse({ ...use, criteria: [{ key: 'cost', weight: 2, worth: null }] }, use);
    expect(rows.map(({ label, mine }) => [label, mine])).toEqual([
      ['Net consumption', '–'],
      ['Cost of the conversion', 'weight 2'],
    ]);
  });
  it('corners stay in order and within bounds, however they are moved', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            what: fc.constantFrom('move', 'add', 'remove'),
            k: fc.nat(8),
            at: fc.double({ min: -50, max: 50, noNaN: true }),
            worth: fc.double({ min: -2, max: 3, noNaN: true }),
          }),
          { maxLength: 12 },
        ),
        (moves) => {
          let points: Parameters<typeof moveCorner>[0] = answer.criteria[0]!.worth;
          for (const { what, k, at, worth } of moves) {
            if (what === 'move') points = moveCorner(points, k % points.length, { at, worth });
            else if (what === 'add' && points.length < 9) points = addCorner(points);
            else if (points.length > 2) points = removeCorner(points, k % points.length);
          }
          expect(valueFunctionProblem({ points })).toBeUndefined();
          const [from, to] = spanOf(points, []);
          expect(to).toBeGreaterThan(from);
        },
      ),
    );
  });
});

describe('handing over', () => {
  const look: PackageLook = {
    id: ID,
    made: '2026-04-01T08:00:00.000Z',
    of: 'one trial',
    version: '0.1.0',
    tables: [
      { name: 'run', added: 3, same: 1, different: 0 },
      { name: 'setup', added: 0, same: 1, different: 1 },
    ],
    differences: [
      {
        table: 'setup',
        key: '["x"]',
        name: '<b>Corvane</b>',
        columns: [{ column: 'notes', here: 'here', package: null }],
      },
    ],
    moreDifferences: 0,
  };
  const file = new File(['zip'], 'data.zip');

  it('shows what a package would bring, takes the side that is chosen, and says what went in', async () => {
    const api = open(
      {
        'POST package': look,
        [`POST package/${ID}/import`]: { added: 3, changed: 1, kept: 0, same: 2 },
        trials: [],
      },
      '/decide/data',
    );
    await user().upload(await screen.findByLabelText('Choose a data package', { selector: 'input' }), file);
    expect(await screen.findByText(/Of one trial, made on 2026-04-01/)).toBeInTheDocument();
    expect(screen.getByText('<b>Corvane</b>')).toBeInTheDocument();
    await user().click(screen.getByRole('radio', { name: 'Use the package’s' }));
    await user().click(screen.getByRole('button', { name: 'Take it in' }));
    expect(await screen.findByText('Taken in: 3 added, 1 changed, 0 kept as they were here.')).toBeInTheDocument();
    expect(api.requests.find(({ path }) => path === `package/${ID}/import`)?.body).toEqual({
      take: [{ table: 'setup', key: '["x"]' }],
    });
  });
  it('says why a package is refused', async () => {
    open(
      { 'POST package': refusal(422, 'cannot-read', 'logs/a.csv is damaged. Nothing was stored.'), trials: [] },
      '/decide/data',
    );
    await user().upload(await screen.findByLabelText('Choose a data package', { selector: 'input' }), file);
    expect(await screen.findByText('logs/a.csv is damaged. Nothing was stored.')).toBeInTheDocument();
  });

  it('makes a package, shows how far it is, stops it, and has it downloaded once it is ready', async () => {
    const made: PreparedPackage = {
      id: ID,
      order: { trial: null, runs: null, channels: 'parquet' },
      at: '2026-04-01T08:00:00.000Z',
      state: 'making',
      filesDone: 30,
      filesOf: 120,
      bytes: 3_145_728,
      keptUntil: null,
      problem: null,
    };
    let here: PreparedPackage[] = [];
    const api = open(
      {
        trials: [],
        packages: () => here,
        'POST packages': () => {
          here = [made];
          return made;
        },
        [`DELETE packages/${ID}`]: () => {
          here = [{ ...made, state: 'failed', problem: 'The disk of the server is full.' }];
          return null;
        },
      },
      '/decide/data',
    );
    await user().click(await screen.findByRole('radio', { name: 'as Parquet' }));
    await user().click(screen.getByRole('button', { name: 'Make the data package' }));
    expect(await screen.findByText('30 of 120 files, 3.0 MB')).toBeInTheDocument();
    expect(screen.getByRole('progressbar', { name: /channels as Parquet/ })).toHaveAttribute('aria-valuenow', '25');
    expect(api.requests.find(({ method }) => method === 'POST')?.body).toEqual({
      trial: null,
      runs: null,
      channels: 'parquet',
    });
    await user().click(screen.getByRole('button', { name: 'Stop: Everything, channels as Parquet' }));
    expect(await screen.findByText('The disk of the server is full.')).toBeInTheDocument();
    here = [{ ...made, state: 'ready', filesDone: 120, order: { trial: null, runs: [ID, ID], channels: 'none' } }];
    cleanup();
    open({ trials: [], packages: () => here }, '/decide/data');
    expect(await screen.findByRole('link', { name: 'Download, 3.0 MB' })).toHaveAttribute(
      'href',
      `/api/packages/${ID}/file`,
    );
    expect(screen.getByText('2 runs')).toBeInTheDocument();
  });
});
