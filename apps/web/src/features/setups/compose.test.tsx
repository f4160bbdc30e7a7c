import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { SetupDetail } from '@ebrix/contract';
import { exampleDetail } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import ComposePage from './ComposePage.js';
import { NO_KIT_ID } from './facts.js';
import { liveFacts, readSetup, readVolts, toComposeValues } from './compose-values.js';

const setup = exampleDetail();
const revision = setup.revisions[0]!;
const { bike, kit, packs } = revision.parts;
const stock = {
  'bench/bikes': [bike],
  'bench/kits': [kit],
  'bench/packs': packs,
  'bench/chargers': [],
  'bench/add-ons': [],
  'bench/limits': [],
};
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });

describe('what stands in the form of a setup', () => {
  it('comes back as it was stored when nothing is typed', () => {
    const read = readSetup(toComposeValues(revision), { name: 'Corvane R2', basedOn: 1 });
    // A second revision has to say what changed.
    expect(read).toMatchObject({ ok: false, problems: [{ name: ['change'] }] });
    const said = readSetup({ ...toComposeValues(revision), change: 'New tyres' }, { name: 'Corvane R2', basedOn: 1 });
    expect(said).toMatchObject({
      ok: true,
      revision: {
        bikeId: bike.id,
        kitId: kit!.id,
        packIds: [packs[0]!.id],
        settings: revision.settings,
        fit: revision.fit,
        basedOn: 1,
      },
    });
  });
  it('is the bike before conversion only when that is chosen', () => {
    const chosen = { name: 'Ottery tourer as bought', bikeId: bike.id, kitId: NO_KIT_ID };
    const read = readSetup(chosen, { basedOn: null });
    expect(read).toMatchObject({ ok: true, revision: { kitId: null, packIds: [] } });
    expect(liveFacts(chosen, { bikes: [bike] })).toMatchObject({ kit: null, packs: [] });
    expect(toComposeValues({ ...revision, parts: { ...revision.parts, kit: null, packs: [] } }).kitId).toBe(NO_KIT_ID);
    // A pack that was chosen before stays chosen, and is asked about rather than dropped.
    expect(readSetup({ ...chosen, packIds: [packs[0]!.id] }, { basedOn: null })).toMatchObject({
      ok: false,
      problems: [{ name: ['packIds'], message: expect.stringContaining('Without a kit') }],
    });
  });
  it('names the field where something is missing', () => {
    const read = readSetup({ name: 'New' }, { basedOn: null });
    expect(!read.ok && read.problems.map(({ name }) => name[0])).toEqual(['bikeId', 'kitId', 'packIds']);
    const volts = readSetup(
      { ...toComposeValues(revision), fit: { restVoltagesV: '41.9 full' } },
      { name: 'X', basedOn: null },
    );
    expect(volts).toMatchObject({ ok: false, problems: [{ name: ['fit', 'restVoltagesV'] }] });
  });
  it.each([
    ['41.9 41.8', [41.9, 41.8]],
    ['41,9; 41,8 ', [41.9, 41.8]],
    ['41.9V', [41.9]],
    ['', []],
    ['-3', undefined],
    ['full', undefined],
  ])('reads volts: "%s"', (text, wanted) => expect(readVolts(text)).toEqual(wanted));
  it('counts as unknown what cannot be read while it is typed', () => {
    const all = { bikes: [bike], kits: [kit!], packs };
    const facts = liveFacts({ bikeId: bike.id, kitId: kit!.id, fit: { washersLeftMm: NaN } }, all);
    expect(facts).toMatchObject({ fit: { washersLeftMm: null }, packs: [], charger: null });
    expect(liveFacts({ bikeId: bike.id }, all)).toBeUndefined();
  });
});

const open = (path: string, answers: Parameters<typeof fakeApi>[0]) => {
  const api = fakeApi({ ...stock, ...answers });
  renderInApp(
    <Routes>
      <Route path="/bench/setups/new" element={<ComposePage />} />
      <Route path="/bench/setups/:id/edit" element={<ComposePage />} />
      <Route path="/bench/setups/:id/:tab?" element={<p>the setup’s own page</p>} />
    </Routes>,
    path,
  );
  return api;
};
const edit = (answers: Parameters<typeof fakeApi>[0] = {}) =>
  open(`/bench/setups/${setup.id}/edit`, { [`setups/${setup.id}`]: setup, ...answers });

describe('putting a setup together', () => {
  afterEach(() => sessionStorage.clear());

  it('teaches what to do before anything is chosen', async () => {
    open('/bench/setups/new', {});
    expect(await screen.findByText(/Choose a bike and a kit/)).toBeInTheDocument();
  });

  it('says that a list of parts did not come, and fetches it when it is tried again', async () => {
    let isDown = true;
    edit({ 'bench/bikes': () => (isDown ? refusal(503, 'database-away', 'The database is away.') : [bike]) });
    expect(await screen.findByText('The database is away.')).toBeInTheDocument();
    isDown = false;
    await user().click(screen.getByRole('button', { name: 'Try again' }));
    expect(await screen.findByRole('button', { name: `Open ${bike.name}` })).toBeInTheDocument();
    expect(screen.queryByText('The database is away.')).toBeNull();
  });

  it('judges anew at every keystroke: a lower limit mends the failing check', async () => {
    edit();
    const live = await screen.findByRole('complementary', { name: 'Sums and checks' });
    await waitFor(() => expect(live).toHaveTextContent('BMS carries 20 A'));
    expect(within(live).getByText(/^Checks: 1 failed/)).toBeInTheDocument();
    await user().type(await screen.findByLabelText('Current limit setting'), '15');
    await waitFor(() => expect(within(live).getByText(/^Checks: \d+ open/)).toBeInTheDocument());
  });

  it('asks a rear hub for spacers and a single pack for no rest voltages', async () => {
    edit();
    expect(await screen.findByLabelText('Number of cog spacers')).toBeInTheDocument();
    expect(screen.queryByLabelText('Rest voltages before joining')).not.toBeInTheDocument();
    expect(screen.queryByLabelText('Number of shell spacers')).not.toBeInTheDocument();
  });

  it('ends in a choice when another window was first, and loses nothing', async () => {
    const meanwhile: SetupDetail = {
      ...setup,
      revisions: [
        {
          ...revision,
          id: '01900000-0000-7000-8000-000000000098',
          number: 2,
          change: 'Speed limit 20',
          settings: { ...revision.settings, speedLimitKmh: 20 },
        },
        revision,
      ],
    };
    const api = edit({
      [`POST setups/${setup.id}/revisions`]: ({ body }: { body: unknown }) =>
        (body as { basedOn: number }).basedOn === 2
          ? { ...meanwhile }
          : Response.json(
              { error: { code: 'changed-meanwhile', message: 'Revision 2 came in.', details: { current: meanwhile } } },
              { status: 409 },
            ),
    });
    const hands = user();
    await hands.type(await screen.findByLabelText('Current limit setting'), '15');
    await hands.type(screen.getByLabelText('What changed'), 'Limit lowered');
    await hands.click(screen.getByRole('button', { name: 'Save as revision 2' }));
    const conflict = await screen.findByRole('alert');
    expect(within(conflict).getByText(/Revision 2 was saved meanwhile: “Speed limit 20”/)).toBeInTheDocument();
    expect(within(conflict).getByRole('row', { name: /Speed limit setting/ })).toHaveTextContent('20 km/h25 km/h');
    expect(within(conflict).getByRole('row', { name: /Current limit setting/ })).toHaveTextContent('–15 A');
    expect(screen.getByLabelText('What changed')).toHaveValue('Limit lowered');
    await hands.click(screen.getByRole('button', { name: 'Save mine as revision 3' }));
    expect(await screen.findByText('the setup’s own page')).toBeInTheDocument();
    const sent = api.requests
      .filter(({ method }) => method === 'POST')
      .map(({ body }) => body as Record<string, unknown>);
    expect(sent.map(({ basedOn, change }) => [basedOn, change])).toEqual([
      [1, 'Limit lowered'],
      [2, 'Limit lowered'],
    ]);
  });
});
