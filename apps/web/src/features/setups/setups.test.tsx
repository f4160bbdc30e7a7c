import { act, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { claimsSchema, type RevisionDetail, type SetupDetail } from '@ebrix/contract';
import { exampleDetail, exampleRun, exampleSetups, ONE_PAGE } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { setUnits } from '../../shared/preferences/index.js';
import ComparePage, { compareRows } from './ComparePage.js';
import SetupPage from './SetupPage.js';
import SetupsPage from './SetupsPage.js';
import ToolboxPage from './ToolboxPage.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const open = (path: string, answers: Parameters<typeof fakeApi>[0]) => {
  const api = fakeApi({
    photos: [],
    'thumb-rules': [{ name: 'bread round', whPerKm: 6 }],
    demo: { isEmpty: false, loading: null, problem: null },
    ...answers,
  });
  const { store } = renderInApp(
    <Routes>
      <Route path="/bench/setups" element={<SetupsPage />} />
      <Route path="/bench/setups/:id/toolbox" element={<ToolboxPage />} />
      <Route path="/bench/setups/:id/:tab?" element={<SetupPage />} />
      <Route path="/bench/compare" element={<ComparePage />} />
    </Routes>,
    path,
  );
  return { api, store };
};
const withMarks = (setup: SetupDetail, marks: RevisionDetail['marks']): SetupDetail => ({
  ...setup,
  revisions: setup.revisions.map((revision) => ({ ...revision, marks })),
});
const openSetup = (tab: string, setup = exampleDetail(), more: Parameters<typeof fakeApi>[0] = {}) =>
  open(`/bench/setups/${setup.id}/${tab}`, { [`setups/${setup.id}`]: setup, ...more });
const mark = (id: string, kind: 'passed' | 'waived'): RevisionDetail['marks'][number] => ({
  id,
  kind,
  by: 'Ottoline Vask',
  reason: kind === 'waived' ? 'Seen and measured by hand.' : '',
  at: '2026-04-01T08:00:00.000Z',
});

beforeEach(() => localStorage.clear());

describe('the list of setups', () => {
  it('shows what keeps each from being ridden', async () => {
    open('/bench/setups', { setups: exampleSetups });
    const row = await screen.findByRole('row', { name: /Corvane R2/ });
    expect(row).toHaveTextContent('1 failed, 2 open, 30 passed');
    expect(row).toHaveTextContent('3 of 9 to do');
    expect(row).toHaveTextContent('Fennock 52');
  });
  it('sets two that are ticked side by side', async () => {
    open('/bench/setups', { setups: exampleSetups });
    const hands = user();
    await screen.findByRole('row', { name: /Corvane R2/ });
    expect(screen.getByRole('button', { name: 'Compare' })).toBeDisabled();
    for (const { name } of exampleSetups) await hands.click(screen.getByRole('checkbox', { name: `${name}: compare` }));
    expect(screen.getByRole('link', { name: 'Compare 2' })).toHaveAttribute(
      'href',
      `/bench/compare?with=${exampleSetups.map(({ id }) => id).join(',')}`,
    );
  });
  it('says in plain words why a setup file is refused', async () => {
    open('/bench/setups', {
      setups: exampleSetups,
      'POST setups/file': () =>
        Response.json(
          { error: { code: 'cannot-read', message: 'The file is not valid JSON. Nothing was stored.' } },
          { status: 422 },
        ),
    });
    await user().upload(await screen.findByLabelText('Setup file'), new File(['{'], 'setup.json'));
    expect(await screen.findByText(/not valid JSON/)).toBeInTheDocument();
  });
});

describe('the checks of a setup', () => {
  it('stand gravest first with sum and mend, and say what they need', async () => {
    openSetup('checks');
    const items = within(await screen.findByRole('list', { name: 'Checks not passed' })).getAllByRole('listitem');
    const failed = items.find((item) => item.textContent?.includes('Controller current against the BMS'))!;
    expect(failed).toHaveTextContent('20 A × 1.2 = 24 A; BMS carries 20 A');
    expect(failed).toHaveTextContent('Lower the controller’s limit to 16.7 A');
    expect(failed).toHaveTextContent('can hurt someone');
    expect(items.indexOf(failed)).toBe(0);
    expect(screen.getByText(/Cannot check: needs rear dropout width/)).toBeInTheDocument();
    expect(within(screen.getByRole('region', { name: 'Measure these first' })).getAllByRole('listitem')).toHaveLength(
      5,
    );
  });

  it('are waived with a name and a reason only', async () => {
    const setup = exampleDetail();
    const revisionId = setup.revisions[0]!.id;
    const { api } = openSetup('checks', setup, { [`POST revisions/${revisionId}/marks`]: setup });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: /Waive in writing: Controller current/ }));
    await hands.type(screen.getByLabelText('Your name'), 'Bram Tellow');
    await hands.click(screen.getByRole('button', { name: 'Waive' }));
    expect(await screen.findByText('Write the reason in a few words.')).toBeInTheDocument();
    expect(api.requests.some(({ method }) => method === 'POST')).toBe(false);
    await hands.type(screen.getByLabelText('Reason for waiving'), 'Limit is set to 15 A in the controller.');
    await hands.click(screen.getByRole('button', { name: 'Waive' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'POST')?.body).toEqual({
        ids: ['protection-current'],
        kind: 'waived',
        by: 'Bram Tellow',
        reason: 'Limit is set to 15 A in the controller.',
        seen: { 'protection-current': null },
      }),
    );
    expect(localStorage.getItem('ebrix.signature')).toBe('Bram Tellow');
  });

  it('that cannot be checked are waived together, in writing', async () => {
    const { api } = openSetup('checks', exampleDetail(), {
      [`POST revisions/${exampleDetail().revisions[0]!.id}/marks`]: exampleDetail(),
    });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: /^Waive \d+ that cannot be checked and hurt nobody/ }));
    await hands.type(screen.getByLabelText('Reason for waiving'), 'Old bike, measured when fitted.');
    await hands.type(screen.getByLabelText('Your name'), 'Bram Tellow');
    await hands.click(screen.getByRole('button', { name: /^Waive \d+ checks/ }));
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'POST')).toBe(true));
    const { ids } = api.requests.find(({ method }) => method === 'POST')!.body as { ids: string[] };
    expect(ids).not.toContain('protection-current');
    // What can hurt someone is waived one by one.
    expect(ids).not.toContain('axle-width');
    expect(ids.length).toBeGreaterThan(2);
  });

  it('show who waived and why, and let it be taken back', async () => {
    const setup = withMarks(exampleDetail(), [mark('protection-current', 'waived')]);
    const { api } = openSetup('checks', setup, { [`POST revisions/${setup.revisions[0]!.id}/unmark`]: setup });
    expect(await screen.findByText(/Waived by Ottoline Vask.*Seen and measured by hand/)).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Withdraw waiver' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'POST')?.body).toEqual({
        ids: ['protection-current'],
        seen: { 'protection-current': '2026-04-01T08:00:00.000Z' },
      }),
    );
  });
});

describe('what is checked before riding', () => {
  it('say that it may not be ridden, and are passed by name', async () => {
    const setup = exampleDetail();
    const { api } = openSetup('clearance', setup, { [`POST revisions/${setup.revisions[0]!.id}/marks`]: setup });
    expect(await screen.findByText(/Do not ride yet: \d+ safety checks still to do/)).toBeInTheDocument();
    const hands = user();
    await hands.click(screen.getByRole('button', { name: 'Pass: Both brakes' }));
    await hands.type(screen.getByLabelText('Your name'), 'Bram Tellow{Enter}');
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'POST')?.body).toMatchObject({
        ids: ['clearance-brakes'],
        kind: 'passed',
      }),
    );
  });
  it('offer no button for the one that is computed', async () => {
    openSetup('clearance');
    const checks = await screen.findByRole('listitem', { name: 'Checks: open' });
    expect(within(checks).queryByRole('button')).not.toBeInTheDocument();
    expect(within(checks).getByRole('link', { name: 'To the checks' })).toBeInTheDocument();
  });
});

describe('the sums of a setup', () => {
  it('are shown in the person’s units and name what is missing', async () => {
    const { store } = openSetup('', exampleDetail(), {
      runs: { items: [], total: 0, ...ONE_PAGE },
      [`setups/${exampleDetail().id}/stand`]: [],
    });
    const strip = await screen.findByRole('group', { name: 'Sums of this setup' });
    expect(strip).toHaveTextContent('7.8 kg');
    expect(strip).toHaveTextContent('109.3 kg');
    expect(strip).toHaveTextContent('672 Wh');
    expect(strip).toHaveTextContent('no prices yet');
    act(() => void store.dispatch(setUnits('imperial')));
    // 7.8 kg and 109.3 kg ÷ 0.45359237.
    expect(strip).toHaveTextContent('17.2 lb');
    expect(strip).toHaveTextContent('241 lb');
  });

  it('go by the tester’s own rules of thumb, and these are changed for all setups', async () => {
    const setup = exampleDetail();
    const { api } = openSetup('', setup, {
      runs: { items: [], total: 0, ...ONE_PAGE },
      [`setups/${setup.id}/stand`]: [],
      'PUT thumb-rules': [{ name: 'bread round', whPerKm: 7 }],
    });
    // 672 Wh · 0.93 ÷ 6 Wh/km.
    expect(await screen.findByRole('row', { name: /bread round, 6 Wh\/km/ })).toHaveTextContent('100 km');
    const hands = user();
    await hands.click(screen.getByText('Edit the rules of thumb for all setups'));
    await hands.clear(await screen.findByLabelText('Consumption'));
    await hands.type(screen.getByLabelText('Consumption'), '7');
    await hands.click(screen.getByRole('button', { name: 'Save the rules' }));
    await waitFor(() =>
      expect(api.requests.find(({ method, path }) => method === 'PUT' && path === 'thumb-rules')?.body).toEqual({
        rules: [{ name: 'bread round', whPerKm: 7 }],
        seen: [{ name: 'bread round', whPerKm: 6 }],
      }),
    );
  });

  it('set the seller’s claims against what was measured', async () => {
    const kit = {
      ...exampleDetail().revisions[0]!.parts.kit!,
      claims: claimsSchema.parse({ rangeKm: 90, speedKmh: null, chargeTimeH: null, massKg: 3.6, powerW: null }),
    };
    const runs = [60, 62, 61].map((km, k) => ({
      ...exampleRun(k, 9),
      figures: { rangeToCutoff: { value: km, standardUncertainty: 1, unit: 'km' as const } },
    }));
    const setup = exampleDetail({ kit });
    openSetup('', setup, { runs: { items: runs, total: 3, ...ONE_PAGE }, [`setups/${setup.id}/stand`]: [] });
    const range = await screen.findByRole('row', { name: /^Range 90 km/ });
    // Mean 61, t(0.95, 2) · 1 ÷ √3 = 1.69 either way; all runs share 1 in 62: √(1.69² + (1.645·0.98)²) = 2.33.
    await waitFor(() => expect(range).toHaveTextContent('measured 61 km (58.7 km to 63.3 km, 3 runs): claim not met'));
    expect(screen.getByRole('row', { name: /^Mass of the kit/ })).toHaveTextContent('claim not met');
  });

  it('holds charge time, power and payload against their own tests, and power only against the claim', async () => {
    const kit = {
      ...exampleDetail().revisions[0]!.parts.kit!,
      claims: claimsSchema.parse({ chargeTimeH: 4, powerW: 500, payloadKg: 40 }),
    };
    const setup = exampleDetail({ kit });
    const measured = (testKind: string, key: string, unit: string, values: readonly number[]) => ({
      testKind,
      key,
      label: key,
      unit,
      course: { id: setup.id, name: 'Chapel Hill' },
      way: 'throttle',
      revisionNumbers: [1],
      runs: values.map((value, k) => ({
        id: `01900000-0000-7000-8000-0000000009${k}0`,
        value,
        standardUncertainty: 0.01 * value,
        interval95: [value, value],
        outing: `01900000-0000-7000-8000-0000000008${k}0`,
        date: '2026-04-01',
        airTemperatureC: null,
      })),
    });
    const loaded = { ...exampleRun(1, 9), riding: { ...exampleRun(1, 9).riding, payloadKg: 20 } };
    openSetup('', setup, {
      runs: { items: [loaded], total: 1, ...ONE_PAGE },
      [`setups/${setup.id}/stand`]: [],
      [`setups/${setup.id}/figures`]: [
        measured('battery', 'chargeTime', 'h', [5.1, 5.3, 5.2]),
        measured('hill-climb', 'meanPower', 'W', [600, 610, 605]),
      ],
    });
    const row = async (name: RegExp) => screen.findByRole('row', { name });
    await waitFor(async () => expect(await row(/^Charge time/)).toHaveTextContent('claim not met'));
    expect(await row(/^Power/)).toHaveTextContent('cannot tell: part of it is lost before the wheel');
    expect(await row(/^Payload/)).toHaveTextContent('carried 20 kg at most, in 1 of 1 runs: cannot tell');
  });
});

describe('a bike before conversion', () => {
  const detail = exampleDetail();
  const revision = detail.revisions[0]!;
  const setup: SetupDetail = {
    ...detail,
    revisions: [
      { ...revision, kit: null, packs: [], parts: { ...revision.parts, kit: null, packs: [], charger: null } },
    ],
  };
  const answers = { runs: { items: [], total: 0, ...ONE_PAGE }, [`setups/${setup.id}/stand`]: [] };
  it('has no tabs of a motor, no energy and no expected range, and says what it is', async () => {
    openSetup('', setup, answers);
    expect(await screen.findByText('No kit: the bike before conversion')).toBeInTheDocument();
    const steps = within(screen.getByRole('navigation', { name: 'Steps of the setup' })).getAllByRole('link');
    expect(steps.map((link) => link.querySelector('strong')?.textContent)).toEqual([
      'Parts',
      'Before you ride',
      'History',
      'Figures',
      'How it felt',
    ]);
    expect(screen.queryByText('Expected, before measuring')).not.toBeInTheDocument();
    expect(screen.queryByText('0 Wh')).not.toBeInTheDocument();
  });
});

describe('the history of a setup', () => {
  it('says what changed in numbers, when and why', async () => {
    const first = exampleDetail().revisions[0]!;
    const second: RevisionDetail = {
      ...first,
      id: '01900000-0000-7000-8000-000000000099',
      number: 2,
      change: 'Limit lowered',
      why: 'Protection tripped on Chapel Hill.',
      settings: { ...first.settings, currentLimitA: 16 },
    };
    openSetup('history', { ...exampleDetail(), revisions: [second, first] });
    const row = await screen.findByRole('row', { name: /Limit lowered/ });
    expect(row).toHaveTextContent('Protection tripped on Chapel Hill.');
    expect(row).toHaveTextContent('Current limit setting: – → 16 A');
    expect(screen.getByRole('row', { name: /As first fitted/ })).toHaveTextContent('the first');
  });
});

describe('setups side by side', () => {
  const other: SetupDetail = {
    ...exampleDetail({ kit: { ...exampleDetail().revisions[0]!.parts.kit!, name: 'Dromel D5', massKg: 7.2 } }),
    id: exampleSetups[1]!.id,
    name: 'Dromel D5',
  };
  const ids = `${exampleDetail().id},${other.id}`;
  const answers = { [`setups/${exampleDetail().id}`]: exampleDetail(), [`setups/${other.id}`]: other };

  it('show only what differs, or all of it', async () => {
    open(`/bench/compare?with=${ids}`, answers);
    expect(await screen.findByRole('row', { name: /^Kit Corvane R2 Dromel D5/ })).toBeInTheDocument();
    expect(screen.getByRole('row', { name: /^Added to the bike 7.8 kg 10.9 kg/ })).toBeInTheDocument();
    expect(screen.queryByRole('row', { name: /^Bike Round bike 3/ })).not.toBeInTheDocument();
    await user().click(screen.getByRole('switch', { name: 'Differences only' }));
    expect(await screen.findByRole('row', { name: /^Bike Round bike 3 Round bike 3/ })).toBeInTheDocument();
  });
  it('do not differ from themselves', () => {
    const rows = compareRows([exampleDetail(), exampleDetail()], 'imperial');
    expect(rows.filter(({ values }) => values[0] !== values[1])).toEqual([]);
    expect(rows.length).toBeGreaterThan(90);
  });
  it('tell what to do when none are chosen', async () => {
    open('/bench/compare', {});
    expect(await screen.findByText(/Tick two or three setups/)).toBeInTheDocument();
  });
});

it('prints safety checks, settings and waivers on one sheet', async () => {
  const setup = withMarks(exampleDetail(), [mark('protection-current', 'waived'), mark('clearance-brakes', 'passed')]);
  open(`/bench/setups/${setup.id}/toolbox`, { [`setups/${setup.id}`]: setup });
  expect(await screen.findByText(/☑ Both brakes/)).toBeInTheDocument();
  expect(screen.getByText(/☐ Cables/)).toBeInTheDocument();
  expect(screen.getByText(/waived by Ottoline Vask: Seen and measured by hand/)).toBeInTheDocument();
  expect(screen.getByText('Check your local rules.')).toBeInTheDocument();
});
