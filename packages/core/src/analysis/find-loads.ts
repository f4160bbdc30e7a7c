import type { CleanLog } from '../logs/index.js';
import { atShare } from '../numeric/index.js';
import { derivationNumber as num } from './figure.js';
import type { Span } from './findings.js';
import { electricalPower } from './range/ride-integrals.js';

/** A load is there above this share of the log's strong loads, and gone below it. */
const LOADED_SHARE = 0.2;
const STRONG_QUANTILE = 0.95;
const MIN_LOAD_S = 5;
/** Shorter breaks than this do not part two loads. */
const MIN_BREAK_S = 3;
const MIN_COOLING_S = 60;

/** Where the pack is loaded, by its current (else power), with the mean of each: 5 s or more above a fifth of the strong loads. */
export function findLoads({ timeS, channels, hasClock }: CleanLog): Span[] {
  const { current } = channels;
  const values = current ?? electricalPower(channels)?.powerW;
  if (!values || !hasClock) return [];
  const strong = atShare(values, STRONG_QUANTILE) ?? 0;
  if (!(strong > 0)) return [];
  const loads: { from: number; to: number }[] = [];
  for (let k = 0; k < values.length; k++) {
    if (!(values[k]! > LOADED_SHARE * strong)) continue;
    const last = loads.at(-1);
    if (last && timeS[k]! - timeS[last.to]! < MIN_BREAK_S) last.to = k;
    else loads.push({ from: k, to: k });
  }
  return loads
    .filter(({ from, to }) => timeS[to]! - timeS[from]! >= MIN_LOAD_S)
    .map(({ from, to }, k) => {
      const mean = meanOfKnown(values.subarray(from, to + 1));
      const size = `${num(Number(mean.toPrecision(2)))} ${current ? 'A' : 'W'}`;
      return { kind: 'load', fromS: timeS[from]!, toS: timeS[to]!, label: `Load ${k + 1}, ${size}` };
    });
}

function meanOfKnown(values: Float64Array): number {
  let [sum, count] = [0, 0];
  for (const value of values)
    if (!Number.isNaN(value)) {
      sum += value;
      count++;
    }
  return sum / count;
}

/** Soak, from the first load to the last, and the cool-down after it, a minute or more. */
export function findSoak(log: CleanLog): Span[] {
  const loads = findLoads(log);
  const [first, last] = [loads[0], loads.at(-1)];
  if (!first || !last) return [];
  const endS = log.timeS.at(-1)!;
  return [
    { kind: 'soak', fromS: first.fromS, toS: last.toS, label: 'Soak' },
    ...(endS - last.toS >= MIN_COOLING_S
      ? [{ kind: 'cool-down' as const, fromS: last.toS, toS: endS, label: 'Cool-down' }]
      : []),
  ];
}
