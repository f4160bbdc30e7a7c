import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Trial, TrialInput } from '@ebrix/contract';
import { exampleCourse, exampleTrial } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { setUnits } from '../../shared/preferences/index.js';
import { QuestionForm } from './QuestionForm.js';
import { RunsStep } from './RunsStep.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
afterEach(() => {
  sessionStorage.clear();
  localStorage.clear();
});
const show = (trial?: Trial) => {
  const api = fakeApi({
    courses: [exampleCourse],
    'POST trials': exampleTrial,
    [`PUT trials/${exampleTrial.id}`]: exampleTrial,
  });
  const saved: Trial[] = [];
  const { store } = renderInApp(<QuestionForm {...(trial && { trial })} onSaved={(one) => saved.push(one)} />);
  return { api, saved, store };
};
const sent = (api: ReturnType<typeof fakeApi>) =>
  api.requests.find(({ method }) => method === 'POST' || method === 'PUT')!.body as TrialInput & { version?: number };

describe('the question of a trial', () => {
  it('takes a smallest difference in per cent as a share', async () => {
    const { api, saved } = show();
    const hands = user();
    await hands.type(await screen.findByLabelText('Question'), 'Which kit for the level round?');
    await hands.click(screen.getByRole('button', { name: 'Save and choose setups' }));
    await waitFor(() => expect(saved).toHaveLength(1));
    expect(sent(api)).toMatchObject({
      question: 'Which kit for the level round?',
      decidingFigure: 'netConsumption',
      smallestDifference: { kind: 'relative', value: 0.05 },
      courseId: null,
      arms: [],
    });
  });

  it('takes one in the unit of the figure, and stores it metric whatever is shown', async () => {
    const absolute: Trial = { ...exampleTrial, smallestDifference: { kind: 'absolute', value: 0.5 } };
    localStorage.setItem('ebrix.preferences', JSON.stringify({ units: 'imperial', theme: 'light' }));
    const { api, saved, store } = show(absolute);
    store.dispatch(setUnits('imperial'));
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: /Save/ }));
    await waitFor(() => expect(saved).toHaveLength(1));
    expect(sent(api).smallestDifference.kind).toBe('absolute');
    expect(sent(api).smallestDifference.value).toBeCloseTo(0.5, 9);
    expect(sent(api).version).toBe(exampleTrial.version);
  });

  it('asks for a sentence before anything is sent', async () => {
    const { api } = show();
    await user().click(await screen.findByRole('button', { name: 'Save and choose setups' }));
    expect(await screen.findByText('Write the question as a sentence.')).toBeInTheDocument();
    expect(api.requests.some(({ method }) => method === 'POST')).toBe(false);
  });
});

describe('the runs of a trial', () => {
  it('teach how to ride while there are none', async () => {
    fakeApi({ [`trials/${exampleTrial.id}/runs`]: [] });
    renderInApp(<RunsStep trial={exampleTrial} />);
    expect(await screen.findByText(/Ride each setup at least twice/)).toHaveTextContent('No runs yet on Level round');
    expect(screen.getByRole('link', { name: 'Import rides' })).toHaveAttribute('href', '/import');
  });
});
