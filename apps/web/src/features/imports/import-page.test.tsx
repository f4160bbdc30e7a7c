import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { ImportFile, Inspection, Outing } from '@ebrix/contract';
import { exampleCourse, exampleSetups } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import ImportPage from './ImportPage.js';
import { outingForm } from '../../entities/outing/index.js';

const id = (n: number): string => `01900000-0000-7000-8000-${String(n).padStart(12, '0')}`;
const inspection: Inspection = {
  format: 'csv',
  encoding: 'utf-8',
  delimiter: ';',
  mapping: {
    columns: [
      { header: 'time (s)', channel: 'time', unit: 's', timeFormat: 'number' },
      { header: 'speed', channel: 'speed', unit: 'km/h' },
      { header: 'remark', channel: null },
    ],
    decimal: ',',
  },
  preview: [['0', '20,1', '']],
  profile: null,
  startedAt: null,
  longGaps: [],
  questions: [],
};
const file = (n: number, more: Partial<ImportFile> = {}): ImportFile => ({
  id: id(n),
  fileName: `ride-${n}.csv`,
  byteCount: 20_480,
  status: 'staged',
  inspection,
  problem: null,
  runId: null,
  runCount: 0,
  step: '',
  createdAt: '2026-04-07T08:00:00.000Z',
  ...more,
});
const outing: Outing = {
  id: id(60),
  version: 1,
  updatedAt: '2026-04-07T08:00:00.000Z',
  archivedAt: null,
  title: 'Morning 1',
  date: '2026-04-07',
  airTemperatureC: 10,
  airPressureHpa: null,
  relativeHumidity: null,
  windMps: null,
  windFromDeg: null,
  notes: '',
  runCount: 0,
};
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const assigned = {
  setupRevisionId: exampleSetups[0]!.revisions[0]!.id,
  courseId: exampleCourse.id,
  outingId: outing.id,
};
const open = (files: ImportFile[], more: Parameters<typeof fakeApi>[0] = {}) => {
  const api = fakeApi({
    imports: files,
    setups: exampleSetups,
    courses: [exampleCourse],
    outings: [outing],
    'bench/riders': [],
    'bench/loggers': [],
    ...more,
  });
  renderInApp(
    <Routes>
      <Route path="/import" element={<ImportPage />} />
    </Routes>,
    '/import',
  );
  return api;
};
beforeEach(() => {
  sessionStorage.clear();
  // What was chosen before a reload is filled in already.
  const typed = Object.fromEntries([1, 2, 3].map((n) => [id(n), { emptied: false, testKind: 'range', ...assigned }]));
  sessionStorage.setItem('draft.import', JSON.stringify(typed));
});
afterEach(() => localStorage.clear());

describe('bringing in rides', () => {
  it('says what was recognised, and sends what was ridden with the mapping', async () => {
    const api = open([file(1)], { 'POST imports/start': [file(1, { status: 'queued' })] });
    expect(await screen.findByText(/Table with semicolons, decimal commas, UTF-8/)).toHaveTextContent(
      '2 of 3 columns used',
    );
    await user().click(screen.getByRole('button', { name: 'Make this run' }));
    await waitFor(() => expect(api.requests.some(({ path }) => path === 'imports/start')).toBe(true));
    expect(api.requests.find(({ path }) => path === 'imports/start')!.body).toEqual({
      items: [
        {
          importId: id(1),
          parts: [],
          mapping: inspection.mapping,
          assignment: {
            ...assigned,
            riderId: null,
            loggerId: null,
            testKind: 'range',
            totalMassKg: null,
            emptied: false,
            gauge: null,
            ruleOfThumbWhPerKm: null,
            notes: '',
            direction: 1,
            riding: { way: null, level: '', gear: '', payloadKg: null, limitMode: null, laps: null },
            tyrePressureBar: null,
            perceivedEffort: null,
            wheelFactor: null,
            isPartWay: false,
            slotId: null,
            logSpan: null,
            manualReadings: null,
          },
          profileName: null,
          clearanceWaiver: null,
        },
      ],
    });
  });

  it('keeps course, rider and logger of the last time, proposes the outing by the file’s own day, and never a setup', async () => {
    sessionStorage.clear();
    localStorage.setItem('ebrix.last-assignment', JSON.stringify(assigned));
    const other = { ...outing, id: id(61), title: 'Other day', date: '2026-04-09' };
    open([file(1, { inspection: { ...inspection, startedAt: '2026-04-09T09:30:00.000Z' } })], {
      outings: [outing, other],
    });
    expect(await screen.findByText(/by the log’s clock/)).toBeInTheDocument();
    await waitFor(() => expect(screen.getByText(/Other day/)).toBeInTheDocument());
    expect(screen.queryByText(/Morning 1/)).not.toBeInTheDocument();
    expect(screen.getByText(exampleCourse.name)).toBeInTheDocument();
    expect(screen.queryByText(exampleSetups[0]!.name)).not.toBeInTheDocument();
  });

  it('warns where the chosen outing is of another day than the file', async () => {
    open([file(1, { inspection: { ...inspection, startedAt: '2026-05-20T09:30:00.000Z' } })]);
    expect(await screen.findByText(/is the clock wrong, or the outing/)).toBeInTheDocument();
  });

  it('asks for what is missing before anything is sent', async () => {
    sessionStorage.clear();
    const api = open([file(1)]);
    await user().click(await screen.findByRole('button', { name: 'Make this run' }));
    expect((await screen.findAllByText('Choose one.')).length).toBe(3);
    expect(api.requests.some(({ path }) => path === 'imports/start')).toBe(false);
  });

  it('does not start while a question about a file is open', async () => {
    const question = {
      kind: 'unit' as const,
      columns: [1],
      text: 'Is speed in km/h or mph?',
      choices: ['km/h', 'mph'],
      blocking: true,
    };
    const columns = inspection.mapping.columns.map((column, k) =>
      k === 1 ? { header: 'speed', channel: 'speed' as const } : column,
    );
    open([
      file(1, { inspection: { ...inspection, mapping: { ...inspection.mapping, columns }, questions: [question] } }),
    ]);
    expect(await screen.findByText(/Is speed in km\/h or mph\?/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Make this run' })).toBeDisabled();
    expect(screen.getByText(/Answer first: ride-1.csv/)).toBeInTheDocument();
  });

  it('keeps a ride of a setup with open gates out until it is said in writing why it was ridden', async () => {
    const api = open([file(1)], {
      'POST imports/start': ({ body }: { body: unknown }) =>
        (body as { items: { clearanceWaiver: unknown }[] }).items[0]!.clearanceWaiver === null
          ? refusal(409, 'clearance-open', 'Gates of this setup are open.')
          : [file(1, { status: 'queued' })],
    });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Make this run' }));
    expect(await screen.findByText('Gates of this setup are open.')).toBeInTheDocument();
    await hands.type(
      screen.getByLabelText('Why it was ridden before its safety checks'),
      'Ridden before the gates were kept.',
    );
    await hands.type(screen.getByLabelText('Your name'), 'Bram Tellow');
    await hands.click(screen.getByRole('button', { name: 'Make this run' }));
    await waitFor(() => expect(api.requests.filter(({ path }) => path === 'imports/start')).toHaveLength(2));
    expect(api.requests.filter(({ path }) => path === 'imports/start').at(-1)!.body).toMatchObject({
      items: [{ clearanceWaiver: { by: 'Bram Tellow', reason: 'Ridden before the gates were kept.' } }],
    });
  });

  it('gives all files what was said of the first', async () => {
    localStorage.clear();
    sessionStorage.setItem('draft.import', JSON.stringify({ [id(1)]: { ...assigned, isKnown: true } }));
    const api = open([file(1), file(2)], { 'POST imports/start': [] });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Apply to all 2 files' }));
    await hands.click(screen.getByRole('button', { name: 'Make 2 runs' }));
    await waitFor(() => expect(api.requests.some(({ path }) => path === 'imports/start')).toBe(true));
    const { items } = api.requests.find(({ path }) => path === 'imports/start')!.body as {
      items: { assignment: object }[];
    };
    expect(items.map(({ assignment }) => assignment)).toEqual([
      expect.objectContaining(assigned),
      expect.objectContaining(assigned),
    ]);
  });

  it('tells of files that were refused, known before or under way, and takes them off the list', async () => {
    const api = open(
      [
        file(1, {
          status: 'refused',
          inspection: null,
          problem: { code: 'empty', message: 'The file is empty.', line: 3 },
        }),
        file(2, { status: 'known', runId: id(70) }),
        file(3, { status: 'working', step: 'storing' }),
      ],
      { [`DELETE imports/${id(1)}`]: {} },
    );
    const refused = await screen.findByText('ride-1.csv');
    expect(refused.closest('li')).toHaveTextContent('The file is empty. (line 3)');
    expect(screen.getByText('ride-2.csv').closest('li')).toHaveTextContent('This file was already imported.');
    expect(within(screen.getByText('ride-3.csv').closest('li')!).getByText(/storing/)).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Remove from list: ride-1.csv' }));
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'DELETE')).toBe(true));
  });
});

describe('a new outing', () => {
  it('is asked for its day, and takes the weather in any unit', async () => {
    const api = fakeApi({ 'POST outings': outing });
    const done: (Outing | undefined)[] = [];
    renderInApp(<outingForm.Part onDone={(saved) => done.push(saved)} />);
    const hands = user();
    const dialog = await screen.findByRole('dialog', { name: 'New outing' });
    await hands.click(within(dialog).getByRole('button', { name: 'Save outing' }));
    expect(await within(dialog).findByText(/Give the day of the outing/)).toBeInTheDocument();
    await hands.type(within(dialog).getByLabelText('Day'), '2026-04-07');
    await hands.type(within(dialog).getByLabelText('Air temperature'), '50 °F');
    await hands.type(within(dialog).getByLabelText('Humidity'), '70');
    await hands.click(within(dialog).getByRole('button', { name: 'Save outing' }));
    await waitFor(() => expect(done).toEqual([outing]));
    const sent = api.requests.find(({ method }) => method === 'POST')!.body as Outing;
    expect(sent).toMatchObject({ date: '2026-04-07', windMps: null });
    expect(sent.airTemperatureC).toBeCloseTo(10, 9);
    expect(sent.relativeHumidity).toBeCloseTo(0.7, 9);
  });

  it('splits the log of an outing, and sends the runs that are taken', async () => {
    const strip = { fromS: 0, toS: 900, totalS: 900, channels: [] };
    const proposed = (fromS: number, toS: number, testKind: string) => ({
      fromS,
      toS,
      testKind,
      why: 'Between two stops',
      distanceM: 800,
      direction: 1,
    });
    const api = open([file(1)], {
      [`POST imports/${id(1)}/split`]: {
        totalS: 900,
        runs: [proposed(10, 300, 'range'), proposed(340, 500, 'coast-down'), proposed(540, 880, 'hill-climb')],
        strip,
      },
      'POST imports/start': [],
    });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: /Split into several runs/ }));
    expect(await screen.findByRole('heading', { name: '3 of 3 runs selected' })).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Make 3 runs' })).toBeInTheDocument();
    await hands.click(screen.getByRole('checkbox', { name: 'Run 2' }));
    await hands.click(screen.getByRole('button', { name: 'Make 2 runs' }));
    await waitFor(() => expect(api.requests.some(({ path }) => path === 'imports/start')).toBe(true));
    const { items } = api.requests.find(({ path }) => path === 'imports/start')!.body as {
      items: { parts: { logSpan: object; testKind: string; courseId: string }[] }[];
    };
    expect(items[0]!.parts.map(({ logSpan, testKind }) => [logSpan, testKind])).toEqual([
      [{ fromS: 10, toS: 300 }, 'range'],
      [{ fromS: 540, toS: 880 }, 'hill-climb'],
    ]);
    // Without a course of its own a run is on the course of the file.
    expect(items[0]!.parts[0]!.courseId).toMatch(/^0190/);
    await hands.click(screen.getByRole('button', { name: 'Don’t split' }));
    expect(screen.getByRole('button', { name: 'Make this run' })).toBeInTheDocument();
  });
});
