import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import type { ManualReadingsDto } from '@ebrix/contract';
import { renderInApp } from '../../testing/render.js';
import { readBarsOut, readNumbers } from './readings.js';
import { ReadingsFields } from './ReadingsFields.js';
import { readWheelFactor } from './WheelFactorInput.js';

describe('what is typed for a reading', () => {
  it.each([
    ['0.6 0.8;0.7', [0.6, 0.8, 0.7]],
    ['0,6 0,8', [0.6, 0.8]],
    ['0.6, 0.8', [0.6, 0.8]],
    ['', []],
    ['soon', undefined],
    ['-1', undefined],
  ])('times: %s', (text, read) => expect(readNumbers(text)).toEqual(read));
  it.each([
    [
      '4 at 3.2; 3 at 6,1 km',
      [
        { left: 4, km: 3.2 },
        { left: 3, km: 6.1 },
      ],
    ],
    ['4 3.2', [{ left: 4, km: 3.2 }]],
    ['', []],
    ['four at three', undefined],
  ])('bars: %s', (text, read) => expect(readBarsOut(text)).toEqual(read));
  it.each([
    ['2070/2105', 0.983373],
    ['2070 mm ÷ 2105 mm', 0.983373],
    ['0,983', 0.983],
    ['', null],
    ['2105', undefined],
    ['2070/0', undefined],
    ['1/2/3', undefined],
  ])('a wheel: %s', (text, factor) => expect(readWheelFactor(text)).toEqual(factor));
});

function Fields({ onRead }: { readonly onRead: (value: ManualReadingsDto | null) => void }) {
  const [value, setValue] = useState<ManualReadingsDto | null>(null);
  return (
    <ReadingsFields
      kind="assist-response"
      value={value}
      onChange={(next) => {
        setValue(next);
        onRead(next);
      }}
    />
  );
}

describe('the fields of readings', () => {
  it('ask first what the test lives by, keep what cannot be read, and give nothing for nothing', async () => {
    const read = jest.fn();
    renderInApp(<Fields onRead={read} />);
    const hands = userEvent.setup({ delay: null, pointerEventsCheck: 0 });
    const turns = screen.getByLabelText(/Help after, quarter turns/);
    await hands.type(turns, '2 3 2');
    expect(read).toHaveBeenLastCalledWith({ helpAfterQuarterTurns: [2, 3, 2] });
    await hands.clear(turns);
    expect(read).toHaveBeenLastCalledWith(null);
    const late = screen.getByLabelText(/Ran on, s/);
    await hands.type(late, 'late');
    expect(screen.getByText(/Write it like this/)).toBeInTheDocument();
    expect(late).toHaveValue('late');
  });

  it('take a table of levels line by line', async () => {
    const read = jest.fn();
    renderInApp(<Fields onRead={read} />);
    const hands = userEvent.setup({ delay: null, pointerEventsCheck: 0 });
    await hands.click(screen.getByText('More readings'));
    await hands.click(screen.getByRole('button', { name: 'Add a level' }));
    await hands.type(screen.getByLabelText('Steady speed of line 1'), '18,5');
    await hands.type(screen.getByLabelText('Watts of line 1'), '120');
    expect(read).toHaveBeenLastCalledWith({ levelTable: [{ level: 1, speedKmh: 18.5, powerW: 120 }] });
    await hands.click(screen.getByRole('button', { name: 'Remove line 1' }));
    expect(read).toHaveBeenLastCalledWith(null);
  });
});
