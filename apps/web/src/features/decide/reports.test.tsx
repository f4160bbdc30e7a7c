import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { Report } from '@ebrix/contract';
import { exampleListItem } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import DecidePage from './DecidePage.js';
import { moved, partsFor, partsOf, toParts } from './report-draft.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const ID = '01890a5d-ac96-774b-bcce-b302099a8057';
const report: Report = {
  id: ID,
  number: 4,
  version: 2,
  title: 'Which kit?',
  form: 'short',
  by: 'Ottoline Vask',
  at: '2026-05-02T08:00:00.000Z',
  fingerprint: 'a'.repeat(64),
  trialId: exampleListItem.id,
  follows: null,
  changes: [{ where: 'Cost, A', before: '1', now: '2' }],
  spec: {
    trialId: exampleListItem.id,
    title: 'Which kit?',
    form: 'short',
    units: 'metric',
    withNames: false,
    useIds: [],
    parts: [
      { kind: 'section', section: 'cautions' },
      { kind: 'text', markdown: 'my words' },
    ],
  },
};
const open = (path: string, answers: Parameters<typeof fakeApi>[0] = {}, isReload = false) => {
  if (!isReload) sessionStorage.clear();
  const api = fakeApi({ reports: [report], trials: [exampleListItem], uses: [], ...answers });
  renderInApp(
    <Routes>
      <Route path="/decide/:tab/:id?" element={<DecidePage />} />
    </Routes>,
    path,
  );
  return api;
};

it('issued reports are listed with what they say otherwise, to be opened, saved and followed', async () => {
  open('/decide/reports');
  const row = within((await screen.findByText('4, version 2')).closest('tr')!);
  expect(row.getByRole('link', { name: 'Which kit?' })).toHaveAttribute('href', `/api/reports/${ID}/html`);
  expect(row.getByRole('link', { name: 'Save as HTML' })).toHaveAttribute('download', 'report-4-2.html');
  expect(row.getByRole('link', { name: 'New version' })).toHaveAttribute('href', `/decide/reports/${ID}`);
  expect(row.getByText('1')).toBeInTheDocument();
});

it('a new version begins as the last one stood, is moved and ticked, shown and issued after it', async () => {
  const api = open(`/decide/reports/${ID}`, {
    'POST reports/preview': { html: '<p>hello</p>' },
    'POST reports': { ...report, version: 3 },
  });
  const names = (): (string | null)[] => screen.getAllByRole('checkbox').map((box) => box.closest('li')!.textContent);
  expect((await screen.findAllByRole('listitem'))[0]).toHaveTextContent('Cautions');
  expect(screen.getByLabelText('Own words 2')).toHaveValue('my words');
  await user().click(screen.getByRole('button', { name: 'Cautions down' }));
  expect(names()[0]).toContain('Cautions');
  expect(screen.getByLabelText('Own words 1')).toHaveValue('my words');
  await user().click(screen.getByRole('checkbox', { name: 'Question and answer' }));
  await user().click(screen.getByRole('button', { name: 'Preview' }));
  expect(await screen.findByTitle('Preview of the report')).toHaveAttribute('sandbox', '');
  await user().clear(screen.getByLabelText('Issued by'));
  await user().type(screen.getByLabelText('Issued by'), 'Bram Tellow');
  await user().click(screen.getByRole('button', { name: 'Issue' }));
  await waitFor(() =>
    expect(api.requests.find(({ method, path }) => method === 'POST' && path === 'reports')?.body).toMatchObject({
      by: 'Bram Tellow',
      follows: ID,
      spec: {
        parts: [
          { kind: 'text', markdown: 'my words' },
          { kind: 'section', section: 'cautions' },
          { kind: 'section', section: 'answer' },
        ],
      },
    }),
  );
});

it('own words stay through a reload until the report is issued', async () => {
  open('/decide/reports/new');
  await user().click(await screen.findByRole('button', { name: 'Add own words' }));
  await user().type(screen.getByRole('textbox', { name: /^Own words/ }), 'half a thought');
  cleanup();
  open('/decide/reports/new', {}, true);
  expect(await screen.findByRole('textbox', { name: /^Own words/ })).toHaveValue('half a thought');
});

it('without a trial or a name it is not sent, and says so', async () => {
  const api = open('/decide/reports/new');
  await user().click(await screen.findByRole('button', { name: 'Preview' }));
  expect(await screen.findByRole('alert')).toBeInTheDocument();
  expect(api.requests.some(({ method }) => method === 'POST')).toBe(false);
});

it('forms tick their sections, own words keep their place, and empty ones are left out', () => {
  const short = partsFor('short');
  expect(toParts(short)).toHaveLength(5);
  const withWords = moved([...short, { id: 'own', kind: 'text', markdown: ' ' }], short.length, 0);
  expect(withWords[0]).toMatchObject({ id: 'own' });
  expect(toParts(partsFor('full', withWords))).toHaveLength(15);
  expect(partsFor('full', withWords)[0]).toMatchObject({ id: 'own' });
  expect(partsOf(report).slice(0, 2)).toMatchObject([{ section: 'cautions', isOn: true }, { markdown: 'my words' }]);
  expect(partsOf(report)).toHaveLength(16);
});
