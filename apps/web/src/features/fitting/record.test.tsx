import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { fittingRecordSchema, type FittingRecordInput, type StoredFittingRecord } from '@ebrix/contract';
import { exampleDetail } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import RecordTab from './RecordTab.js';
import { connectorText, recordDifferences } from './record-lines.js';
import ToolboxRecord from './ToolboxRecord.js';

const setup = exampleDetail();
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const record = (change: object = {}): FittingRecordInput => fittingRecordSchema.parse(change);
const stored = (version: number, change: object = {}): StoredFittingRecord => ({
  version,
  updatedAt: null,
  record: record(change),
});
const path = `setups/${setup.id}/fitting-record`;
const show = (answers: Parameters<typeof fakeApi>[0], shown = setup) => {
  sessionStorage.clear();
  const api = fakeApi({
    [`setups/${setup.id}/fitting`]: {
      setupId: setup.id,
      version: 0,
      updatedAt: null,
      steps: [],
      now: '2026-04-01T08:00:00.000Z',
    },
    ...answers,
  });
  renderInApp(<RecordTab setup={shown} />);
  return api;
};
const putsOf = (api: ReturnType<typeof fakeApi>) => api.requests.filter(({ method }) => method === 'PUT');

it('what was noted goes out whole, emptied days as not known, and says what it amounts to', async () => {
  const api = show({
    [path]: ({ method, body }: { method: string; body: unknown }) =>
      method === 'PUT'
        ? { ...stored(4), record: (body as { record: object }).record }
        : stored(3, { orderedOn: '2026-02-24', seller: 'Fitch' }),
  });
  await user().click(await screen.findByRole('button', { name: 'Add a thing' }));
  await user().type(screen.getByLabelText('What'), 'Torque arm');
  await user().click(screen.getByRole('combobox', { name: 'State 1' }));
  await user().click(await screen.findByText('Missing'));
  expect(await screen.findByText(/To take up with the seller, Fitch: Torque arm \(missing\)/)).toBeInTheDocument();
  await user().type(screen.getByLabelText('Guessed time for the fitting'), '3,5');
  await user().click(screen.getByRole('button', { name: 'Fluid goes in' }));
  await user().type(await screen.findByLabelText('Cover thickness'), '4');
  await user().type(screen.getByLabelText('Drill stop set to'), '9');
  expect(await screen.findByText(/into the winding/)).toBeInTheDocument();
  await user().click(screen.getByRole('button', { name: 'Save' }));
  expect(await screen.findByText('Saved.')).toBeInTheDocument();
  expect(putsOf(api)[0]!.body).toMatchObject({
    version: 3,
    record: {
      seller: 'Fitch',
      orderedOn: '2026-02-24',
      arrivedOn: null,
      guessedHours: 3.5,
      box: [{ what: 'Torque arm', state: 'missing', note: '' }],
      cooling: { coverMm: 4, drillStopMm: 9, doseMl: null },
    },
  });
});

it('a line without a name is told at its field, and nothing goes out', async () => {
  const api = show({ [path]: stored(0) });
  await user().click(await screen.findByRole('button', { name: 'Add a code' }));
  await user().click(screen.getByRole('button', { name: 'Save' }));
  expect(await screen.findByText('Write the code.')).toBeInTheDocument();
  expect(putsOf(api)).toHaveLength(0);
});

it('another window’s version is shown beside mine, and mine can be kept', async () => {
  let isFirst = true;
  const api = show({
    [path]: ({ method, body }: { method: string; body: unknown }) => {
      if (method !== 'PUT') return stored(1);
      if (!isFirst) return { ...stored(3), record: (body as { record: object }).record };
      isFirst = false;
      return Response.json(
        {
          error: {
            code: 'changed-meanwhile',
            message: 'Changed.',
            details: { current: stored(2, { seller: 'Theirs' }) },
          },
        },
        { status: 409 },
      );
    },
  });
  await user().type(await screen.findByLabelText('Bought from'), 'Mine');
  await user().click(screen.getByRole('button', { name: 'Save' }));
  const row = await screen.findByRole('row', { name: /Seller and days/ });
  expect(within(row).getByText('Theirs')).toBeInTheDocument();
  await user().click(screen.getByRole('button', { name: 'Overwrite with mine' }));
  expect(await screen.findByText('Saved.')).toBeInTheDocument();
  expect(putsOf(api).map(({ body }) => (body as { version: number }).version)).toEqual([1, 2]);
});

it('several packs are each asked for alone before they are joined', async () => {
  const [revision] = setup.revisions;
  const pack = revision!.parts.packs[0]!;
  const two = {
    ...setup,
    revisions: [{ ...revision!, parts: { ...revision!.parts, packs: [pack, { ...pack, name: 'Second pack' }] } }],
  };
  show({ [path]: stored(1) }, two);
  expect(await screen.findByText(new RegExp(`Run each pack alone.*${pack.name}, Second pack`))).toBeInTheDocument();
  await user().click(screen.getByRole('button', { name: 'List the packs' }));
  await user().click(screen.getByRole('combobox', { name: 'By itself 1' }));
  await user().click(await screen.findByText('Ran alone'));
  expect(
    await screen.findByText(/Run each pack alone on the stand before joining them: Second pack/),
  ).toBeInTheDocument();
});

it('the toolbox sheet prints joints, codes, fluid and warranty, as text', async () => {
  fakeApi({
    [path]: stored(1, {
      arrivedOn: '2026-03-03',
      warrantyMonths: 24,
      connectors: [{ from: '<b>Motor</b>', to: 'Controller', state: 'shortened', note: '20 cm' }],
      errors: [{ code: '07', isAfterVoltageStep: true, meaning: 'too many volts', cure: 'display set to 52 V' }],
      cooling: { fluid: 'Thin oil', doseMl: 6, drillStopMm: 5 },
    }),
  });
  renderInApp(<ToolboxRecord setupId={setup.id} />);
  expect(await screen.findByText('<b>Motor</b> → Controller, shortened, 20 cm')).toBeInTheDocument();
  expect(screen.getByText(/after a step up in voltage: too many volts – display set to 52 V/)).toBeInTheDocument();
  expect(screen.getByText(/Thin oil in the motor, 6 ml, hole 5 mm deep\./)).toBeInTheDocument();
  expect(screen.getByText(/Warranty until .*2028/)).toBeInTheDocument();
});

it('two records differ section by section, and the same ones nowhere', () => {
  const mine = record({ tools: [{ tool: 'Caliper', source: 'borrow' }], ranTogether: true });
  expect(recordDifferences(mine, mine)).toEqual([]);
  expect(recordDifferences(record(), mine).map(({ label }) => label)).toEqual(['Tools', 'Packs together']);
  expect(connectorText({ from: 'Lamp', to: '', state: 'unused', note: '' })).toBe('Lamp, left unused, insulated');
});
