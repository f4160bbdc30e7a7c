import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { Load, Account, BackupList, SessionState } from '@ebrix/contract';
import { Shell } from '../../app/Shell.js';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import EnterPage from './EnterPage.js';
import UpkeepPage from './UpkeepPage.js';

const hands = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const OWNER: Account = {
  id: '01900000-0000-7000-8000-00000000000a',
  version: 1,
  name: 'Ottoline Vask',
  role: 'owner',
  isBlocked: false,
  createdAt: '2026-04-01T08:00:00.000Z',
  lastSeenAt: null,
};
const signedIn: SessionState = { state: 'signed-in', account: { id: OWNER.id, name: OWNER.name, role: 'owner' } };
const open = (path: string) =>
  renderInApp(
    <Routes>
      <Route path="/upkeep/:tab" element={<UpkeepPage />} />
      <Route path="/enter" element={<EnterPage />} />
      <Route path="/ride" element={<h1>Rides</h1>} />
    </Routes>,
    path,
  );

describe('people', () => {
  it('adds the first account and signs it in at once', async () => {
    let isClosed = false;
    const api = fakeApi({
      session: ({ method }) => {
        if (method === 'POST') isClosed = true;
        return isClosed ? signedIn : { state: 'no-accounts', account: null };
      },
      'POST accounts': OWNER,
      accounts: [OWNER],
      devices: [],
      'access-keys': [],
    });
    open('/upkeep/people');
    const user = hands();
    await user.type(await screen.findByLabelText('Name'), 'Ottoline Vask');
    await user.type(screen.getByLabelText('Password'), 'short');
    await user.click(screen.getByRole('button', { name: 'Add the first account' }));
    expect(await screen.findByText('At least 10 characters.')).toBeInTheDocument();
    await user.type(screen.getByLabelText('Password'), ' but longer now');
    await user.click(screen.getByRole('button', { name: 'Add the first account' }));
    expect(await screen.findByRole('heading', { name: 'You are Ottoline Vask, owner' })).toBeInTheDocument();
    const posted = api.requests.filter(({ method }) => method === 'POST').map(({ path }) => path);
    expect(posted).toEqual(['accounts', 'session']);
  });

  it('shows a key’s secret once, and says what a refused change was refused for', async () => {
    fakeApi({
      session: signedIn,
      accounts: [OWNER],
      devices: [],
      'GET access-keys': [],
      'POST access-keys': {
        id: OWNER.id,
        label: 'Evening script',
        accountName: OWNER.name,
        role: 'reader',
        createdAt: OWNER.createdAt,
        lastUsedAt: null,
        secret: 'ebrix_0123456789',
      },
      [`PUT accounts/${OWNER.id}`]: () => refusal(409, 'wrong-state', 'This is the last owner.'),
    });
    open('/upkeep/people');
    const user = hands();
    await user.type(await screen.findByLabelText('For'), 'Evening script');
    await user.click(screen.getByRole('button', { name: 'Make a key' }));
    expect(await screen.findByText('ebrix_0123456789')).toBeInTheDocument();
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Role of Ottoline Vask' }));
    await user.click((await screen.findAllByTitle('reader')).at(-1)!);
    expect(await screen.findByText('This is the last owner.')).toBeInTheDocument();
  });

  it('says that no phone reaches an installation that is not shared', async () => {
    fakeApi({
      session: signedIn,
      accounts: [OWNER],
      devices: [],
      'access-keys': [],
      'session/codes': { code: 'once_1', expiresAt: '2026-04-01T08:10:00.000Z', addresses: [] },
    });
    open('/upkeep/people');
    await hands().click(await screen.findByRole('button', { name: 'Let a phone in' }));
    expect(await screen.findByText(/no phone reaches it/)).toBeInTheDocument();
  });
});

describe('coming in by a code', () => {
  it('signs in, forgets the code in the address, and goes to the rides', async () => {
    const api = fakeApi({ 'session/code': signedIn });
    location.hash = '#once_abc';
    open('/enter');
    expect(await screen.findByRole('heading', { name: 'Rides' })).toBeInTheDocument();
    expect(api.requests[0]).toMatchObject({ path: 'session/code', body: { code: 'once_abc' } });
    expect(location.hash).toBe('');
  });
  it('says what to do with a code that was used', async () => {
    fakeApi({ 'session/code': () => refusal(401, 'wrong-password', 'This code was used already.') });
    location.hash = '#once_abc';
    open('/enter');
    expect(await screen.findByText('This code was used already.')).toBeInTheDocument();
  });
});

describe('signing in where an answer was refused for want of it', () => {
  it('stands over the page, and the page asks again afterwards', async () => {
    let isIn = false;
    fakeApi({
      'POST session': () => {
        isIn = true;
        return signedIn;
      },
      session: () => (isIn ? signedIn : { state: 'signed-out', account: null }),
      history: () => (isIn ? [] : refusal(401, 'signed-out', 'Sign in first.')),
      'upkeep/backups': () =>
        isIn ? { folder: '/kept', backups: [], problem: null } : refusal(401, 'signed-out', 'Sign in first.'),
    });
    renderInApp(
      <Routes>
        <Route element={<Shell />}>
          <Route path="/upkeep/:tab" element={<UpkeepPage />} />
        </Route>
      </Routes>,
      '/upkeep/backups',
    );
    const dialog = await screen.findByRole('dialog', { name: 'Sign in' });
    const user = hands();
    await user.type(within(dialog).getByLabelText('Name'), 'Ottoline Vask');
    await user.type(within(dialog).getByLabelText('Password'), 'four words in a row');
    await user.click(within(dialog).getByRole('button', { name: 'Sign in' }));
    expect(await screen.findByText(/There is no backup yet/)).toBeInTheDocument();
    await waitFor(() => expect(screen.queryByRole('dialog', { name: 'Sign in' })).not.toBeInTheDocument());
  });
});

describe('how it runs', () => {
  const load: Load = {
    startedAt: new Date(Date.now() - 3 * 3_600_000).toISOString(),
    pages: { of: 2, busy: 1, waiting: 1 },
    background: { of: 2, busy: 0, waiting: 0 },
    jobs: { waiting: 2, working: 1, failed: 0 },
    disk: { freeBytes: 80 * 1024 ** 3, ofBytes: 250 * 1024 ** 3 },
  };
  const none = { folder: '/kept', backups: [], problem: null };

  it('is said with what waits and what room is left', async () => {
    fakeApi({ 'upkeep/backups': none, 'upkeep/load': load });
    open('/upkeep/backups');
    expect(
      await screen.findByText(
        /^The server has run for 3 hours\. 1 at work, 3 waiting\. 80\.0 GB of 250\.0 GB are free on its disk\.$/,
      ),
    ).toBeInTheDocument();
    expect(screen.queryByRole('alert')).toBeNull();
  });
  it('warns of a short disk, and of a start that nobody made', async () => {
    const now = new Date().toISOString();
    const short = {
      ...load,
      startedAt: now,
      disk: { freeBytes: 5e8, ofBytes: 1e11 },
      jobs: { waiting: 0, working: 0, failed: 2 },
    };
    fakeApi({ 'upkeep/backups': none, 'upkeep/load': { ...short, pages: load.background } });
    open('/upkeep/backups');
    expect(await screen.findByRole('alert')).toHaveTextContent(/Only 476\.8 MB are left/);
    expect(screen.getByText(/if you did not start it.*Nothing waits.*2 failed lately/)).toBeInTheDocument();
  });
});

describe('backups', () => {
  const list: BackupList = {
    folder: '/kept',
    backups: [
      {
        name: 'ebrix-2026-04-02-080000.backup',
        bytes: 6_900_000,
        madeAt: '2026-04-02T08:00:00.000Z',
        reason: 'daily',
        verified: {
          name: 'ebrix-2026-04-02-080000.backup',
          at: '2026-04-02T08:01:00.000Z',
          isGood: false,
          message: 'It is damaged.',
        },
      },
    ],
    problem: 'The disk is full: no backup was made.',
  };
  it('says how old the newest is, that the one that was tried is bad, and why the last is missing', async () => {
    fakeApi({ 'upkeep/backups': list });
    open('/upkeep/backups');
    expect(await screen.findByText(/does not restore/)).toBeInTheDocument();
    expect(screen.getByRole('alert')).toHaveTextContent('The disk is full');
    expect(screen.getByText('It is damaged.')).toBeInTheDocument();
    expect(screen.getByText('6.9 MB')).toBeInTheDocument();
  });
  it('are made by one button', async () => {
    const api = fakeApi({ 'GET upkeep/backups': { ...list, problem: null }, 'POST upkeep/backups': list.backups[0]! });
    open('/upkeep/backups');
    await hands().click(await screen.findByRole('button', { name: 'Back up now' }));
    expect(await screen.findByText('Backed up.')).toBeInTheDocument();
    expect(api.requests.some(({ method }) => method === 'POST')).toBe(true);
  });
});

describe('what was deleted', () => {
  const entry = {
    id: '01900000-0000-7000-8000-0000000000f1',
    at: new Date().toISOString(),
    kind: 'log_entry',
    name: 'note 2026-04-02',
    rows: 1,
  };
  it('comes back by one button, or says why not', async () => {
    let isThere = true;
    let isRefused = true;
    fakeApi({
      session: { state: 'no-accounts', account: null },
      'upkeep/trash': () => (isThere ? [entry] : []),
      [`upkeep/trash/${entry.id}/restore`]: () => {
        if (isRefused) return refusal(409, 'not-there', 'What it belonged to is gone too. Bring that back first.');
        isThere = false;
        return new Response(null, { status: 204 });
      },
    });
    open('/upkeep/deleted');
    const user = hands();
    const button = await screen.findByRole('button', { name: 'Bring back note 2026-04-02' });
    expect(screen.getByText('logbook entry')).toBeInTheDocument();
    await user.click(button);
    expect(await screen.findByText(/Bring that back first/)).toBeInTheDocument();
    isRefused = false;
    await user.click(button);
    expect(await screen.findByText('Nothing was deleted within the last 30 days.')).toBeInTheDocument();
  });
  it('is dropped for good by an owner only', async () => {
    fakeApi({
      session: { ...signedIn, account: { ...signedIn.account!, role: 'tester' } },
      'upkeep/trash': [entry],
    });
    open('/upkeep/deleted');
    expect(await screen.findByRole('button', { name: /Bring back/ })).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /for good/ })).not.toBeInTheDocument();
  });
});
