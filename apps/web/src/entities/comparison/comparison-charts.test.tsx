import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { Letter } from '@ebrix/contract';
import { exampleVerdict } from '../../testing/examples.js';
import { renderInApp } from '../../testing/render.js';
import { DifferenceStrips } from './DifferenceStrips.js';
import { stripsOf, type PairStrip } from './pair-scale.js';
import { RunPoints, type PointGroup } from './RunPoints.js';

const LETTERS = new Map<string, Letter>([
  ['Corvane R2', 'A'],
  ['Dromel D5', 'B'],
]);
const strip: PairStrip = {
  a: 'Corvane R2',
  b: 'Dromel D5',
  verdict: 'better-and-matters',
  estimate: -14,
  lower: -18,
  upper: -10,
  band: [-5, 5],
};
const show = (strips: readonly PairStrip[]): void =>
  void renderInApp(
    <DifferenceStrips strips={strips} letterOf={LETTERS} unit="%" bandText="less than 5 % does not matter" />,
  );
const numberOf = (element: Element | null | undefined, name: string): number => Number(element!.getAttribute(name));

describe('differences with their intervals', () => {
  it('are in words and in a table for who does not see them', () => {
    show([strip]);
    expect(
      screen.getByRole('img', { name: /Corvane R2 against Dromel D5: -14 %, from -18 to -10/ }),
    ).toBeInTheDocument();
    const row = within(screen.getByRole('table', { hidden: true })).getByRole('row', { hidden: true, name: /Corvane/ });
    expect(
      within(row)
        .getAllByRole('cell', { hidden: true })
        .map(({ textContent }) => textContent),
    ).toEqual(['Corvane R2 against Dromel D5', '−14.0 %', '−18.0 %', '−10.0 %', expect.any(String)]);
  });
  it('lie on one scale: a strip twice as wide is drawn twice as wide, over the band that does not matter', () => {
    show([strip, { ...strip, a: 'Quillon M3', lower: -22, upper: -6 }]);
    const rects = [...screen.getByRole('img').querySelectorAll('rect')];
    const bands = rects.filter((rect) => rect.getAttribute('fill') === 'var(--band)');
    const intervals = rects.filter((rect) => rect.getAttribute('height') === '8');
    expect(bands).toHaveLength(2);
    expect(numberOf(intervals[1], 'width') / numberOf(intervals[0], 'width')).toBeCloseTo(2, 6);
    // Ten per cent of band against eight of interval.
    expect(numberOf(bands[0], 'width') / numberOf(intervals[0], 'width')).toBeCloseTo(10 / 8, 6);
    // Both are wholly to the left of the band: the difference matters.
    expect(numberOf(intervals[0], 'x') + numberOf(intervals[0], 'width')).toBeLessThan(numberOf(bands[0], 'x'));
  });
  it('name setups that have no letter, and mark where both are equal', () => {
    show([{ ...strip, a: 'A third', b: 'A fourth' }]);
    expect(within(screen.getByRole('img')).getByText('A third against A fourth')).toBeInTheDocument();
    expect(screen.getByText('equal')).toBeInTheDocument();
    expect(screen.getByText('less than 5 % does not matter')).toBeInTheDocument();
  });
  it('keep one and the same number of decimals in a chart, as its narrowest interval deserves', () => {
    show([strip, { ...strip, a: 'Quillon M3', estimate: -1.234, lower: -1.3, upper: -1.2 }]);
    const cells = within(screen.getByRole('table', { hidden: true })).getAllByRole('cell', { hidden: true });
    const decimals = new Set(
      cells.flatMap(({ textContent }) =>
        /^[−+]?[\d.]+ %$/.test(textContent) ? [textContent.split('.')[1]!.length] : [],
      ),
    );
    expect(decimals.size).toBe(1);
  });
  it('come from the verdict in per cent or in the figure’s own unit', () => {
    const comparison = exampleVerdict.comparison!;
    const [percent] = stripsOf(comparison, 'percent', 'Wh/km', 'metric');
    expect(percent!.estimate).toBeCloseTo(-14, 6);
    const [metric] = stripsOf(comparison, 'unit', 'Wh/km', 'metric');
    const [imperial] = stripsOf(comparison, 'unit', 'Wh/km', 'imperial');
    expect(imperial!.estimate / metric!.estimate).toBeCloseTo(1.609344, 6);
  });
});

describe('the runs behind a verdict', () => {
  const groups: readonly PointGroup[] = [
    {
      name: 'Corvane R2',
      letter: 'A',
      note: 'mean 5.5',
      mean: 5.5,
      interval: [5.3, 5.7],
      points: [
        { value: 5.4, text: 'Morning 1: 5.4 Wh/km', isExcluded: false, to: '/runs/1' },
        { value: 5.6, text: 'Morning 2: 5.6 Wh/km', isExcluded: true, to: '/runs/2' },
      ],
    },
    { name: 'Dromel D5', letter: undefined, note: 'one run', points: [{ value: 6.4, text: '6.4', isExcluded: false }] },
  ];
  const open = (): void =>
    void renderInApp(
      <Routes>
        <Route path="/" element={<RunPoints groups={groups} axis="Net consumption, Wh/km" />} />
        <Route path="/runs/:id" element={<p>the run</p>} />
      </Routes>,
    );

  it('are links to their pages, each with its value', async () => {
    open();
    expect(screen.getByRole('group', { name: 'Every run: Net consumption, Wh/km' })).toBeInTheDocument();
    expect(screen.getAllByRole('link').map((link) => link.getAttribute('aria-label'))).toEqual([
      'Morning 1: 5.4 Wh/km',
      'Morning 2: 5.6 Wh/km',
    ]);
    await userEvent.setup({ delay: null, pointerEventsCheck: 0 }).click(screen.getAllByRole('link')[0]!);
    expect(await screen.findByText('the run')).toBeInTheDocument();
  });
  it('stand where their values are, further right for more', () => {
    open();
    const xs = screen.getAllByRole('link').map((link) => numberOf(link.querySelector('circle'), 'cx'));
    expect(xs[1]!).toBeGreaterThan(xs[0]!);
  });
  it('are nothing to draw where no run has the figure', () => {
    renderInApp(<RunPoints groups={[{ ...groups[1]!, points: [] }]} axis="Net consumption" />);
    expect(screen.getByText('No run has this figure yet.')).toBeInTheDocument();
  });
});
