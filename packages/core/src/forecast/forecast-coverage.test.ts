import { appendFileSync } from 'node:fs';
import { ridesOf } from '../testing/coverage.js';
import type { TrueBike } from '../testing/forecast-bike.js';
import { rangeCase, trueCase, type Style } from '../testing/forecast-rides.js';
import { calibrate, forecast, trustOf } from './index.js';

/** Rides of bikes that are none of the model's: six ridden, the seventh foretold. A whole table is counted by `npm run bench`. */
const CASES: readonly [Style, TrueBike['law']][] = [
  ['throttle', 'current'],
  ['throttle', 'force'],
  ['throttle', 'voltage'],
  ['pedelec', 'force'],
];
const KEYS = ['time', 'energyOut', 'netConsumption', 'chargeLeftShare', 'motorTemperaturePeak'] as const;
const RIDES = ridesOf(3);

it('forecasts of rides that nobody rode hold the truth', () => {
  const seen: { style: string; law: string; key: string; isHeld: boolean; half: number }[] = [];
  for (const [style, law] of CASES)
    for (let seed = 1; seed <= RIDES; seed++) {
      const { calibration, trust, scenario, truth } = trueCase(9000 + seed, law, style);
      if (!truth.arrived) continue;
      const { figures } = forecast(calibration, scenario, { trust, samples: 200 });
      for (const key of KEYS) {
        const figure = figures.find((one) => one.key === key);
        if (!figure) continue;
        const [low, high] = figure.interval95;
        const half = (high - low) / 2;
        seen.push({
          style,
          law,
          key,
          isHeld: low <= truth.figures[key] && truth.figures[key] <= high,
          half: key === 'motorTemperaturePeak' || key === 'chargeLeftShare' ? half : half / figure.value,
        });
      }
    }
  const table = process.env['EBRIX_COVERAGE'];
  if (table)
    for (const [style, law] of CASES)
      for (const key of KEYS) {
        const own = seen.filter((one) => one.style === style && one.law === law && one.key === key);
        const halves = own.map(({ half }) => half).sort((a, b) => a - b);
        const held = own.filter(({ isHeld }) => isHeld).length / own.length;
        appendFileSync(
          table,
          `forecast ${style} ${law}\t${key}\t${own.length}\t${held.toFixed(3)}\t${halves[halves.length >> 1]?.toPrecision(3)}\n`,
        );
      }
  const held = seen.filter(({ isHeld }) => isHeld).length / seen.length;
  expect(seen.length).toBeGreaterThan(0.9 * RIDES * CASES.length * KEYS.length);
  expect(held).toBeGreaterThan(0.88);
  // Not by being wide: half of the pedelec's energy is its rider's, whom nobody measured.
  const halves = (key: string): number[] =>
    seen
      .filter((one) => one.key === key && one.style === 'throttle')
      .map(({ half }) => half)
      .sort((a, b) => a - b);
  const middle = (values: number[]): number => values[values.length >> 1]!;
  expect(middle(halves('energyOut'))).toBeLessThan(0.11);
  expect(middle(halves('time'))).toBeLessThan(0.13);
  expect(middle(halves('motorTemperaturePeak'))).toBeLessThan(8);
});

it('ranges of rides that went on until the pack was empty lie inside, and so do bikes whose rider nobody mentioned', () => {
  const held: boolean[] = [];
  for (let seed = 1; seed <= RIDES; seed++) {
    for (const style of ['throttle', 'pedelec'] as const) {
      const { calibration, trust, scenario, emptied } = rangeCase(9100 + seed, seed % 2 ? 'force' : 'current', style);
      const { figures } = forecast(calibration, scenario, { trust, samples: 150 });
      for (const key of ['rangeWithReserve', 'rangeToCutoff'] as const) {
        const [low, high] = figures.find((one) => one.key === key)!.interval95;
        held.push(low <= emptied[key] && emptied[key] <= high);
      }
    }
    const { records, known, scenario, truth } = trueCase(9200 + seed, 'force', 'pedelec');
    const unsaid = records.map((record) => {
      const { riderPowerW: _told, ...facts } = record.facts;
      return { ...record, facts };
    });
    const { figures } = forecast(calibrate(unsaid, known), scenario, { trust: trustOf(unsaid, known), samples: 150 });
    for (const key of ['energyOut', 'netConsumption'] as const) {
      const [low, high] = figures.find((one) => one.key === key)!.interval95;
      held.push(!truth.arrived || (low <= truth.figures[key] && truth.figures[key] <= high));
    }
  }
  expect(held.filter(Boolean).length / held.length).toBeGreaterThan(0.85);
});
