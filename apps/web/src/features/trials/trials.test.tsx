import { act, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { setUnits } from '../../shared/preferences/index.js';
import {
  exampleCourse,
  exampleId,
  exampleListItem,
  exampleRun,
  exampleSetups,
  exampleTrial,
  exampleVerdict,
} from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import TrialPage from './TrialPage.js';
import TrialsPage from './TrialsPage.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const common = { trials: [exampleListItem], setups: exampleSetups, courses: [exampleCourse] };
const trialPath = `trials/${exampleTrial.id}`;
const openTrial = (step: string, answers: object) => {
  const api = fakeApi({ ...common, [trialPath]: exampleTrial, ...answers });
  const app = renderInApp(
    <Routes>
      <Route path="/trials/:id/:step" element={<TrialPage />} />
    </Routes>,
    `/${trialPath}/${step}`,
  );
  return { api, ...app };
};

describe('the list of trials', () => {
  it('shows each question with what can be concluded', async () => {
    fakeApi(common);
    renderInApp(<TrialsPage />);
    expect(await screen.findByRole('link', { name: exampleTrial.question })).toHaveAttribute(
      'href',
      `/trials/${exampleTrial.id}/verdict`,
    );
    expect(screen.getByText(/uses 13 % less energy per km/)).toBeInTheDocument();
    expect(screen.getByText(/6 runs, 1 left out/)).toBeInTheDocument();
  });

  it('says it per mile for who counts in miles, also as an amount', async () => {
    const { leading } = exampleListItem;
    fakeApi({
      ...common,
      trials: [
        { ...exampleListItem, smallestDifference: { kind: 'absolute', value: 0.5 }, leading },
        { ...exampleListItem, id: exampleTrial.setups[0]!.setupId, leading: null, headline: 'Nothing to compare yet.' },
      ],
    });
    const { store } = renderInApp(<TrialsPage />);
    expect(await screen.findByText(/0.90 Wh\/km less energy per km/)).toBeInTheDocument();
    act(() => void store.dispatch(setUnits('imperial')));
    expect(screen.getByText(/1.45 Wh\/mi less energy per mile/)).toBeInTheDocument();
    expect(screen.getByText('Nothing to compare yet.')).toBeInTheDocument();
    act(() => void store.dispatch(setUnits('metric')));
  });

  it('comes in pieces where it is long, and is searched by its questions', async () => {
    const trial = (n: number) => ({ ...exampleListItem, id: exampleId(1000 + n), question: `Which of two, no. ${n}?` });
    const all = Array.from({ length: 60 }, (_, k) => trial(60 - k));
    fakeApi({
      trials: ({ query }: { query: URLSearchParams }) => {
        const found = all.filter(({ question }) => question.includes(query.get('text') ?? ''));
        const from = 1 + found.findIndex(({ id }) => id === query.get('after'));
        return found.slice(from, from + Number(query.get('limit')));
      },
    });
    renderInApp(<TrialsPage />);
    expect(await screen.findAllByText(/Which of two/)).toHaveLength(50);
    await user().click(screen.getByRole('button', { name: 'Earlier trials' }));
    await waitFor(() => expect(screen.getAllByText(/Which of two/)).toHaveLength(60));
    expect(screen.queryByRole('button', { name: 'Earlier trials' })).not.toBeInTheDocument();
    const search = screen.getByRole('textbox', { name: 'Search the questions' });
    await user().type(search, 'no. 7?');
    await waitFor(() => expect(screen.getAllByText(/Which of two/)).toHaveLength(1));
    await user().type(search, 'x');
    expect(await screen.findByText(/No question holds/)).toBeInTheDocument();
    await user().clear(search);
    await waitFor(() => expect(screen.getAllByText(/Which of two/).length).toBeGreaterThan(49));
  });

  it('teaches the next step where there is none, and offers the demo to an empty installation', async () => {
    const api = fakeApi({ trials: [], demo: { isEmpty: true, loading: null, problem: null }, 'POST demo': {} });
    renderInApp(<TrialsPage />);
    expect(await screen.findByText(/What do you have in hand/)).toBeInTheDocument();
    await user().click(await screen.findByRole('button', { name: 'Load demo data' }));
    expect(api.requests).toContainEqual(expect.objectContaining({ method: 'POST', path: 'demo' }));
  });

  it('says what is wrong when the server does not answer, and tries again', async () => {
    let isBack = false;
    fakeApi({
      trials: () =>
        isBack ? [exampleListItem] : refusal(503, 'database-unreachable', 'The database does not answer just now.'),
    });
    renderInApp(<TrialsPage />);
    expect(await screen.findByRole('alert')).toHaveTextContent('The database does not answer just now.');
    isBack = true;
    await user().click(screen.getByRole('button', { name: 'Try again' }));
    expect(await screen.findByText(exampleTrial.question)).toBeInTheDocument();
  });
});

describe('the verdict', () => {
  it('is a sentence with its method, every run, and the same sentence per mile for who counts in miles', async () => {
    const { store } = openTrial('verdict', { [`${trialPath}/verdict`]: exampleVerdict });
    expect(await screen.findByText(/less energy per km than Dromel D5, and it matters/)).toBeInTheDocument();
    expect(screen.getByText(/does not assume equal spread/)).toBeInTheDocument();
    expect(screen.getAllByRole('link', { name: /Morning \d: / })).toHaveLength(6);
    expect(screen.getByRole('link', { name: /B, Morning 3: .*left out/ })).toHaveAttribute(
      'href',
      expect.stringContaining('/runs/'),
    );
    act(() => void store.dispatch(setUnits('imperial')));
    expect(screen.getByText(/less energy per mile/)).toBeInTheDocument();
    act(() => void store.dispatch(setUnits('metric')));
  });

  it('gives the difference in per cent and in the unit, as a table for those who do not see the strips', async () => {
    openTrial('verdict', { [`${trialPath}/verdict`]: exampleVerdict });
    const table = await screen.findByRole('table', { name: 'Differences with their 95 % intervals' });
    expect(within(table).getByRole('row', { name: /Corvane R2 against Dromel D5/ })).toHaveTextContent(
      /−14.* %.*differs, and it matters/,
    );
    await user().click(screen.getByRole('link', { name: 'Wh/km' }));
    expect(
      within(screen.getByRole('table', { name: 'Differences with their 95 % intervals' })).getByRole('row', {
        name: /Corvane/,
      }),
    ).toHaveTextContent(/−0.90 Wh\/km/);
  });

  it('tells what the runs left out would change, what cannot count, and how far the next ride goes', async () => {
    openTrial('verdict', { [`${trialPath}/verdict`]: exampleVerdict });
    expect(await screen.findByText('Including the left-out runs, it would read:')).toBeInTheDocument();
    expect(screen.getByText(/1 run has no net consumption and cannot count/)).toBeInTheDocument();
    expect(screen.getByText('59 to 68 km')).toBeInTheDocument();
    expect(screen.getByText(/needs two runs with a range/)).toBeInTheDocument();
  });

  it('says what the runs left out would make of it in the units of the person', async () => {
    const pair = { ...exampleVerdict.comparison!.pairs[0]!, verdict: 'better-may-not-matter' as const };
    const { store } = openTrial('verdict', {
      [trialPath]: { ...exampleTrial, smallestDifference: { kind: 'absolute', value: 0.5 } },
      [`${trialPath}/verdict`]: {
        ...exampleVerdict,
        withExcluded: { pairs: [pair], sentences: ['In stored units.'], isSame: false },
      },
    });
    const heading = await screen.findByRole('heading', { name: 'Runs left out' });
    expect(heading.parentElement).toHaveTextContent(/Wh\/km/);
    act(() => void store.dispatch(setUnits('imperial')));
    expect(heading.parentElement).toHaveTextContent(/1.45 Wh\/mi/);
    expect(heading.parentElement).not.toHaveTextContent('In stored units.');
    act(() => void store.dispatch(setUnits('metric')));
  });

  it('is a reason with the next step while there is nothing to compare', async () => {
    const reason =
      'Dromel D5 has one run: each setup needs at least two runs before anything can be said about chance.';
    openTrial('verdict', {
      [`${trialPath}/verdict`]: {
        ...exampleVerdict,
        comparison: null,
        reason,
        headline: reason,
        withExcluded: null,
        ranges: [],
      },
    });
    expect(await screen.findByText(reason)).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Import rides' })).toBeInTheDocument();
  });
});

describe('the setups of a trial', () => {
  it('move up with their letters', async () => {
    const { api } = openTrial('setups', { [`PUT ${trialPath}`]: exampleTrial });
    await user().click(await screen.findByRole('button', { name: 'Move Dromel D5 up' }));
    const sent = api.requests.find(({ method }) => method === 'PUT')!.body as {
      arms: { revisionId: string }[];
      version: number;
    };
    expect(sent.arms.map(({ revisionId }) => revisionId)).toEqual([
      exampleTrial.setups[1]!.revisionId,
      exampleTrial.setups[0]!.revisionId,
    ]);
    expect(sent.version).toBe(1);
  });

  it('tells when someone else changed the trial meanwhile', async () => {
    openTrial('setups', {
      [`PUT ${trialPath}`]: () => refusal(409, 'changed-meanwhile', 'It was changed in another window meanwhile.'),
    });
    await user().click(await screen.findByRole('button', { name: 'Remove Corvane R2 from the trial' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('changed in another window');
  });
});

describe('the runs of a trial', () => {
  it('are sorted by what is asked for, and show why one was left out', async () => {
    const rows = [
      { letter: 'A', apart: null, run: exampleRun(1, 6.2) },
      {
        letter: 'B',
        apart: null,
        run: { ...exampleRun(2, 5.1), exclusion: { reason: 'Flat tyre.', at: '2026-04-07T08:00:00.000Z' } },
      },
      { letter: 'A', apart: null, run: exampleRun(3, 5.8) },
    ];
    openTrial('runs', { [`${trialPath}/runs`]: rows, [`${trialPath}/verdict`]: exampleVerdict });
    expect(await screen.findByText('Flat tyre.')).toBeInTheDocument();
    const values = () =>
      screen.getAllByRole('row').flatMap((row) => {
        const net = within(row).queryAllByRole('cell')[3]?.textContent ?? '';
        return /^\d\.\d/.exec(net)?.[0] ?? [];
      });
    expect(values()).toEqual(['6.2', '5.1', '5.8']);
    await user().click(screen.getByRole('button', { name: /Net, Wh\/km/ }));
    expect(values()).toEqual(['5.1', '5.8', '6.2']);
    await user().click(screen.getByRole('button', { name: /^Setup/ }));
    expect(values()).toEqual(['6.2', '5.8', '5.1']);
  });
});

describe('the question', () => {
  it('keeps what was typed when it cannot be saved, and says where', async () => {
    openTrial('question', {
      [`PUT ${trialPath}`]: () => refusal(503, 'database-unreachable', 'The database does not answer just now.'),
    });
    const question = await screen.findByLabelText('Question');
    const hands = user();
    await hands.clear(question);
    await hands.type(question, 'Why');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText('Write the question as a sentence.')).toBeInTheDocument();
    await hands.type(question, ' is the hub hot?');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('does not answer');
    expect(question).toHaveValue('Why is the hub hot?');
    expect(sessionStorage.getItem(`draft.trial.${exampleTrial.id}`)).toContain('Why is the hub hot?');
    sessionStorage.clear();
  });
});
