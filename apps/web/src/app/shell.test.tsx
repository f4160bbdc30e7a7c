import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { fakeApi } from '../testing/fake-api.js';
import { renderInApp } from '../testing/render.js';
import { Shell } from './Shell.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const open = (path = '/trials') => {
  fakeApi({});
  return renderInApp(
    <Routes>
      <Route element={<Shell />}>
        <Route path="/trials" element={<main>the trials</main>} />
        <Route path="/bench" element={<main>the bench</main>} />
        <Route path="/runs" element={<main>the runs</main>} />
        <Route path="/import" element={<main>bring in</main>} />
      </Route>
    </Routes>,
    path,
  );
};
beforeEach(() => localStorage.clear());

describe('the rail', () => {
  it('leads through the work in its order and marks where one is', async () => {
    open('/bench');
    const places = await screen.findByRole('navigation', { name: 'Places' });
    expect([...places.querySelectorAll('a')].map(({ textContent }) => textContent)).toEqual([
      'Bench',
      'Courses',
      'Trials',
      'Ride',
      'Runs',
      'Forecast',
      'Decide',
      'Logbook',
      'Quick look',
      'Upkeep',
    ]);
    expect(screen.getByRole('link', { name: 'Bench' })).toHaveClass('here');
    expect(screen.getByRole('link', { name: 'Trials' })).not.toHaveClass('here');
  });
  it('counts bringing in rides to the runs', async () => {
    open('/import');
    expect(await screen.findByRole('link', { name: 'Runs' })).toHaveClass('here');
  });
  it('changes units and theme at once, and says to what', async () => {
    const { store } = open();
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Units: metric. Change to imperial' }));
    expect(store.getState().preferences.units).toBe('imperial');
    await hands.click(screen.getByRole('button', { name: 'Theme: light. Change to dark' }));
    await waitFor(() => expect(document.documentElement.dataset['theme']).toBe('dark'));
    expect(screen.getByRole('button', { name: 'Units: imperial. Change to metric' })).toBeInTheDocument();
  });
  it('goes to a place by two keys', async () => {
    open();
    await screen.findByText('the trials');
    await user().keyboard('gb');
    expect(await screen.findByText('the bench')).toBeInTheDocument();
  });
});
