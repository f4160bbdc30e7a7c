import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Elsewhere } from '@ebrix/contract';
import { exampleTrial } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { ElsewhereStudies } from './ElsewhereStudies.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const path = `trials/${exampleTrial.id}/elsewhere`;
const ID = '01890a5d-ac96-774b-bcce-b302099a8057';
const pair: Elsewhere[number] = {
  a: 'A',
  b: 'B',
  aName: 'Corvane',
  bName: 'Dromel',
  own: { ratio: 0.88, lower: 0.84, upper: 0.92 },
  studies: [{ id: ID, tester: 'Hazel Quill', ratio: 0.95, lower: 0.9, upper: 1.01, runs: 6, note: '<i>hilly</i>' }],
  pooled: {
    ratio: 0.91,
    interval95: { lower: 0.8, upper: 1.03 },
    nextTester95: null,
    between: 0.04,
    iSquared: 0.6,
    weights: [0.6, 0.4],
    words: 'The testers differ by about 4 %.',
  },
};
const show = (answers: Parameters<typeof fakeApi>[0]) => {
  const api = fakeApi(answers);
  renderInApp(<ElsewhereStudies trial={exampleTrial} />);
  return api;
};

it('other testers stand beside the own answer with what each counts for, and can be taken out', async () => {
  const api = show({ [path]: [pair], [`DELETE elsewhere/${ID}`]: new Response(null, { status: 204 }) });
  const section = within(await screen.findByRole('region', { name: 'Corvane against Dromel' }));
  expect(section.getByRole('img')).toHaveAccessibleName(/Here: −12 %, −16 % to −8 %\. Hazel Quill, 6 runs: −5 %/);
  expect(section.getByText('40 %')).toBeInTheDocument();
  expect(section.getByText('one more tester: needs a third')).toBeInTheDocument();
  expect(section.getByText(/<i>hilly<\/i>/)).toBeInTheDocument();
  await user().click(section.getByRole('button', { name: 'Remove Hazel Quill' }));
  await waitFor(() => expect(api.requests.some(({ method }) => method === 'DELETE')).toBe(true));
});

it('what a report says in per cent goes out as a ratio, from hand or from a package', async () => {
  const found = {
    question: 'Which?',
    figure: 'netConsumption',
    a: 'X',
    b: 'Y',
    ratio: 0.9,
    lower: 0.85,
    upper: 0.95,
    runs: 6,
  };
  const api = show({
    [path]: ({ method }: { method: string }) => (method === 'POST' ? [pair] : [{ ...pair, studies: [], pooled: null }]),
    'POST elsewhere/package': [found],
  });
  await user().click(await screen.findByText('What other testers found'));
  await user().click(screen.getByText('Add what another tester found'));
  await user().click(await screen.findByRole('button', { name: 'Add it' }));
  expect(await screen.findByText('Write your name.')).toBeInTheDocument();
  await user().type(screen.getByLabelText('Tester'), 'Hazel Quill');
  await user().upload(
    screen.getByLabelText('Choose their data package', { selector: 'input' }),
    new File(['z'], 'p.zip'),
  );
  await user().click(await screen.findByRole('button', { name: 'Use it' }));
  await user().click(screen.getByRole('button', { name: 'Add it' }));
  await waitFor(() =>
    expect(api.requests.find(({ method, path: to }) => method === 'POST' && to === path)?.body).toMatchObject({
      tester: 'Hazel Quill',
      a: 'A',
      b: 'B',
      ratio: 0.9,
      lower: 0.85,
      upper: 0.95,
      runs: 6,
    }),
  );
});

it('a package that is none says so', async () => {
  show({
    [path]: [{ ...pair, studies: [], pooled: null }],
    'POST elsewhere/package': refusal(422, 'cannot-read', 'No zip.'),
  });
  await user().click(await screen.findByText('What other testers found'));
  await user().click(screen.getByText('Add what another tester found'));
  await user().upload(
    await screen.findByLabelText('Choose their data package', { selector: 'input' }),
    new File(['z'], 'p.zip'),
  );
  expect(await screen.findByText('No zip.')).toBeInTheDocument();
});
