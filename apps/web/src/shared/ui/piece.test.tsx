import { act, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Component, type ReactNode } from 'react';
import { LateFold } from './LateFold.js';
import { serveNotices, type Notice } from './notice-queue.js';
import { piece, useOpened } from './piece.js';

const Word = ({ word }: { readonly word: string }) => <p>{word}</p>;

describe('a piece of a place', () => {
  it('that was brought is drawn at once', async () => {
    const load = jest.fn(() => Promise.resolve(Word));
    const { bring, Part } = piece(load);
    await bring();
    render(<Part word="here" />);
    expect(screen.getByText('here')).toBeInTheDocument();
    await bring();
    expect(load).toHaveBeenCalledTimes(1);
  });
  it('brings itself, while what stands around it is there', async () => {
    let arrive: (part: typeof Word) => void = () => undefined;
    const { Part } = piece(() => new Promise<typeof Word>((resolve) => (arrive = resolve)));
    render(
      <>
        <h1>Around</h1>
        <Part word="late" />
      </>,
    );
    expect(screen.getByRole('heading', { name: 'Around' })).toBeInTheDocument();
    expect(screen.getByRole('status', { name: 'Loading' })).toBeInTheDocument();
    await act(() => Promise.resolve(arrive(Word)));
    expect(await screen.findByText('late')).toBeInTheDocument();
  });
  it('keeps what is in it when it is drawn again', async () => {
    const Typed = () => <input aria-label="Typed" />;
    const { bring, Part } = piece(() => Promise.resolve(Typed));
    const { rerender } = render(<Part />);
    const box = await screen.findByLabelText('Typed');
    await bring();
    rerender(<Part />);
    expect(screen.getByLabelText('Typed')).toBe(box);
  });
  it('that did not come says so where it stands, and is there when it was brought after all', async () => {
    jest.spyOn(console, 'error').mockImplementation();
    const load = jest.fn<Promise<typeof Word>, []>().mockRejectedValueOnce(new Error('no connection'));
    load.mockResolvedValue(Word);
    const { bring, Part } = piece(load);
    class Boundary extends Component<{ readonly children: ReactNode }> {
      override state = { says: '' };
      static getDerivedStateFromError = (error: Error) => ({ says: error.message });
      override render() {
        return this.state.says || this.props.children;
      }
    }
    render(
      <Boundary>
        <Part word="lost" />
      </Boundary>,
    );
    expect(await screen.findByText('no connection')).toBeInTheDocument();
    await bring();
    render(<Part word="found" />);
    expect(screen.getByText('found')).toBeInTheDocument();
    expect(load).toHaveBeenCalledTimes(2);
    jest.restoreAllMocks();
  });
});

describe('a form of a piece of its own', () => {
  const Door = ({ form }: { readonly form: ReturnType<typeof piece<{ readonly word: string }>> }) => {
    const { value, open, close } = useOpened<string>(form);
    return (
      <>
        <button onClick={() => void open('asked for')}>Open</button>
        <button onClick={close}>Close</button>
        {value !== undefined && <form.Part word={value} />}
      </>
    );
  };
  it('opens when it has come, with what it was opened with, and without a moment of waiting in its place', async () => {
    let arrive: (part: typeof Word) => void = () => undefined;
    render(<Door form={piece(() => new Promise<typeof Word>((resolve) => (arrive = resolve)))} />);
    await userEvent.click(screen.getByText('Open'));
    expect(screen.queryByRole('status')).not.toBeInTheDocument();
    await act(() => Promise.resolve(arrive(Word)));
    expect(screen.getByText('asked for')).toBeInTheDocument();
    await userEvent.click(screen.getByText('Close'));
    expect(screen.queryByText('asked for')).not.toBeInTheDocument();
  });
  it('that does not come is told, the place stays, and it opens when it is asked for again', async () => {
    const notices: Notice[] = [];
    const stop = serveNotices((notice) => notices.push(notice));
    const load = jest.fn<Promise<typeof Word>, []>().mockRejectedValueOnce(new Error('gone'));
    load.mockResolvedValue(Word);
    render(<Door form={piece(load)} />);
    await userEvent.click(screen.getByText('Open'));
    await waitFor(() => expect(notices.map(({ kind }) => kind)).toEqual(['error']));
    expect(notices[0]!.title).toMatch(/could not be opened/);
    await userEvent.click(screen.getByText('Open'));
    expect(await screen.findByText('asked for')).toBeInTheDocument();
    stop();
  });
});

describe('a fold with a piece of its own', () => {
  it('is drawn when it is first opened, and keeps what is typed in it', async () => {
    render(
      <LateFold summary="More" className="" bring={() => Promise.resolve()}>
        <input aria-label="Typed" />
      </LateFold>,
    );
    expect(screen.queryByLabelText('Typed')).not.toBeInTheDocument();
    await userEvent.click(screen.getByText('More'));
    const box = await screen.findByLabelText('Typed');
    await userEvent.type(box, 'kept');
    await userEvent.click(screen.getByText('More'));
    await userEvent.click(screen.getByText('More'));
    expect(screen.getByLabelText('Typed')).toHaveValue('kept');
  });
});
