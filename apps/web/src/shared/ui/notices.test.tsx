import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import NoticeHost from './NoticeHost.js';
import { postNotice } from './notice-queue.js';
import { Notices } from './Notices.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });

describe('notices', () => {
  it('wait for what shows them, also where it comes after they were posted', async () => {
    postNotice({ kind: 'success', title: 'Kept before the page was there.' });
    let asked = 0;
    render(<Notices bring={() => Promise.resolve((asked++, NoticeHost))} />);
    expect(await screen.findByText('Kept before the page was there.')).toBeInTheDocument();
    act(() => postNotice({ kind: 'error', title: 'It is used by runs.' }));
    expect(await screen.findByText('It is used by runs.')).toBeInTheDocument();
    expect(asked).toBe(1);
  });

  it('are said plainly, with their way back, where nothing comes any more', async () => {
    let undone = 0;
    render(<Notices bring={() => Promise.reject(new Error('No connection.'))} />);
    act(() => postNotice({ kind: 'error', title: 'Ebrix does not answer.' }));
    expect(await screen.findByText('Ebrix does not answer.')).toBeInTheDocument();
    act(() => postNotice({ kind: 'info', key: 'one', title: 'Photo removed.', undo: () => undone++ }));
    await user().click(screen.getByRole('button', { name: 'Undo' }));
    expect(undone).toBe(1);
    expect(screen.queryByText('Photo removed.')).toBeNull();
    await user().click(screen.getByRole('button', { name: 'Close' }));
    expect(screen.queryByText(/does not answer/)).toBeNull();
  });
});
