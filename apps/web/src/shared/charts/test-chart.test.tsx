import { act, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ChartDto } from '@ebrix/contract';
import { renderInApp } from '../../testing/render.js';
import { setUnits } from '../preferences/index.js';
import TestChart from './TestChart.js';

const line = (label: string, y: number[]) => ({ label, drawAs: 'line' as const, x: y.map((_, k) => k), y });
const chart: ChartDto = {
  key: 'passes',
  title: 'Speed of the passes',
  x: { label: 'Time', unit: 's' },
  y: { label: 'Speed', unit: 'km/h' },
  series: [line('Pass 1', [10, 20, 25]), line('Pass 2', [12, 22, 27])],
  lines: [
    { axis: 'y', at: 26, label: 'Both directions' },
    { axis: 'y', at: 25, label: 'Assist ends' },
  ],
};
const heating: ChartDto = {
  key: 'temperature',
  title: 'Motor temperature',
  x: { label: 'Time', unit: 'min' },
  y: { label: 'Temperature', unit: '°C' },
  series: [
    { label: 'Readings', drawAs: 'points', x: [0, 1], y: [20, 30], plusMinus: [1, 2] },
    { ...line('Fitted curve', [20, 29]), isFit: true },
  ],
  lines: [],
};

describe('a picture of a test', () => {
  it('says what it shows, and has its numbers in a table behind', async () => {
    renderInApp(<TestChart chart={chart} />);
    expect(screen.getByRole('img', { name: /Speed of the passes: Speed, km\/h over Time, s/ })).toBeInTheDocument();
    await userEvent.click(screen.getByText('Chart data'));
    const rows = within(screen.getByRole('table')).getAllByRole('row').slice(1);
    expect(rows.map((row) => row.textContent)).toEqual([
      'Pass 1010',
      'Pass 1120',
      'Pass 1225',
      'Pass 2012',
      'Pass 2122',
      'Pass 2227',
    ]);
  });
  it('names its curves, and its lines with their values where there is no room beside the plot', () => {
    renderInApp(<TestChart chart={chart} />);
    const names = screen.getAllByRole('listitem').map((item) => item.textContent);
    expect(names).toEqual(['Pass 1', 'Pass 2', 'Both directions, 26 km/h', 'Assist ends, 25 km/h']);
  });
  it('is in the units of the person, a spread without the zero of its scale', async () => {
    const { store } = renderInApp(<TestChart chart={heating} />);
    act(() => void store.dispatch(setUnits('imperial')));
    await userEvent.click(screen.getByText('Chart data'));
    const [first] = within(screen.getByRole('table')).getAllByRole('row').slice(1);
    expect(first).toHaveTextContent('Readings068 ± 1.8');
    expect(screen.getByRole('img', { name: /Temperature, °F/ })).toBeInTheDocument();
  });
  it('does not name a fitted curve beside what it is fitted to', () => {
    renderInApp(<TestChart chart={heating} />);
    expect(screen.queryAllByRole('listitem')).toEqual([]);
  });
  it('draws no two of many curves alike', () => {
    const many = {
      ...chart,
      lines: [],
      series: Array.from({ length: 12 }, (_, k) => line(`Start ${k + 1}`, [k, k])),
    };
    renderInApp(<TestChart chart={many} />);
    const looks = screen.getAllByRole('listitem').map((item) => {
      const stroke = item.querySelector('line')!;
      return `${stroke.getAttribute('stroke')} ${stroke.getAttribute('stroke-dasharray')}`;
    });
    expect(new Set(looks).size).toBe(12);
  });
  it('shows what a file called a curve as text', () => {
    const odd = { ...chart, series: [line('<img src=x>', [1, 2]), line('b', [1, 2])] };
    renderInApp(<TestChart chart={odd} />);
    expect(screen.getAllByText('<img src=x>').length).toBeGreaterThan(0);
    expect(document.querySelector('img[src]')).toBeNull();
  });
});
