import { act, render, screen } from '@testing-library/react';
import { Component, type ReactNode } from 'react';
import { piece } from './piece.js';

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
