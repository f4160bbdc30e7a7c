import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { NotebookInput } from '@ebrix/contract';
import { exampleSetups } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import {
  gaugeSteps,
  isBlank,
  knownRevision,
  newSetup,
  nextRow,
  readPack,
  readRows,
  setupNames,
  toInput,
} from './notebook-state.js';
import NotebookPage from './NotebookPage.js';
import { readTableFile } from './read-file.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const id = (n: number): string => `01900000-0000-7000-8000-${String(n).padStart(12, '0')}`;
const open = (answers: Parameters<typeof fakeApi>[0] = {}) => {
  const api = fakeApi({ setups: exampleSetups, 'bench/packs': [], imports: [], ...answers });
  renderInApp(
    <Routes>
      <Route path="/notebook" element={<NotebookPage />} />
      <Route path="/trials/:id/verdict" element={<p>the verdict</p>} />
    </Routes>,
    '/notebook',
  );
  return api;
};
const paste = (text: string): void =>
  void fireEvent.change(screen.getByLabelText('Paste rows from a spreadsheet'), { target: { value: text } });
const HEAD = 'Day\tSetup\tDistance\tBars\tTime';
const stored = (setups: readonly string[], files: number) => ({
  importIds: Array.from({ length: files }, (_, k) => id(k)),
  setups: setups.map((written, k) => ({ written, name: written, revisionId: id(100 + k) })),
});
const done = (files: number, status = 'done') =>
  Array.from({ length: files }, (_, k) => ({
    id: id(k),
    fileName: `notebook-${k}.json`,
    byteCount: 10,
    status,
    inspection: null,
    problem: null,
    runId: id(200 + k),
    runCount: 1,
    step: '',
    createdAt: '2026-04-12T08:00:00.000Z',
  }));

beforeEach(() => sessionStorage.clear());

describe('rows of a notebook', () => {
  it('carry down what is alike from ride to ride, and count as blank until something was read', () => {
    const above = { date: '2026-04-12', setup: 'A', way: 'steady', distance: '9.4' };
    expect(nextRow(above, 'x')).toEqual({ date: '2026-04-12', setup: 'A', way: 'steady' });
    expect(isBlank(nextRow(above, 'x'))).toBe(true);
    expect(nextRow(undefined, '2026-05-01')).toEqual({ date: '2026-05-01' });
    expect(isBlank({ distance: ' ' })).toBe(true);
    expect(isBlank(above)).toBe(false);
  });
  it('name each setup once, however it is written', () =>
    expect(setupNames([{ setup: 'Hub', distance: '1' }, { setup: ' hub ', distance: '2' }, { setup: 'Mid' }])).toEqual([
      'Hub',
    ]));
  it('know a setup by its name, and the motor where the name says it', () => {
    const [first] = exampleSetups;
    expect(knownRevision(first!.name.toUpperCase(), exampleSetups)).toBe(first!.revisions[0]!.id);
    expect(knownRevision('nobody', exampleSetups)).toBeUndefined();
    expect(newSetup('old front hub').motorKind).toBe('front-hub');
    expect(newSetup('Mid motor 48').motorKind).toBe('mid');
    expect(newSetup('Direct drive').motorKind).toBe('rear-hub-direct');
    expect(newSetup('Frontier').motorKind).toBe('rear-hub-geared');
  });
  it.each([
    ['36 V 11 Ah', { volts: 36, ampHours: 11 }],
    ['36,5 / 10,4', { volts: 36.5, ampHours: 10.4 }],
    ['36', undefined],
    ['36 11 5', undefined],
    ['0 11', undefined],
  ])('read a pack: %s', (text, pack) => expect(readPack(text)).toEqual(pack));
  it('take the size of a gauge from the packs of a setup, where they agree', () => {
    const [setup] = exampleSetups;
    const revision = setup!.revisions[0]!;
    const pack = (gaugeKind: string, steps: number | null) =>
      revision.packs.map((one) => ({ ...one, gaugeKind, gaugeSteps: steps })) as never;
    expect(gaugeSteps(revision.id, exampleSetups, pack('bars', 4))).toBe(4);
    expect(gaugeSteps(revision.id, exampleSetups, pack('voltage', 4))).toBeUndefined();
    expect(gaugeSteps(revision.id, exampleSetups, pack('bars', null))).toBeUndefined();
    expect(gaugeSteps('', exampleSetups, pack('bars', 4))).toBeUndefined();
  });
  it('are each read with the gauge of their own setup', () => {
    const rows = [
      { date: '2026-04-12', setup: 'A', bars: '5 3' },
      { date: '2026-04-12', setup: 'B', bars: '4 2' },
    ];
    const read = readRows(rows, (setup) => ({ barsWhenFull: setup === 'A' ? 5 : 4 }));
    expect(read.map(({ ride }) => ride.gauge?.bars)).toEqual([5, 4]);
  });
  it('are not sent while a pack is half described, and without one say that it is not known', () => {
    const rows = [{ date: '2026-04-12', setup: 'A', distance: '9' }];
    const read = readRows(rows, () => ({}));
    const choice = { ...newSetup('A'), pack: '36' };
    expect(toInput(read, new Map([['a', choice]]), () => 5)).toEqual({ missing: ['A'] });
    const sent = toInput(read, new Map(), () => undefined) as { input: NotebookInput };
    expect(sent.input.setups[0]!.sketch).toMatchObject({ packVoltageV: null, packCapacityAh: null, gaugeBars: null });
  });
});

describe('files of rides', () => {
  it('are read as text whatever separates their cells', async () => {
    const file = new File(['Day;Setup\r\n2026-04-12;"Hub; front"'], 'rides.csv');
    expect(
      await readTableFile(Object.assign(file, { text: () => Promise.resolve('Day;Setup\r\n2026-04-12;"Hub; front"') })),
    ).toEqual([
      ['Day', 'Setup'],
      ['2026-04-12', 'Hub; front'],
    ]);
  });
});

describe('the page', () => {
  it('names the cell that cannot be read, sends nothing, and keeps what was typed', async () => {
    const api = open();
    paste(`${HEAD}\n2026-05-01\tHub\tfar\t5 3\t25 min`);
    await user().click(await screen.findByRole('button', { name: 'Store 1 ride' }));
    const alert = await screen.findByRole('alert');
    expect(alert).toHaveTextContent('Row 1, Distance: “far” is not a number.');
    expect(alert).toHaveTextContent('Row 1, Bars, before and after: How many bars does this gauge show when full?');
    expect(screen.getByLabelText('Distance, row 1')).toHaveAttribute('aria-invalid', 'true');
    expect(api.requests.some(({ method }) => method === 'POST')).toBe(false);
    expect(sessionStorage.getItem('draft.notebook')).toContain('far');
  });

  it('sends rides with the setups they name, and leads on to a comparison of whole bikes', async () => {
    const long = 'Bike with a very long name that goes on and on until nobody wants to read it any more';
    const names = [`${long.slice(0, 78)}`, `Old ${long.slice(0, 74)}`];
    const api = open({
      'POST notebook': stored(names, 2),
      imports: done(2),
      'POST trials': { id: id(300) },
    });
    paste(`${HEAD}\n${names.map((name) => `2026-05-01\t${name}\t9.4\t5 3\t25 min`).join('\n')}`);
    const hands = user();
    await hands.type(screen.getByLabelText('Bars when full'), '5');
    await hands.type(screen.getByLabelText(`Pack of ${names[0]!}, V and Ah`), '36 11');
    await hands.click(screen.getByRole('button', { name: 'Store 2 rides' }));
    expect(await screen.findByText('2 rides are stored as runs.')).toBeInTheDocument();
    const sent = api.requests.find(({ path }) => path === 'notebook')!.body as NotebookInput;
    expect(sent.rides.map(({ gauge }) => gauge)).toEqual([
      { start: 5, end: 3, bars: 5 },
      { start: 5, end: 3, bars: 5 },
    ]);
    expect(sent.setups[0]!.sketch).toMatchObject({
      packVoltageV: 36,
      packCapacityAh: 11,
      gaugeBars: 5,
      chemistry: 'li-ion-nmc',
    });
    expect(sessionStorage.getItem('draft.notebook')).toBeNull();
    await hands.click(screen.getByRole('button', { name: /^Compare/ }));
    // Names as long as they may be still make a question that the server takes.
    await waitFor(() =>
      expect(api.requests.some(({ path, method }) => path === 'trials' && method === 'POST')).toBe(true),
    );
    const trial = api.requests.find(({ path, method }) => path === 'trials' && method === 'POST')!.body as {
      question: string;
      meantToDiffer: string[];
    };
    expect(trial.question.length).toBeLessThanOrEqual(160);
    expect(trial.meantToDiffer).toEqual(['bike']);
  });

  it('keeps the rows when the server refuses, and says why', async () => {
    open({ 'POST notebook': () => refusal(404, 'not-found', 'The setup chosen for “Hub” is gone.') });
    paste(`${HEAD}\n2026-05-01\tHub\t9.4\t\t25 min`);
    await user().click(await screen.findByRole('button', { name: 'Store 1 ride' }));
    expect(await screen.findByText(/is gone/)).toBeInTheDocument();
    expect(screen.getByLabelText('Distance, row 1')).toHaveValue('9.4');
  });

  it('says what headings meant nothing, shows columns that came with a paste, and takes no log for a notebook', async () => {
    open();
    paste(`Day\tSetup\tDistance\tColour\tSocket\n2026-05-01\tHub\t9.4\tred\t120`);
    expect(await screen.findByText(/mean nothing here: Colour/)).toBeInTheDocument();
    expect(screen.getByLabelText('Socket energy, Wh, row 1')).toHaveValue('120');
    paste(`time,speed\n${Array.from({ length: 400 }, (_, k) => `${k},20`).join('\n')}`);
    expect(await screen.findByText(/more than a notebook holds/)).toBeInTheDocument();
    expect(within(screen.getByRole('table', { name: 'Rides' })).getAllByRole('row')).toHaveLength(2);
  });

  it('carries a setup down into the rows that have none, and takes rows away', async () => {
    open();
    const hands = user();
    await hands.type(await screen.findByLabelText('Setup, row 1'), 'Hub');
    expect(screen.getByLabelText('Setup, row 4')).toHaveValue('Hub');
    await hands.type(screen.getByLabelText('Setup, row 3'), '2');
    expect(screen.getByLabelText('Setup, row 2')).toHaveValue('Hub');
    expect(screen.getByLabelText('Setup, row 4')).toHaveValue('Hub2');
    await hands.click(screen.getByRole('button', { name: 'Remove row 1' }));
    expect(screen.queryByLabelText('Setup, row 4')).not.toBeInTheDocument();
  });
});
