import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { act } from 'react';
import { Route, Routes } from 'react-router';
import type { RepeatedFigure, RunDetail } from '@ebrix/contract';
import { exampleCleaning, exampleCourse, exampleRun, exampleSetups, ONE_PAGE } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { setUnits } from '../../shared/preferences/index.js';
import { CourseRuns, SetupFigures } from '../../entities/run/index.js';
import { ReanalysisLine } from './ReanalysisLine.js';
import RunPage from './RunPage.js';
import { moveText, spansWith } from './Spans.js';

const summary = exampleRun(1, 5.5);
const run: RunDetail = {
  ...summary,
  testKind: 'top-speed',
  headline: { key: 'twoWayTopSpeed', label: 'Top speed', value: 25.1, standardUncertainty: 0.1, unit: 'km/h' },
  rider: null,
  logger: null,
  totalMassKg: null,
  emptied: false,
  isPartWay: false,
  gauge: null,
  ruleOfThumbWhPerKm: null,
  notes: '',
  direction: 1,
  slotId: null,
  tyrePressureBar: null,
  perceivedEffort: null,
  manualReadings: null,
  logSpan: null,
  spans: [
    { kind: 'pass', fromS: 20, toS: 25, direction: 1, label: 'Pass 1, there' },
    { kind: 'pass', fromS: 60, toS: 65, direction: -1, label: 'Pass 2, back' },
    { kind: 'stop', fromS: 40, toS: 50, label: 'Stop 1' },
  ],
  charts: [
    {
      key: 'passes',
      title: 'Speed of the passes',
      x: { label: 'Time', unit: 's' },
      y: { label: 'Speed', unit: 'km/h' },
      series: [
        { label: 'Pass 1, there', drawAs: 'line', x: [0, 1, 2], y: [24, 25, 25] },
        { label: 'Pass 2, back', drawAs: 'line', x: [0, 1, 2], y: [26, 26, 26] },
      ],
      lines: [{ axis: 'y', at: 25.5, label: 'Both directions' }],
    },
  ],
  corrections: [],
  isRecalculating: false,
  method: { name: 'top-speed', version: '1.1' },
  allFigures: [],
  warnings: [],
  cleaning: exampleCleaning,
  channels: [{ name: 'speed', label: 'speed', unit: 'km/h' }],
  trials: [],
  sha256: 'a'.repeat(64),
  byteCount: 2000,
  exclusionHistory: [],
  figureHistory: [],
};
const strip = {
  fromS: 0,
  toS: 100,
  totalS: 100,
  channels: [
    { name: 'speed', label: 'speed', unit: 'km/h', timesS: [0, 50, 100], low: [0, 20, 10], high: [1, 21, 11] },
  ],
};
// Units are remembered: one test must not choose those of the next.
afterEach(() => localStorage.clear());

const open = (shown: RunDetail, answers: Parameters<typeof fakeApi>[0] = {}) => {
  const api = fakeApi({ [`runs/${run.id}`]: shown, [`runs/${run.id}/strip`]: strip, outings: [], ...answers });
  renderInApp(
    <Routes>
      <Route path="/runs/:id" element={<RunPage />} />
    </Routes>,
    `/runs/${run.id}`,
  );
  return api;
};
const put = (api: ReturnType<typeof open>) =>
  api.requests.find(({ method, path }) => method === 'PUT' && path.endsWith('/spans'))?.body as
    | { version: number; spans: { fromS: number; toS: number; kind: string }[]; what: string }
    | undefined;

describe('the spans of a run', () => {
  it('are moved by keys in tenths, by Shift in seconds, and sent with Enter as a whole', async () => {
    const api = open(run, { [`PUT runs/${run.id}/spans`]: { ...run, version: 2, isRecalculating: false } });
    const edge = await screen.findByRole('slider', { name: 'End of Pass 2, back' });
    expect(edge).toHaveAttribute('aria-valuenow', '65');
    act(() => edge.focus());
    const hands = userEvent.setup();
    await hands.keyboard('{ArrowRight}{ArrowRight}{Shift>}{ArrowLeft}{/Shift}');
    expect(edge).toHaveAttribute('aria-valuenow', '64.2');
    expect(put(api)).toBeUndefined();
    await hands.keyboard('{Enter}');
    await waitFor(() => expect(put(api)).toBeDefined());
    expect(put(api)).toMatchObject({ version: 1, what: 'Pass 2, back: end moved from 65.0 to 64.2 s' });
    // Stops are what the log shows: they are not sent.
    expect(put(api)!.spans.map(({ kind, toS }) => [kind, toS])).toEqual([
      ['pass', 25],
      ['pass', 64.2],
    ]);
  });

  it('go back with Escape, and never end before they begin', async () => {
    const api = open(run);
    const edge = await screen.findByRole('slider', { name: 'Start of Pass 1, there' });
    act(() => edge.focus());
    const hands = userEvent.setup();
    for (let k = 0; k < 8; k++) await hands.keyboard('{Shift>}{ArrowRight}{/Shift}');
    expect(Number(edge.getAttribute('aria-valuenow'))).toBeLessThan(25);
    await hands.keyboard('{Escape}');
    expect(edge).toHaveAttribute('aria-valuenow', '20');
    expect(put(api)).toBeUndefined();
    expect(screen.queryByRole('slider', { name: /Stop 1/ })).toBeNull();
  });

  it('are taken out and turned round, and a refusal is told', async () => {
    const api = open(run, {
      [`PUT runs/${run.id}/spans`]: () => refusal(400, 'invalid-request', 'This part does not lie in this run.'),
    });
    const list = await screen.findByRole('region', { name: 'Parts of the log used' });
    const hands = userEvent.setup();
    await hands.click(within(list).getByRole('button', { name: 'Remove Pass 1, there' }));
    await waitFor(() => expect(put(api)).toBeDefined());
    expect(put(api)!.spans).toHaveLength(1);
    expect(await within(list).findByRole('alert')).toHaveTextContent('does not lie in this run');
  });

  it('offer to undo the newest correction, and say while figures are worked out', async () => {
    const at = '2026-06-28T10:00:00.000Z';
    const api = open(
      {
        ...run,
        isRecalculating: true,
        corrections: [
          { what: 'Pass 1 moved', at, undoneAt: null },
          { what: 'Pass 2 moved', at: '2026-06-28T09:00:00.000Z', undoneAt: at },
        ],
      },
      { [`DELETE runs/${run.id}/spans`]: run },
    );
    expect(await screen.findByText('Recalculating …')).toBeInTheDocument();
    await userEvent.setup().click(screen.getByRole('button', { name: 'Undo: Pass 1 moved' }));
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'DELETE')).toBe(true));
    expect(api.requests.find(({ method }) => method === 'DELETE')!.query.get('version')).toBe('1');
  });

  it('are sent as a list of their own', () => {
    expect(spansWith(run.spans, 0, null)).toEqual([{ kind: 'pass', fromS: 60, toS: 65, direction: -1 }]);
    expect(spansWith(run.spans, 1, { fromS: 61 })[1]).toMatchObject({ fromS: 61, toS: 65 });
    expect(moveText(run.spans[0]!, { fromS: 21, toS: 25 })).toBe('Pass 1, there: start moved from 20.0 to 21.0 s');
  });
});

describe('correcting what was ridden', () => {
  it('keeps the span of an outing, and the test can be chosen', async () => {
    const logSpan = { fromS: 10, toS: 90 };
    const api = open(
      { ...run, logSpan },
      {
        [`PUT runs/${run.id}`]: run,
        setups: exampleSetups,
        courses: [exampleCourse],
        outings: [],
        'bench/riders': [],
        'bench/loggers': [],
      },
    );
    const hands = userEvent.setup({ delay: null, pointerEventsCheck: 0 });
    await hands.click(await screen.findByRole('button', { name: 'Edit ride details' }));
    const dialog = await screen.findByRole('dialog');
    expect(within(dialog).getByText('Top speed')).toBeInTheDocument();
    await hands.click(within(dialog).getByRole('button', { name: /Save/ }));
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'PUT')).toBe(true));
    expect(api.requests.find(({ method }) => method === 'PUT')!.body).toMatchObject({
      version: 1,
      assignment: { testKind: 'top-speed', logSpan },
    });
  });
});

describe('the picture of a test', () => {
  it('has its numbers in a table, in the units of the person', async () => {
    fakeApi({ [`runs/${run.id}`]: run, [`runs/${run.id}/strip`]: strip, outings: [] });
    const { store } = renderInApp(
      <Routes>
        <Route path="/runs/:id" element={<RunPage />} />
      </Routes>,
      `/runs/${run.id}`,
    );
    expect(
      await screen.findByRole('img', { name: /Speed of the passes: Speed, km\/h over Time, s/ }),
    ).toBeInTheDocument();
    expect(screen.getAllByText('Pass 2, back').length).toBeGreaterThan(1);
    act(() => void store.dispatch(setUnits('imperial')));
    expect(screen.getByRole('img', { name: /Speed, mph/ })).toBeInTheDocument();
    expect(screen.getAllByText('16.16').length).toBeGreaterThan(0);
  });
});

describe('runs of a course', () => {
  it('stand by kind of test, with the first figure of each and those left out', async () => {
    fakeApi({
      runs: {
        items: [
          summary,
          { ...exampleRun(2, 1), testKind: 'top-speed', headline: run.headline },
          { ...exampleRun(3, 6), exclusion: { reason: 'Pack was not full.', at: '2026-04-08T08:00:00.000Z' } },
        ],
        total: 3,
        ...ONE_PAGE,
      },
    });
    renderInApp(<CourseRuns courseId={exampleCourse.id} />);
    const range = await screen.findByRole('table', { name: 'Range and consumption' });
    expect(within(range).getAllByRole('row')).toHaveLength(3);
    expect(within(range).getByText('left out: Pack was not full.')).toBeInTheDocument();
    expect(
      within(screen.getByRole('table', { name: 'Top speed' })).getByText(/25.10 ± 0.10 km\/h/),
    ).toBeInTheDocument();
  });
  it('say how to begin where there are none', async () => {
    fakeApi({ runs: { items: [], total: 0, ...ONE_PAGE } });
    renderInApp(<CourseRuns courseId={exampleCourse.id} />);
    expect(await screen.findByText(/None yet/)).toBeInTheDocument();
  });
});

describe('figures of a setup', () => {
  const figure = (
    key: string,
    label: string,
    values: readonly number[],
    more: Partial<RepeatedFigure> = {},
  ): RepeatedFigure => ({
    testKind: 'range',
    course: { id: exampleCourse.id, name: 'Level round' },
    way: null,
    key,
    label,
    unit: 'Wh/km',
    revisionNumbers: [1],
    runs: values.map((value, k) => ({
      id: exampleRun(k, value).id,
      value,
      standardUncertainty: 0.05,
      interval95: [value - 0.1, value + 0.1],
      outing: exampleRun(k, value).id,
      date: `2026-04-0${1 + (k % 9)}`,
      airTemperatureC: 12,
    })),
    ...more,
  });
  const show = (figures: RepeatedFigure[]) => {
    fakeApi({ [`setups/${exampleSetups[0]!.id}/figures`]: figures });
    renderInApp(<SetupFigures setupId={exampleSetups[0]!.id} />);
  };
  it('say how far each repeats, and what one run cannot say', async () => {
    show([
      figure('netConsumption', 'Net consumption', [9.4, 9.7, 9.5, 9.9, 9.6], { revisionNumbers: [1, 2] }),
      figure('twoWayTopSpeed', 'Top speed', [25], { unit: 'km/h', testKind: 'top-speed' }),
    ]);
    const row = (await screen.findByText('Net consumption')).closest('tr')!;
    expect(row).toHaveTextContent('revisions 1, 2 together');
    expect(row).toHaveTextContent('9.62 ± 0.24 Wh/km');
    expect(row).toHaveTextContent('0.19 Wh/km 2.0 %');
    // χ² with 4 degrees of freedom: 0.192·√(4 ÷ 11.14) and 0.192·√(4 ÷ 0.484).
    expect(row).toHaveTextContent('0.12 Wh/km to 0.55 Wh/km');
    expect(row).toHaveTextContent('0.53 Wh/km');
    expect(screen.getByText('Top speed', { selector: 'td' }).closest('tr')).toHaveTextContent(
      /± 0.10.*one run can’t show repeatability/,
    );
  });
  it('give the Peukert exponent once there are three discharges', async () => {
    const discharge = (key: string, values: readonly number[]) =>
      figure(key, key, values, { testKind: 'battery', unit: 'Ah' });
    show([
      discharge(
        'capacity',
        [2, 5, 10].map((amps) => 20 * amps ** -0.2),
      ),
      discharge('meanDischargeCurrent', [2, 5, 10]),
    ]);
    expect(await screen.findByText(/Peukert exponent: 1.20/)).toBeInTheDocument();
  });
  it('teach the next step where there are none', async () => {
    show([]);
    expect(await screen.findByText(/No counted run of this setup yet/)).toBeInTheDocument();
  });
});

describe('figures of an earlier method', () => {
  const latest = {
    id: exampleRun(9, 1).id,
    state: 'working' as const,
    total: 12,
    done: 5,
    failed: 0,
    changed: 2,
    startedAt: '2026-06-28T10:00:00.000Z',
    finishedAt: null,
  };
  it('are said and worked out on request', async () => {
    const api = fakeApi({ reanalysis: { outdated: 12, latest: null }, 'POST reanalysis': latest });
    renderInApp(<ReanalysisLine />);
    expect(await screen.findByText(/12 runs were calculated by an earlier method/)).toBeInTheDocument();
    await userEvent.setup().click(screen.getByRole('button', { name: 'Recalculate them' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'POST')?.body).toEqual({ scope: 'outdated' }),
    );
  });
  it('show how far the work is, and can be stopped', async () => {
    const api = fakeApi({
      reanalysis: { outdated: 7, latest },
      [`DELETE reanalysis/${latest.id}`]: { ...latest, state: 'cancelled' },
    });
    renderInApp(<ReanalysisLine />);
    expect(await screen.findByRole('status')).toHaveTextContent('5 of 12 runs, 2 changed so far');
    await userEvent.setup().click(screen.getByRole('button', { name: 'Stop' }));
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'DELETE')).toBe(true));
  });
  it('say how many could not be recalculated last time', async () => {
    fakeApi({ reanalysis: { outdated: 3, latest: { ...latest, state: 'done', done: 9, failed: 3 } } });
    renderInApp(<ReanalysisLine />);
    expect(await screen.findByText(/3 could not be recalculated last time/)).toBeInTheDocument();
  });
  it('are not spoken of where there are none', async () => {
    const api = fakeApi({ reanalysis: { outdated: 0, latest: null } });
    renderInApp(<ReanalysisLine />);
    await waitFor(() => expect(api.requests.length).toBeGreaterThan(0));
    expect(screen.queryByText(/earlier method/)).toBeNull();
  });
});
