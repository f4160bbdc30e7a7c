import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { ConflictChoice, storedMeanwhile } from './ConflictChoice.js';

const refusal = (code: string, details?: unknown) => ({
  status: 409,
  data: { error: { code, message: 'Changed.', details } },
});

describe('the choice between two windows', () => {
  it('shows both versions, and asks', async () => {
    const chosen: string[] = [];
    render(
      <ConflictChoice
        what="“Bike” was saved."
        differences={[{ label: 'Mass', theirs: '25 kg', mine: '26 kg' }]}
        keepLabel="Save mine"
        takeLabel="Take theirs"
        onKeepMine={() => chosen.push('mine')}
        onTakeTheirs={() => chosen.push('theirs')}
      />,
    );
    expect(screen.getByRole('row', { name: 'Mass 25 kg 26 kg' })).toBeInTheDocument();
    const hands = userEvent.setup({ delay: null });
    await hands.click(screen.getByRole('button', { name: 'Take theirs' }));
    await hands.click(screen.getByRole('button', { name: 'Save mine' }));
    expect(chosen).toEqual(['theirs', 'mine']);
  });
  it('says when there is nothing to lose', () => {
    render(
      <ConflictChoice
        what=""
        differences={[]}
        keepLabel="a"
        takeLabel="b"
        onKeepMine={() => undefined}
        onTakeTheirs={() => undefined}
      />,
    );
    expect(screen.getByText(/Both are the same/)).toBeInTheDocument();
  });
  it('comes only of this one refusal', () => {
    expect(storedMeanwhile(refusal('changed-meanwhile', { current: { version: 2 } }))).toEqual({ version: 2 });
    expect(storedMeanwhile(refusal('in-use', { current: { version: 2 } }))).toBeUndefined();
    expect(storedMeanwhile(refusal('changed-meanwhile'))).toBeUndefined();
    expect(storedMeanwhile({ status: 'FETCH_ERROR' })).toBeUndefined();
    expect(storedMeanwhile(undefined)).toBeUndefined();
  });
});
