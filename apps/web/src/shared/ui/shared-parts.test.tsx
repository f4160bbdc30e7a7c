import { act, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { amount, say } from '@ebrix/core/units';
import { setUnits } from '../preferences/index.js';
import { renderInApp } from '../../testing/render.js';
import { FilePicker } from './FilePicker.js';
import { Said, SentenceText, sentenceText } from './SentenceText.js';
import { useNotices } from './use-notices.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const NBSP = '\u00a0';

describe('a sentence of the core', () => {
  const ends = say`Assist ends at ${amount(27.35, 'km/h', 5)}, above the ${amount(25, 'km/h', 5)} set.`;
  it('is said in the units of the person, with the number and its unit kept together', () => {
    expect(sentenceText(ends, 'metric')).toBe(`Assist ends at 27.35${NBSP}km/h, above the 25${NBSP}km/h set.`);
    expect(sentenceText(ends, 'imperial')).toBe(`Assist ends at 16.995${NBSP}mph, above the 15.534${NBSP}mph set.`);
  });
  it('turns temperatures with their zero, and leaves what has no other unit', () => {
    expect(sentenceText(say`${amount(100, '°C')} at ${amount(12.5, 'A')}`, 'imperial')).toBe(
      `212${NBSP}°F at 12.5${NBSP}A`,
    );
  });
  it('converts a bare number too, so that the sum still adds up', () => {
    const sum = say`(${{ ...amount(24, 'km/h', 5), isBare: true }} + ${{ ...amount(26, 'km/h', 5), isBare: true }}) ÷ 2 = ${amount(25, 'km/h', 5)}`;
    const numbers = sentenceText(sum, 'imperial')
      .match(/[\d.]+/g)!
      .map(Number);
    expect((numbers[0]! + numbers[1]!) / 2).toBeCloseTo(numbers[3]!, 3);
    expect(sentenceText(sum, 'metric')).toBe(`(24 + 26) ÷ 2 = 25${NBSP}km/h`);
  });
  it('changes at once when the person changes units', () => {
    const { store } = renderInApp(<SentenceText of={ends} />);
    expect(screen.getByText(/27\.35.km\/h/)).toBeInTheDocument();
    act(() => void store.dispatch(setUnits('imperial')));
    expect(screen.getByText(/16\.995.mph/)).toBeInTheDocument();
    act(() => void store.dispatch(setUnits('metric')));
  });
  it('of an older run, stored as text alone, is shown as it stands', () => {
    renderInApp(<Said text="Assist ends at 27.35 km/h." />);
    expect(screen.getByText('Assist ends at 27.35 km/h.')).toBeInTheDocument();
  });
});

describe('a file picker', () => {
  it('gives the file that was chosen, and the same one again after it was mended', async () => {
    const files: string[] = [];
    render(
      <FilePicker
        label="Import CSV"
        name="Parts CSV"
        accept=".csv"
        isLoading={false}
        onFile={(file) => files.push(file.name)}
      />,
    );
    const input = screen.getByLabelText('Parts CSV');
    const file = new File(['a,b'], 'parts.csv', { type: 'text/csv' });
    await user().upload(input, file);
    await user().upload(input, file);
    expect(files).toEqual(['parts.csv', 'parts.csv']);
    expect(screen.getByRole('button', { name: 'Import CSV' })).toBeEnabled();
  });
});

describe('short notices', () => {
  function Tester({ onUndo }: { readonly onUndo: () => void }) {
    const notices = useNotices();
    return (
      <>
        <button type="button" onClick={() => notices.undoable('one', 'Photo removed.', onUndo)}>
          Remove
        </button>
        <button type="button" onClick={() => notices.success('3 added.')}>
          Add
        </button>
        <button
          type="button"
          onClick={() => {
            const error = { status: 409, data: { error: { code: 'in-use', message: 'It is used by runs.' } } };
            if (!notices.failure({})) notices.failure({ error });
          }}
        >
          Fail
        </button>
      </>
    );
  }
  it('say what was done and offer the way back once', async () => {
    let undone = 0;
    renderInApp(<Tester onUndo={() => undone++} />);
    await user().click(screen.getByRole('button', { name: 'Remove' }));
    expect(await screen.findByText('Photo removed.')).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Undo' }));
    expect(undone).toBe(1);
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Undo' })).not.toBeInTheDocument());
  });
  it('say why a request failed in the server’s words, and nothing of one that went well', async () => {
    renderInApp(<Tester onUndo={() => undefined} />);
    await user().click(screen.getByRole('button', { name: 'Fail' }));
    expect(await screen.findByText('It is used by runs.')).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Add' }));
    expect(await screen.findByText('3 added.')).toBeInTheDocument();
  });
});
