import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { Course } from '@ebrix/contract';
import { exampleCourse } from '../../testing/examples.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import CoursePage from './CoursePage.js';
import CoursesPage from './CoursesPage.js';

const tracked: Course = {
  ...exampleCourse,
  track: {
    fileName: 'round.gpx',
    lengthM: 9200,
    plan: [
      { eastM: 0, northM: 0 },
      { eastM: 900, northM: 400 },
      { eastM: 100, northM: 800 },
    ],
    profile: null,
    climbedM: null,
  },
};
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const open = (path: string, answers: Parameters<typeof fakeApi>[0]) => {
  const api = fakeApi({ demo: { isEmpty: false, loading: null, problem: null }, ...answers });
  renderInApp(
    <Routes>
      <Route path="/courses" element={<CoursesPage />} />
      <Route path="/courses/:id" element={<CoursePage />} />
    </Routes>,
    path,
  );
  return api;
};
afterEach(() => sessionStorage.clear());

describe('courses', () => {
  it('are listed with kind, surface, length and runs', async () => {
    open('/courses', { courses: [exampleCourse] });
    const item = (await screen.findByRole('link', { name: 'Level round' })).closest('li')!;
    expect(item).toHaveTextContent('Loop, asphalt, 9.2 km');
    expect(item).toHaveTextContent('6 runs');
  });

  it('teach the first step when there are none', async () => {
    open('/courses', { courses: [] });
    expect(await screen.findByText(/A course is a stretch of road you ride again and again/)).toBeInTheDocument();
  });

  it('are added with a length typed in any unit', async () => {
    const api = open('/courses', {
      courses: [],
      'POST courses': exampleCourse,
      [`courses/${exampleCourse.id}`]: exampleCourse,
    });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'New course' }));
    await hands.type(await screen.findByLabelText('Name'), 'Level round');
    await hands.type(screen.getByLabelText('Length'), '9,2 km');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'POST')).toBe(true));
    expect(api.requests.find(({ method }) => method === 'POST')!.body).toEqual({
      name: 'Level round',
      kind: 'loop',
      lengthM: 9200,
      climbM: null,
      climbUncertaintyM: null,
      surface: 'asphalt',
      notes: '',
      cautions: '',
      permission: '',
      windExposure: null,
      isBothWays: false,
      guessedGradeDeg: null,
    });
    expect(await screen.findByRole('heading', { name: 'Level round' })).toBeInTheDocument();
  });

  it('keep what was typed when the name is taken', async () => {
    open('/courses', {
      courses: [exampleCourse],
      'POST courses': () => refusal(409, 'already-there', 'That name is already taken. Choose another.'),
    });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'New course' }));
    await hands.type(await screen.findByLabelText('Name'), 'Level round');
    await hands.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText(/That name is already taken/)).toBeInTheDocument();
    expect(screen.getByLabelText('Name')).toHaveValue('Level round');
  });

  it('without altitude say so instead of a profile', async () => {
    open(`/courses/${tracked.id}`, { [`courses/${tracked.id}`]: tracked });
    expect(await screen.findByText(/There is no altitude, so no profile/)).toBeInTheDocument();
    expect(screen.getByText(/From round.gpx/)).toBeInTheDocument();
  });

  it('without a track ask for one, and tell why a file is refused', async () => {
    open(`/courses/${exampleCourse.id}`, {
      [`courses/${exampleCourse.id}`]: exampleCourse,
      [`POST courses/${exampleCourse.id}/track`]: () => refusal(422, 'no-position', 'The file has no positions.'),
    });
    expect(await screen.findByText(/No map yet/)).toBeInTheDocument();
    await user().upload(screen.getByLabelText('Add a track'), new File(['<gpx/>'], 'a.gpx'));
    expect(await screen.findByText('The file has no positions.')).toBeInTheDocument();
  });

  it('say what the profile says in the direction looked at, beside what was guessed', async () => {
    const climb: Course = {
      ...tracked,
      lengthM: 1000,
      guessedGradeDeg: 7,
      track: {
        ...tracked.track!,
        profile: Array.from({ length: 101 }, (_, k) => ({
          distanceM: k * 10,
          altitudeM: k * 0.5,
          grade: 0.05,
          gradeUncertainty: 0,
        })),
      },
    };
    open(`/courses/${climb.id}`, { [`courses/${climb.id}`]: climb });
    expect(await screen.findByText(/a moderate climb/)).toBeInTheDocument();
    expect(screen.getByText(/5.00 ± 0.08 %/)).toBeInTheDocument();
    expect(screen.getByText(/the profile disagrees/)).toHaveTextContent('12.3 %');
    await user().click(screen.getByRole('button', { name: 'Reversed' }));
    expect(screen.getByText(/-5.00 ± 0.08 %/)).toBeInTheDocument();
  });

  it('move their gates by keys, and ask before runs are cut anew', async () => {
    const gated: Course = { ...exampleCourse, gates: [{ kind: 'start', name: 'Quay', distanceM: 100 }] };
    const api = open(`/courses/${gated.id}`, {
      [`courses/${gated.id}`]: gated,
      [`PUT courses/${gated.id}/gates`]: ({ body }: { body: unknown }) => ({
        ...gated,
        version: 2,
        gates: (body as Course).gates,
      }),
    });
    const hands = user();
    const gate = await screen.findByRole('slider', { name: 'Start Quay' });
    gate.focus();
    await hands.keyboard('{ArrowRight}{Shift>}{ArrowRight}{/Shift}');
    expect(gate).toHaveAttribute('aria-valuenow', '210');
    await hands.click(screen.getByRole('button', { name: 'Add finish' }));
    await hands.click(screen.getByRole('button', { name: 'Save gates' }));
    expect(await screen.findByText('Re-cut 6 runs?')).toBeInTheDocument();
    expect(api.requests.some(({ method }) => method === 'PUT')).toBe(false);
    await hands.click(screen.getByRole('button', { name: 'Re-cut' }));
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'PUT')).toBe(true));
    expect(api.requests.find(({ method }) => method === 'PUT')!.body).toMatchObject({
      recutRuns: true,
      gates: [
        { kind: 'start', distanceM: 210 },
        { kind: 'finish', distanceM: 9200 },
      ],
    });
  });
});
