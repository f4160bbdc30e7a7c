import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { QuickLookLog } from '@ebrix/contract';
import { exampleCleaning, exampleSetups } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { commonFigures, compareRides, type Side } from './compare-rides.js';
import QuickLookPage from './QuickLookPage.js';

interface Shape {
  readonly value: number;
  readonly day?: string;
  readonly shared?: number;
  readonly key?: string;
  readonly warning?: string;
}
const look = ({ value, day, shared = 0, key = 'netConsumption', warning }: Shape): QuickLookLog =>
  ({
    test: 'range',
    method: { name: 'range', version: '1.3' },
    channels: [],
    cleaning: exampleCleaning,
    passes: [],
    events: [],
    levels: [],
    spans: [],
    charts: [],
    strip: { fromS: 0, toS: 1, totalS: 1, channels: [] },
    startedAt: day === undefined ? null : `${day}T08:00:00.000Z`,
    warnings: warning === undefined ? [] : [{ code: warning, message: 'Look at it.' }],
    figures: [
      {
        key,
        label: 'Net consumption',
        value,
        unit: 'Wh/km',
        standardUncertainty: 0.1,
        interval95: [value - 0.2, value + 0.2],
        n: 900,
        warnings: [],
        derivation: {
          formula: '',
          substituted: '',
          inputs: [],
          contributions: [
            { source: 'current gain', standardUncertainty: shared * value, isSystematic: true, share: 1 },
          ],
        },
      },
    ],
  }) as unknown as QuickLookLog;
const side = (name: string, shapes: readonly Shape[]): Side => ({
  name,
  rides: shapes.map((shape, k) => ({ fileName: `${name}${k}.csv`, look: look(shape) })),
});
const days = ['2026-05-02', '2026-05-09', '2026-05-16'];
const answer = (sides: readonly Side[]) => compareRides(sides, 'netConsumption', 'metric');

describe('rides of two sides', () => {
  it('of one day each way are compared within their days', () => {
    const found = answer([
      side(
        'A',
        days.map((day, k) => ({ day, value: [9, 11, 13][k]! })),
      ),
      side(
        'B',
        days.map((day, k) => ({ day, value: [8.1, 9.8, 11.8][k]! })),
      ),
    ]);
    expect(found).toMatchObject({ kind: 'comparison', comparison: { design: 'blocked' } });
    expect(found.kind === 'comparison' && found.comparison.sentences[0]).toContain('B uses');
  });
  it('each on a day of its own cannot be told apart from the day', () => {
    const found = answer([
      side(
        'A',
        [9, 9.1, 9.2].map((value) => ({ value, day: days[0]! })),
      ),
      side(
        'B',
        [7, 7.1, 7.2].map((value) => ({ value, day: days[1]! })),
      ),
    ]);
    expect(found.kind === 'comparison' && found.comparison.pairs[0]!.verdict).toBe('cannot-tell');
    expect(found.kind === 'comparison' && found.comparison.design).toBe('confounded');
  });
  it('are widened by gains that nobody said are of one logger', () => {
    const width = (shared: number): number => {
      const found = answer([
        side(
          'A',
          [9, 9.2, 9.1].map((value) => ({ value, shared })),
        ),
        side(
          'B',
          [8, 8.2, 8.1].map((value) => ({ value, shared })),
        ),
      ]);
      if (found.kind !== 'comparison') throw new Error('No comparison.');
      const { ratio } = found.comparison.pairs[0]!;
      return ratio!.upper / ratio!.lower;
    };
    expect(width(0.02)).toBeGreaterThan(1.02 * width(0));
  });
  it('one each get an impression that never blames the setup', () => {
    const found = answer([side('A', [{ value: 10 }]), side('B', [{ value: 6 }])]);
    expect(found.kind === 'impression' && found.impression.sentence).toMatch(
      /B uses 40 % less energy per km than A.*cannot say whether it was the setup, the day or the rider/,
    );
  });
  it('say why they cannot be compared: one against several, nothing used, an estimate', () => {
    expect(answer([side('A', [{ value: 9 }, { value: 9.1 }]), side('B', [{ value: 8 }])])).toMatchObject({
      kind: 'none',
      reason: expect.stringContaining('at least two runs'),
    });
    expect(answer([side('A', [{ value: 0 }]), side('B', [{ value: 8 }])])).toMatchObject({ kind: 'none' });
    const estimated = [side('A', [{ value: 9, warning: 'mostly-gaps' }]), side('B', [{ value: 8 }])];
    expect(commonFigures(estimated)).toEqual([]);
    expect(commonFigures([side('A', [{ value: 9 }]), side('B', [{ value: 8, key: 'climbTime' }])])).toEqual([]);
  });
});

describe('the page that compares rides', () => {
  const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
  const open = (answers: Parameters<typeof fakeApi>[0]) => {
    const api = fakeApi({ setups: [], ...answers });
    renderInApp(
      <Routes>
        <Route path="/quick-look/:what" element={<QuickLookPage />} />
        <Route path="/import" element={<p>the import</p>} />
      </Routes>,
      '/quick-look/compare',
    );
    return api;
  };
  const file = (name: string) => new File(['x'], name);
  const sent = (api: ReturnType<typeof fakeApi>) =>
    api.requests.filter(({ method }) => method === 'POST').map(({ path }) => path);

  it('answers as soon as each side has a ride, under the names typed there, and asks what it needs to keep them', async () => {
    let asked = 0;
    const api = open({
      'POST quick-look/log': () => look({ value: asked++ === 0 ? 10 : 6 }),
    });
    const hands = user();
    await hands.type(await screen.findByLabelText('Name of side A'), 'Front hub');
    await hands.upload(screen.getByLabelText('Choose logs of Front hub'), file('a.csv'));
    expect(await screen.findByText('a.csv')).toBeInTheDocument();
    expect(screen.queryByText(/On these two rides/)).not.toBeInTheDocument();
    await hands.upload(screen.getByLabelText('Choose logs of B'), file('b.csv'));
    expect(
      await screen.findByText(/On these two rides B uses 40 % less energy per km than Front hub/),
    ).toBeInTheDocument();
    expect(within(screen.getByRole('table', { name: 'Every ride' })).getAllByRole('row')).toHaveLength(2);
    expect(sent(api).every((path) => path === 'quick-look/log')).toBe(true);
    // What drives a setup that is not there yet is asked, never guessed.
    await hands.click(screen.getByRole('button', { name: 'Keep these rides' }));
    expect(screen.getByRole('button', { name: 'Make setups and runs of them' })).toBeDisabled();
    expect(screen.getByRole('combobox', { name: 'Motor of Front hub' })).toBeInTheDocument();
    expect(sent(api).every((path) => path === 'quick-look/log')).toBe(true);
  });

  it('keeps them as runs of the setups that are named, each on its day; a file that has to be asked about goes to the import', async () => {
    let asked = 0;
    const names = exampleSetups.map(({ name }) => name);
    const staged = (questions: readonly object[]) =>
      names.map((name, k) => ({
        id: `01900000-0000-7000-8000-00000000010${k}`,
        fileName: `${name}.csv`,
        byteCount: 10,
        status: 'staged',
        inspection: {
          format: 'csv',
          encoding: 'utf-8',
          delimiter: ',',
          mapping: { columns: [{ header: 'time (s)', channel: 'time', unit: 's', timeFormat: 'number' }] },
          questions,
          preview: [],
          startedAt: `2026-05-0${k + 2}T08:00:00.000Z`,
          longGaps: [],
          profile: null,
        },
        problem: null,
        runId: null,
        runCount: 0,
        step: '',
        createdAt: '2026-05-03T08:00:00.000Z',
      }));
    let questions: readonly object[] = [];
    const revisions = exampleSetups.map(({ revisions: [one] }) => one!.id);
    const api = open({
      setups: exampleSetups,
      imports: [],
      'POST quick-look/log': () => look({ value: asked++ % 2 === 0 ? 10 : 6, day: '2026-05-02' }),
      'POST imports': () => staged(questions),
      'POST notebook/logs': {
        importIds: staged([]).map(({ id }) => id),
        setups: names.map((name, k) => ({ written: name, revisionId: revisions[k]!, name })),
      },
    });
    const hands = user();
    for (const [k, name] of names.entries()) {
      await hands.type(await screen.findByLabelText(`Name of side ${'AB'[k]!}`), name);
      await hands.upload(screen.getByLabelText(`Choose logs of ${name}`), file(`${k}.csv`));
      expect((await screen.findAllByText(`${k}.csv`)).length).toBeGreaterThan(0);
    }
    await hands.click(await screen.findByRole('button', { name: 'Keep these rides' }));
    expect(await screen.findByRole('button', { name: `Compare ${names.join(', ')}` })).toBeInTheDocument();
    expect(api.requests.find(({ path }) => path === 'notebook/logs')!.body).toMatchObject({
      setups: revisions.map((revisionId, k) => ({ written: names[k], revisionId, sketch: null })),
      logs: [
        { setup: names[0], date: '2026-05-02', testKind: 'range' },
        { setup: names[1], date: '2026-05-03', testKind: 'range' },
      ],
    });
    await hands.click(screen.getByRole('button', { name: 'Compare other rides' }));
    questions = [{ kind: 'unit', columns: [0], text: 'In which unit?', choices: [], blocking: true }];
    for (const [k, name] of names.entries()) {
      await hands.type(await screen.findByLabelText(`Name of side ${'AB'[k]!}`), name);
      await hands.upload(screen.getByLabelText(`Choose logs of ${name}`), file(`${k}.csv`));
      expect((await screen.findAllByText(`${k}.csv`)).length).toBeGreaterThan(0);
    }
    await hands.click(await screen.findByRole('button', { name: 'Keep these rides' }));
    expect(await screen.findByText('the import')).toBeInTheDocument();
  });

  it('says of which file what is wrong, and lets it be taken away', async () => {
    open({ 'POST quick-look/log': () => refusal(422, 'cannot-read', 'This is a picture.') });
    const hands = user();
    await hands.upload(await screen.findByLabelText('Choose logs of A'), file('photo.csv'));
    expect(await screen.findByText('This is a picture.')).toBeInTheDocument();
    expect(screen.getByText('photo.csv')).toBeInTheDocument();
    await hands.click(screen.getByRole('button', { name: 'Take them away' }));
    await waitFor(() => expect(screen.queryByText('This is a picture.')).not.toBeInTheDocument());
  });

  it('asks for names of their own', async () => {
    open({ 'POST quick-look/log': look({ value: 9 }) });
    const hands = user();
    await hands.type(await screen.findByLabelText('Name of side A'), 'b');
    expect(await screen.findByText(/same name/)).toBeInTheDocument();
    await hands.click(screen.getByRole('button', { name: 'Add another side' }));
    expect(screen.getByLabelText('Name of side C')).toBeInTheDocument();
  });
});
