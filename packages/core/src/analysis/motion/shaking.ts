import type { Motion } from '../../logs/index.js';
import { firstAtOrAfter, median } from '../../numeric/index.js';
import { fromLimit, makeFigure, type Figure } from '../figure.js';
import { meanWithin } from './mean-within.js';

export interface Shaken {
  readonly fromS: number;
  readonly toS: number;
  readonly figures: readonly Figure[];
}
/** Slower than this is moving about, not shaking, s. */
const SLOW_S = 1;
const LEAST_SECONDS = 3;
/** Shaking that is looked for: at least this, and half of what its strongest seconds have, m/s². */
const LEAST_MPS2 = 0.1;
const SENSOR_GAIN = 0.02;
const RATES_FROM_HZ = 1;
const RATES_TO_HZ = 25;
const RATE_STEP_HZ = 0.25;
/** A rate stands out where it has so many times the usual power of all rates. */
const STANDS_OUT = 8;

/**
 * How a bike on the stand shakes: `vibration` m/s², root mean square over all three axes of what is faster than a second, and `vibrationRate`
 * Hz, the rate that stands out, where one does.
 *
 * Method: over the given span, else over the longest span whose seconds have half of what the strongest have; power by rate is a discrete
 * Fourier sum over that span at steps of 0.25 Hz. Comparable with the same mount at the same place only.
 * Fails: undefined where nothing shakes for three seconds.
 */
export function shaking(motion: Motion, span?: { readonly fromS: number; readonly toS: number }): Shaken | undefined {
  const { timeS, force } = motion;
  const fast = force.map((column) => {
    // A mean of means: one alone lets some of what is fast through.
    const slow = meanWithin(timeS, meanWithin(timeS, column, SLOW_S), SLOW_S);
    return column.map((value, k) => value - slow[k]!);
  });
  const square = timeS.map((_, k) => fast.reduce((sum, column) => sum + column[k]! ** 2, 0));
  const seconds = secondsOf(timeS, square);
  const { fromS, toS } = span ?? longest(seconds) ?? { fromS: 0, toS: 0 };
  const inSpan = seconds.filter((one) => one.fromS >= fromS - 1e-9 && one.fromS + 1 <= toS + 1e-9);
  if (inSpan.length < LEAST_SECONDS) return undefined;
  const mean = inSpan.reduce((sum, { square: one }) => sum + one, 0) / inSpan.length;
  const rms = Math.sqrt(mean);
  const spread = Math.sqrt(inSpan.reduce((sum, { square: one }) => sum + (one - mean) ** 2, 0) / (inSpan.length - 1));
  const common = { n: inSpan.length, inputs: ['acceleration'], fromS, toS };
  const figures = [
    makeFigure({
      key: 'vibration',
      label: 'Shaking, root mean square',
      value: rms,
      unit: 'm/s²',
      contributions: [
        {
          source: 'scatter between seconds',
          standardUncertainty: rms > 0 ? spread / (2 * rms) / Math.sqrt(inSpan.length) : 0,
          degreesOfFreedom: inSpan.length - 1,
        },
        { source: 'gain of the sensor', standardUncertainty: fromLimit(SENSOR_GAIN * rms), isSystematic: true },
      ],
      formula: 'root of the mean square of what is faster than a second, all three axes',
      substituted: `over ${inSpan.length} s`,
      ...common,
    }),
  ];
  const rate = rateOf(timeS, fast, fromS, toS);
  if (rate !== undefined)
    figures.push(
      makeFigure({
        key: 'vibrationRate',
        label: 'Rate of the strongest shaking',
        value: rate,
        unit: 'Hz',
        contributions: [
          {
            source: 'step between rates',
            standardUncertainty: fromLimit(Math.max(RATE_STEP_HZ / 2, 0.5 / (toS - fromS))),
          },
        ],
        formula: 'rate with the greatest power; a wheel out of balance shakes once a turn, spokes and poles many times',
        substituted: `${rate} Hz`,
        ...common,
      }),
    );
  return { fromS, toS, figures };
}

interface Second {
  readonly fromS: number;
  readonly square: number;
}
function secondsOf(timeS: Float64Array, square: Float64Array): Second[] {
  const seconds: Second[] = [];
  let [total, count, fromS] = [0, 0, timeS[0] ?? 0];
  for (let k = 0; k < timeS.length; k++) {
    while (timeS[k]! >= fromS + 1) {
      if (count > 5) seconds.push({ fromS, square: total / count });
      [total, count, fromS] = [0, 0, fromS + 1];
    }
    total += square[k]!;
    count++;
  }
  return seconds;
}

function longest(seconds: readonly Second[]): { fromS: number; toS: number } | undefined {
  const sorted = seconds.map(({ square }) => Math.sqrt(square)).sort((a, b) => a - b);
  const strong = sorted[Math.floor(0.95 * (sorted.length - 1))] ?? 0;
  const limit = Math.max(LEAST_MPS2, strong / 2);
  let best: { fromS: number; toS: number } | undefined;
  let fromS: number | undefined;
  for (const { fromS: at, square } of seconds) {
    if (Math.sqrt(square) < limit) fromS = undefined;
    else {
      fromS ??= at;
      if (!best || at + 1 - fromS > best.toS - best.fromS) best = { fromS, toS: at + 1 };
    }
  }
  return best;
}

function rateOf(timeS: Float64Array, fast: readonly Float64Array[], fromS: number, toS: number): number | undefined {
  const [from, to] = [firstAtOrAfter(timeS, fromS), firstAtOrAfter(timeS, toS)];
  const highest = Math.min(RATES_TO_HZ, ((to - from) / (toS - fromS)) * 0.45);
  const powers: { hz: number; power: number }[] = [];
  for (let hz = RATES_FROM_HZ; hz <= highest; hz += RATE_STEP_HZ) {
    let power = 0;
    for (const column of fast) {
      let [re, im] = [0, 0];
      for (let k = from; k < to; k++) {
        const angle = 2 * Math.PI * hz * timeS[k]!;
        re += column[k]! * Math.cos(angle);
        im += column[k]! * Math.sin(angle);
      }
      power += re * re + im * im;
    }
    powers.push({ hz, power });
  }
  if (powers.length < 8) return undefined;
  const strongest = powers.reduce((one, other) => (other.power > one.power ? other : one));
  return strongest.power > STANDS_OUT * median(powers.map(({ power }) => power))! ? strongest.hz : undefined;
}
