import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { act, useState } from 'react';
import { setUnits } from '../preferences/index.js';
import { renderInApp } from '../../testing/render.js';
import { QuantityInput, readableNumber } from './QuantityInput.js';

function Held({ onValue }: { readonly onValue: (value: number | null) => void }) {
  const [value, setValue] = useState<number | null>(25);
  return (
    <QuantityInput
      unit="km/h"
      aria-label="Limit"
      value={value}
      onChange={(next) => {
        setValue(next);
        onValue(next);
      }}
    />
  );
}

describe('a field for a quantity', () => {
  it('takes a decimal comma, a typed unit and nothing, and tells what it cannot read', async () => {
    const user = userEvent.setup({ delay: null, pointerEventsCheck: 0 });
    const values: (number | null)[] = [];
    renderInApp(<Held onValue={(value) => values.push(value)} />);
    const box = screen.getByRole('textbox', { name: 'Limit' });
    const type = async (text: string): Promise<number | null | undefined> => {
      await user.clear(box);
      if (text) await user.type(box, text);
      return values.at(-1);
    };
    expect(await type('27,5')).toBe(27.5);
    expect(await type('20 mph')).toBeCloseTo(32.187, 3);
    await user.tab();
    expect(box).toHaveValue('32.1869');
    expect(await type('fast')).toBeNaN();
    expect(await type('')).toBeNull();
    await expect(readableNumber.validator({}, NaN)).rejects.toThrow(/23.5/);
  });

  it('shows the same quantity in the other units', () => {
    const { store } = renderInApp(<QuantityInput unit="km/h" aria-label="Limit" value={25} />);
    act(() => void store.dispatch(setUnits('imperial')));
    expect(screen.getByRole('textbox', { name: 'Limit' })).toHaveValue('15.5343');
    act(() => void store.dispatch(setUnits('metric')));
    expect(screen.getByRole('textbox', { name: 'Limit' })).toHaveValue('25');
  });
});
