import type { Strip } from '@ebrix/contract';
import { cropStrip } from '../../shared/charts/index.js';
import { guessColumns } from './TableLook.js';

describe('a first choice of columns', () => {
  it('takes names from the first, results from the last and outings by their name', () => {
    expect(guessColumns(['kit', 'outing', 'Wh per km'])).toEqual({ setup: 'kit', value: 'Wh per km', block: 'outing' });
    expect(guessColumns(['setup', 'value'])).toEqual({ setup: 'setup', value: 'value' });
    expect(guessColumns([])).toEqual({});
  });
});

describe('a span of an unstored log', () => {
  const strip: Strip = {
    fromS: 0,
    toS: 9,
    totalS: 9,
    channels: [
      {
        name: 'speed',
        label: 'speed',
        unit: 'km/h',
        timesS: [0, 3, 6, 9],
        low: [1, null, 3, 4],
        high: [2, null, 4, 5],
      },
    ],
  };
  it('keeps the bins within and the clock of the whole', () => {
    const cut = cropStrip(strip, { fromS: 2, toS: 7 });
    expect(cut).toMatchObject({ fromS: 2, toS: 7, totalS: 9 });
    expect(cut.channels[0]).toMatchObject({ timesS: [3, 6], low: [null, 3], high: [null, 4] });
  });
});
