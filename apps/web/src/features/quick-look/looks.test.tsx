import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { QuickLookTable } from '@ebrix/contract';
import { exampleVerdict } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import QuickLookPage from './QuickLookPage.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const open = (what: 'log' | 'table', answers: Parameters<typeof fakeApi>[0]) => {
  const api = fakeApi(answers);
  renderInApp(
    <Routes>
      <Route path="/quick-look/:what" element={<QuickLookPage />} />
    </Routes>,
    `/quick-look/${what}`,
  );
  return api;
};
const table: QuickLookTable = {
  comparison: exampleVerdict.comparison!,
  verdict: 'Corvane R2 uses less.',
  points: [
    { setup: 'Corvane R2', value: 5.5, row: 2 },
    { setup: 'Corvane R2', value: 5.6, row: 3 },
    { setup: 'Dromel D5', value: 6.4, row: 4 },
    { setup: 'Dromel D5', value: 6.5, row: 5 },
  ],
  skippedRows: [{ row: 6, reason: 'no number' }],
  designed: {
    notes: ['Ridden in turns: see below.'],
    blocked: {
      treatmentTest: { f: 12, numeratorDf: 1, denominatorDf: 3, pValue: 0.04 },
      residualVariance: 0.01,
      degreesOfFreedom: 3,
      adjustedMeans: [],
      contrasts: [
        {
          a: 'Corvane R2',
          b: 'Dromel D5',
          difference: -0.9,
          standardError: 0.1,
          df: 3,
          t: -9,
          p: 0.01,
          holmP: 0.01,
          lower: -1.2,
          upper: -0.6,
        },
      ],
    },
  },
};

describe('a quick look at a table', () => {
  it('guesses the columns, lets them be changed, and compares', async () => {
    const api = open('table', {
      'POST quick-look/table/columns': { columns: ['kit', 'outing', 'Wh per km'], rows: 4 },
      'POST quick-look/table': table,
    });
    const hands = user();
    await hands.upload(
      await screen.findByLabelText('Choose a table'),
      new File(['kit,outing,Wh per km'], 'results.csv'),
    );
    await hands.click(await screen.findByRole('button', { name: 'Compare' }));
    expect(await screen.findByText(exampleVerdict.comparison!.sentences[0]!)).toBeInTheDocument();
    expect(screen.getByText(/1 row was skipped: row 6, no number/)).toBeInTheDocument();
    const within1 = screen.getByRole('table', { name: /Within outings/ });
    expect(within(within1).getByRole('row', { name: /Corvane R2 − Dromel D5/ })).toHaveTextContent('-1.2 … -0.6');
    expect(api.requests.map(({ path }) => path)).toEqual(['quick-look/table/columns', 'quick-look/table']);
  });
  it('says why a table cannot be compared', async () => {
    open('table', {
      'POST quick-look/table/columns': { columns: ['kit', 'Wh per km'], rows: 1 },
      'POST quick-look/table': () => refusal(422, 'too-few', 'Each setup needs two runs at least.'),
    });
    const hands = user();
    await hands.upload(await screen.findByLabelText('Choose a table'), new File(['kit,Wh per km'], 'results.csv'));
    await hands.click(await screen.findByRole('button', { name: 'Compare' }));
    expect(await screen.findByText('Each setup needs two runs at least.')).toBeInTheDocument();
  });
  it('says why a file is no table', async () => {
    open('table', { 'POST quick-look/table/columns': () => refusal(422, 'picture', 'This is a picture.') });
    await user().upload(await screen.findByLabelText('Choose a table'), new File(['x'], 'a.csv'));
    expect(await screen.findByText('This is a picture.')).toBeInTheDocument();
  });
});

describe('a quick look at a log', () => {
  it('asks about columns it cannot read before it goes on', async () => {
    const api = open('log', {
      'POST quick-look/log': () => refusal(422, 'mapping-needed', 'Say in which unit speed is.'),
      'POST quick-look/log/columns': {
        format: 'csv',
        encoding: 'utf-8',
        delimiter: ',',
        mapping: {
          columns: [
            { header: 'time (s)', channel: 'time', unit: 's', timeFormat: 'number' },
            { header: 'speed', channel: 'speed' },
          ],
        },
        questions: [
          { kind: 'unit', columns: [1], text: 'In which unit is speed?', choices: ['km/h', 'mph'], blocking: true },
        ],
        preview: [['0', '20']],
        profile: null,
      },
    });
    await user().upload(await screen.findByLabelText('Choose a log'), new File(['time (s),speed'], 'ride.csv'));
    expect(await screen.findByText('Say in which unit speed is.')).toBeInTheDocument();
    expect(await screen.findByRole('button', { name: 'Read it this way' })).toBeDisabled();
    expect(api.requests.map(({ path }) => path)).toEqual(['quick-look/log', 'quick-look/log/columns']);
  });
  it('says in plain words what is wrong with a file, and promises that nothing is stored', async () => {
    open('log', { 'POST quick-look/log': () => refusal(413, 'too-large', 'The file is too large.') });
    expect(await screen.findByText(/Nothing is stored/)).toBeInTheDocument();
    await user().upload(screen.getByLabelText('Choose a log'), new File(['x'], 'ride.csv'));
    expect(await screen.findByText('The file is too large.')).toBeInTheDocument();
  });
});
