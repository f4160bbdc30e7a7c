import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { openRiding, type Trial, type TrialInput, type Verdict } from '@ebrix/contract';
import { exampleCourse, exampleListItem, exampleSetups, exampleTrial, exampleVerdict } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import TrialPage from './TrialPage.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const path = `trials/${exampleTrial.id}`;
const open = (step: string, verdict: Verdict, trial: Trial = exampleTrial) => {
  const api = fakeApi({
    trials: [exampleListItem],
    setups: exampleSetups,
    courses: [exampleCourse],
    [path]: trial,
    [`${path}/verdict`]: verdict,
    [`${path}/plan`]: { plan: null },
    [`PUT ${path}`]: { ...trial, version: 2 },
  });
  renderInApp(
    <Routes>
      <Route path="/trials/:id/:step" element={<TrialPage />} />
    </Routes>,
    `/${path}/${step}`,
  );
  return {
    sent: async (): Promise<TrialInput> => {
      const change = () => api.requests.find(({ method }) => method === 'PUT');
      await waitFor(() => expect(change()).toBeDefined());
      return change()!.body as TrialInput;
    },
  };
};
const [first, second] = exampleTrial.setups;

describe('a verdict whose runs were not ridden alike', () => {
  it('asks which way counts, and holds what is chosen', async () => {
    const text = 'The runs were not all ridden alike: throttle only (3 runs), steady pedalling (2 runs).';
    const found = [
      { value: 'throttle', runs: 3 },
      { value: 'steady', runs: 2 },
    ];
    const { sent } = open('verdict', {
      ...exampleVerdict,
      comparison: null,
      reason: text,
      open: { field: 'way', found, text },
    });
    expect(await screen.findByText(text)).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Count steady pedalling (2)' }));
    expect((await sent()).heldRiding).toMatchObject({ way: 'steady', level: '' });
  });
});

describe('setups that cannot be told apart', () => {
  const pair = {
    a: first!.name,
    b: second!.name,
    verdict: 'cannot-tell' as const,
    sentence: '',
    refusal: { because: 'each had a rider of its own', mend: 'Let one rider ride both.' },
  };
  const verdict: Verdict = {
    ...exampleVerdict,
    comparison: { ...exampleVerdict.comparison!, pairs: [pair] },
    confounded: [{ a: first!.name, b: second!.name, key: 'rider' }],
  };
  it('are not drawn, what would settle it is said, and what differs on purpose can be said', async () => {
    const { sent } = open('verdict', verdict);
    expect(await screen.findByText(/Cannot tell whether .* each had a rider of its own/)).toBeInTheDocument();
    expect(screen.getByText('No difference is shown where the setups cannot be told apart.')).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Plan the next outing' })).toHaveAttribute('href', `/${path}/plan?more=2`);
    await user().click(screen.getByRole('button', { name: 'The rider is meant to differ' }));
    expect((await sent()).meantToDiffer).toEqual(['rider']);
  });
});

describe('what stands beside a verdict', () => {
  const answer = { label: 'wind', design: 'blocked' as const, reason: null };
  const { pairs } = exampleVerdict.comparison!;
  it('are runs apart with their reason, the other figures, and what changes at the same condition', async () => {
    open('verdict', {
      ...exampleVerdict,
      points: exampleVerdict.points.map((point, k) =>
        k === 0 ? { ...point, apart: { kind: 'not-said', text: 'its way of riding is not written down' } } : point,
      ),
      look: { number: 3, of: 12, countedRuns: 6, isLast: false, level: 0.01 },
      further: [
        {
          ...answer,
          label: 'Mean moving speed',
          pairs,
          figure: { key: 'meanMovingSpeed', label: 'Mean moving speed', unit: 'km/h', better: 'more' },
          smallestDifference: { kind: 'relative', value: 0.05 },
        },
      ],
      adjusted: [
        { ...answer, key: 'wind', pairs: [{ ...pairs[0]!, verdict: 'cannot-tell' }], slopesDifferP: 0.01 },
        { ...answer, label: 'load', key: 'load', pairs, slopesDifferP: null },
      ],
    });
    expect(await screen.findByText(/^So far Corvane R2 uses 14 % less/)).toBeInTheDocument();
    expect(screen.getByText(/Look 3, 6 of 12 planned runs in: intervals hold 99 % here/)).toBeInTheDocument();
    const apart = screen.getByRole('region', { name: 'Runs that do not count' });
    expect(apart).toHaveTextContent('1 run: its way of riding is not written down.');
    expect(within(apart).getByRole('link', { name: /Write down how these runs were ridden/ })).toHaveAttribute(
      'href',
      '/runs?way=unsaid',
    );
    expect(screen.getByRole('table', { name: 'Other figures' })).toHaveTextContent('a look, not a decision');
    expect(screen.getByText(/At the same wind: Cannot tell yet/)).toHaveTextContent('holds near its mean only');
    expect(screen.getByText(/At the same load: the same verdicts as ridden/)).toBeInTheDocument();
  });

  it('is the answer that the runs call for, where another was asked for', async () => {
    const called = { design: 'blocked' as const, method: { name: 'Within outings', reason: 'Same outings.' }, pairs };
    open('verdict', { ...exampleVerdict, comparison: { ...exampleVerdict.comparison!, called } });
    expect(await screen.findByText(/The runs call for another analysis \(within outings\)/)).toBeInTheDocument();
  });
});

describe('how an arm is ridden', () => {
  it('is set for one arm, the others staying', async () => {
    const { sent } = open('setups', exampleVerdict);
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: `How ${second!.name} is ridden, B` }));
    await hands.type(screen.getByLabelText('Assist level'), '3');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    expect((await sent()).arms).toEqual([
      { revisionId: first!.revisionId, riding: openRiding },
      { revisionId: second!.revisionId, riding: { ...openRiding, level: '3' } },
    ]);
  });
});
