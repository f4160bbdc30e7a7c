import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { MarkSheet } from './MarkSheet.js';
import { NumberField } from './NumberField.js';
import { chooseUnits, inUnits, unitSystem } from './units.js';
import { stopSentence } from './words.js';

const stop = { code: 'motor-hot', severity: 'stop', value: 97, limit: 95, coolToC: 60 } as const;

describe('units on the phone', () => {
  afterEach(() => act(() => chooseUnits('metric')));
  it('are those of Ebrix on this phone until others are chosen here, and odd ones are none', () => {
    for (const [own, ofEbrix, units] of [
      [null, null, 'metric'],
      [null, '{"units":"imperial"}', 'imperial'],
      ['metric', '{"units":"imperial"}', 'metric'],
      ['cubits', '{"units":', 'metric'],
    ] as const) {
      localStorage.clear();
      if (own !== null) localStorage.setItem('along-units', own);
      if (ofEbrix !== null) localStorage.setItem('ebrix.preferences', ofEbrix);
      jest.isolateModules(() => {
        // oxlint-disable-next-line typescript/no-require-imports -- A phone that starts anew.
        expect((require('./units.js') as { unitSystem: () => string }).unitSystem()).toBe(units);
      });
    }
  });
  it('are read, spoken and typed, and what is kept stays in the field’s own', async () => {
    expect(stopSentence(stop)).toMatch(/^Hub at 97 °C: stop, let it cool to 60 °C/);
    chooseUnits('imperial');
    expect(unitSystem()).toBe('imperial');
    expect(stopSentence(stop)).toMatch(/^Hub at 207 °F: stop, let it cool to 140 °F/);
    expect(inUnits(5.1, 'km', 'imperial', 2)).toBe('3.17 mi');
    const kept: (number | null)[] = [];
    function Field() {
      const [value, setValue] = useState<number | null>(3.2);
      return (
        <NumberField
          label="Tyres"
          unit="bar"
          value={value}
          onChange={(next) => {
            kept.push(next);
            setValue(next);
          }}
        />
      );
    }
    render(<Field />);
    const field = screen.getByLabelText('Tyres, psi');
    expect(field).toHaveValue('46.412');
    await userEvent.clear(field);
    await userEvent.type(field, '50');
    // What is typed stays as typed; it is kept in bar.
    expect(field).toHaveValue('50');
    expect(kept.at(-1)).toBeCloseTo(3.447, 3);
    expect(kept).toContain(null);
  });
  it('are those of a reading by hand too', async () => {
    chooseUnits('imperial');
    const done = jest.fn();
    render(<MarkSheet kind="temperature" onDone={done} />);
    await userEvent.type(screen.getByRole('textbox', { name: 'Temperature by hand, °F' }), '203');
    await userEvent.click(screen.getByRole('button', { name: 'Note it' }));
    const [[mark]] = done.mock.calls as [[{ kind: string; value: number; place: string }]];
    expect(mark).toMatchObject({ kind: 'temperature', place: 'motor' });
    expect(mark.value).toBeCloseTo(95, 3);
  });
});
