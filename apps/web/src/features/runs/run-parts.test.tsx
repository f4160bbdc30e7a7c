import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { FigureDto } from '@ebrix/contract';
import { setUnits } from '../../shared/preferences/index.js';
import { exampleCleaning } from '../../testing/examples.js';
import { renderInApp } from '../../testing/render.js';
import { act } from 'react';
import { CleaningReport, cleaningSentences, Derivation, FigureStrip } from '../../entities/run/index.js';

const figure: FigureDto = {
  key: 'netConsumption',
  label: 'Net consumption',
  value: 9.6234,
  unit: 'Wh/km',
  standardUncertainty: 0.18,
  interval95: [9.27, 9.98],
  n: 1600,
  warnings: [],
  derivation: {
    formula: '(energy out − energy regenerated) ÷ distance',
    substituted: '(88.5 − 0) Wh ÷ 9.2 km = 9.62 Wh/km',
    inputs: ['voltage', 'current'],
    fromS: 0,
    toS: 1600,
    contributions: [
      { source: 'current gain', standardUncertainty: 0.16, isSystematic: true, share: 0.79 },
      { source: 'estimate across gaps', standardUncertainty: 0.08, share: 0.21 },
    ],
  },
};

describe('the parts of a run', () => {
  it('show a figure with its uncertainty, in the units of the person at once', () => {
    const { store } = renderInApp(<FigureStrip figures={[figure]} open={null} onOpen={() => undefined} />);
    expect(screen.getByRole('button', { name: /Net consumption: 9.62 ± 0.18 Wh\/km/ })).toBeInTheDocument();
    act(() => void store.dispatch(setUnits('imperial')));
    expect(screen.getByRole('button', { name: /15.49 ± 0.29 Wh\/mi/ })).toBeInTheDocument();
    act(() => void store.dispatch(setUnits('metric')));
  });

  it('derive a figure in miles for who counts in miles: sum, interval and contributions', () => {
    const said = [
      '88.5 Wh ÷ ',
      { value: 9.2, unit: 'km' as const, digits: 5 },
      ' = ',
      { value: 9.6234, unit: 'Wh/km' as const, digits: 5 },
    ];
    const { store } = renderInApp(
      <Derivation
        figure={{ ...figure, derivation: { ...figure.derivation, said } }}
        method={{ name: 'range', version: '1.0' }}
        onClose={() => undefined}
      />,
    );
    act(() => void store.dispatch(setUnits('imperial')));
    expect(screen.getByText(/88.5 Wh ÷ 5.7166.mi = 15.487.Wh\/mi/)).toBeInTheDocument();
    expect(screen.getByText(/14.92 … 16.06 Wh\/mi 95 times in 100/)).toBeInTheDocument();
    expect(screen.getByRole('columnheader', { name: '± Wh/mi' })).toBeInTheDocument();
    expect(screen.getByRole('row', { name: /current gain 0.26/ })).toBeInTheDocument();
    act(() => void store.dispatch(setUnits('metric')));
  });

  it('open and close the derivation of a figure', async () => {
    const user = userEvent.setup({ delay: null, pointerEventsCheck: 0 });
    const opened: (string | null)[] = [];
    renderInApp(<FigureStrip figures={[figure]} open={null} onOpen={(key) => opened.push(key)} />);
    await user.click(screen.getByRole('button', { name: /Net consumption/ }));
    expect(opened).toEqual(['netConsumption']);
  });

  it('say what makes a figure uncertain, by how much, and what more runs would do about it', async () => {
    const user = userEvent.setup({ delay: null, pointerEventsCheck: 0 });
    const shownSpans: object[] = [];
    renderInApp(
      <Derivation
        figure={figure}
        method={{ name: 'range', version: '1.0' }}
        onClose={() => undefined}
        onShowSpan={(logSpan) => shownSpans.push(logSpan)}
      />,
    );
    const row = screen.getByRole('row', { name: /current gain/ });
    expect(row).toHaveTextContent('0.1679 %stays: same instrument');
    expect(screen.getByRole('row', { name: /estimate across gaps/ })).toHaveTextContent('shrinks');
    await user.click(screen.getByRole('button', { name: 'Show this part of the log' }));
    expect(shownSpans).toEqual([{ fromS: 0, toS: 1600 }]);
  });

  it('say that nothing had to be changed, or exactly what was', () => {
    renderInApp(<CleaningReport report={exampleCleaning} />);
    expect(screen.getByText('Nothing needed changing.')).toBeInTheDocument();
    const sentences = cleaningSentences({
      ...exampleCleaning,
      droppedTimes: 1,
      gaps: [{ startS: 60, endS: 85 }],
      spikes: [{ channel: 'speed', count: 6, timesS: [], values: [] }],
      unreadable: [{ channel: 'voltage', count: 2, firstLine: 14 }],
    });
    expect(sentences).toEqual([
      '6 spikes of speed removed',
      'gap of 25 s at 1:00, not bridged',
      '1 sample dropped: time missing, going back or repeated',
      '2 cells of pack voltage no number, first in line 14',
    ]);
  });

  it('warn of a wheel circumference that is set wrong and offer the right one', () => {
    renderInApp(
      <CleaningReport
        report={{ ...exampleCleaning, speedComparison: { ratio: 1.05, lower: 1.04, upper: 1.06, isSuspect: true } }}
      />,
    );
    expect(screen.getByText(/Divide it by 1.05/)).toBeInTheDocument();
  });
});
