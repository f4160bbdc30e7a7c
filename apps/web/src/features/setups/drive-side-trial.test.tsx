import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { exampleDetail } from '../../testing/examples.js';
import { renderInApp } from '../../testing/render.js';
import { DriveSideTrial } from './DriveSideTrial.js';
import { factsOf } from '../../entities/setup/index.js';
import { readNumbers } from './read-numbers.js';
import { nextStepOfSetup } from './setup-next-step.js';

const setup = exampleDetail();
const plain = factsOf(setup.revisions[0]!);
const facts = {
  ...plain,
  bike: { ...plain.bike, cogStackMm: 30, rearDropoutMm: 135, rearDropoutMaterial: 'steel' as const },
  kit: { ...plain.kit!, motorKind: 'rear-hub-geared' as const, cogSpaceMm: 38, axleWidthMm: 132 },
  fit: { ...plain.fit, washersLeftMm: 1 },
};
const user = userEvent.setup({ delay: null, pointerEventsCheck: 0 });

it('tries another freewheel with every number of spacers and washers, the fitting ones first', async () => {
  renderInApp(<DriveSideTrial facts={facts} />);
  await user.click(screen.getByRole('button', { name: 'Try cogs, spacers and washers' }));
  await user.click(screen.getByRole('button', { name: 'Add another' }));
  await user.type(screen.getByLabelText(/Width of its cogs 2/), '60');
  const table = screen.getByRole('table', { name: 'Combinations' });
  expect(within(table).getAllByRole('row')[1]).toHaveTextContent(/As on the bike.*Fits/);
  await user.click(screen.getByRole('button', { name: /^All \d+/ }));
  const rows = within(screen.getByRole('table', { name: 'Combinations' })).getAllByRole('row');
  expect(rows.at(-1)).toHaveTextContent(/Candidate 2.*Does not fit/);
  await user.clear(screen.getByLabelText('Washers on the right to try, mm'));
  expect(screen.getByText(/Write the width of at least one stack/)).toBeInTheDocument();
});

it('is offered only where a motor sits beside cogs', () => {
  renderInApp(<DriveSideTrial facts={{ ...facts, kit: { ...facts.kit, motorKind: 'mid' } }} />);
  expect(screen.queryByRole('button')).toBeNull();
});

it.each([
  ['0 1,5 2', [0, 1.5, 2]],
  ['1;2', [1, 2]],
  ['', undefined],
  ['1 x', undefined],
  ['-1', undefined],
])('reads %j', (text, numbers) => expect(readNumbers(text)).toEqual(numbers));

describe('what moves a setup on', () => {
  const clear = { ...setup, archivedAt: null, clearance: { ...setup.clearance, stops: 0, openClearance: 0 } };
  const unridden = { ...clear, revisions: clear.revisions.map((one) => ({ ...one, runCount: 0 })) };
  const ridden = { ...clear, revisions: clear.revisions.map((one) => ({ ...one, runCount: 3 })) };
  const trials = [{ id: '019a0000-0000-7000-8000-000000000001', question: 'Which?' }];
  it.each([
    ['grave checks', { ...clear, clearance: { ...clear.clearance, stops: 2 } }, /2 grave checks/],
    [
      'what is due before riding',
      { ...clear, clearance: { ...clear.clearance, openClearance: 3 } },
      /before riding: 3/,
    ],
    ['a first ride', { ...unridden, trials }, /plan an outing/],
    ['a question', { ...unridden, trials: [] }, /Ask a question/],
    ['a comparison', { ...ridden, trials: [] }, /Compare it/],
  ])('is %s', (_what, of, words) => expect(nextStepOfSetup(of)?.words).toMatch(words));
  it('is nothing for one in use, or put away', () => {
    expect(nextStepOfSetup({ ...ridden, trials })).toBeUndefined();
    expect(nextStepOfSetup({ ...unridden, archivedAt: '2026-04-01T08:00:00.000Z' })).toBeUndefined();
  });
});
