import type { CleanLog } from '../../logs/index.js';
import { curveOf, type Chart } from '../findings.js';
import type { Figure } from '../figure.js';
import { electricalPower } from './ride-integrals.js';
import { rideDistance } from './ride-distance.js';

const SCHOOLS = [
  ['rangeToCutoff', 'metered'],
  ['rangeRiddenToEmpty', 'ridden to empty'],
  ['rangeRuleOfThumb', 'rule of thumb'],
  ['rangeByGauge', 'gauge bars'],
] as const;

/** Energy drawn over distance, and what the schools of range say side by side. */
export function rangeCharts(log: CleanLog, figures: readonly Figure[]): Chart[] {
  const charts: Chart[] = [];
  const distance = rideDistance(log);
  const power = log.hasClock ? electricalPower(log.channels)?.powerW : undefined;
  if (distance && power) {
    const { cumulativeM } = distance;
    const drawnWh = new Float64Array(power.length);
    let last = -1;
    for (let k = 0; k < power.length; k++) {
      drawnWh[k] = k > 0 ? drawnWh[k - 1]! : 0;
      if (Number.isNaN(power[k]!)) continue;
      if (last >= 0) drawnWh[k]! += ((power[k]! + power[last]!) / 2) * ((log.timeS[k]! - log.timeS[last]!) / 3600);
      last = k;
    }
    const km = (k: number): number => (cumulativeM[k]! - cumulativeM[0]!) / 1000;
    const [endKm, endWh] = [km(power.length - 1), drawnWh.at(-1)!];
    charts.push({
      key: 'energy',
      title: 'Energy drawn over distance',
      x: { label: 'Distance', unit: 'km' },
      y: { label: 'Energy drawn', unit: 'Wh' },
      series: [
        { label: 'This ride', drawAs: 'line', ...curveOf(km, (k) => drawnWh[k]!, 0, power.length - 1) },
        { label: 'At its mean consumption', drawAs: 'line', x: [0, endKm], y: [0, endWh] },
      ],
      lines: [],
    });
  }
  const schools = SCHOOLS.flatMap(([key, name]) => {
    const figure = figures.find((one) => one.key === key);
    return figure ? [{ name, figure }] : [];
  });
  if (schools.length > 1)
    charts.push({
      key: 'schools',
      title: 'Range by each method',
      x: { label: 'Method', unit: '1', categories: schools.map(({ name }) => name) },
      y: { label: 'Range to cut-off', unit: 'km' },
      series: [
        {
          label: 'Range',
          drawAs: 'points',
          x: schools.map((_, k) => k),
          y: schools.map(({ figure }) => figure.value),
          plusMinus: schools.map(({ figure }) => (figure.interval95[1] - figure.interval95[0]) / 2),
        },
      ],
      lines: [],
    });
  return charts;
}
