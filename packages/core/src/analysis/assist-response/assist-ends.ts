import { say } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import {
  derivationQuantity as qty,
  derivationNumber as num,
  fromLimit,
  makeFigure,
  type Figure,
  type Warn,
} from '../figure.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import type { TestContext } from '../test-context.js';
import { wheelCircumference } from '../contributions.js';

/** Help fades among the fastest samples: slower ones than this share only tell that it was there. */
const NEAR_END_SHARE = 0.5;
const PLATEAU_WINDOW_S = 0.3;

/** Highest mean over a short window: the power that help settles at. */
export function plateauOf(timeS: Float64Array, power: Float64Array, from: number, to: number): number {
  let highest = -Infinity;
  let start = from;
  let sum = 0;
  for (let k = from; k <= to && k < power.length; k++) {
    sum += power[k]!;
    while (timeS[k]! - timeS[start]! > PLATEAU_WINDOW_S) sum -= power[start++]!;
    if (timeS[k]! - timeS[start]! >= 0.8 * PLATEAU_WINDOW_S) highest = Math.max(highest, sum / (k - start + 1));
  }
  return highest;
}

interface SpeedBin {
  readonly v: number;
  readonly w: number;
}
const BIN_KMH = 0.3;
const PLATEAU_BINS = 4;

/** Mean power of each span of speeds: a speed that was held for long does not outweigh those that were passed through. */
class SpeedBins {
  count = 0;
  fastest = 0;
  private readonly speeds: number[] = [];
  private readonly powers: number[] = [];
  private readonly counts: number[] = [];

  add(kmh: number, watts: number): void {
    const at = Math.floor(kmh / BIN_KMH);
    while (this.counts.length <= at) {
      this.speeds.push(0);
      this.powers.push(0);
      this.counts.push(0);
    }
    this.speeds[at]! += kmh;
    this.powers[at]! += watts;
    this.counts[at]!++;
    this.count++;
    if (kmh > this.fastest) this.fastest = kmh;
  }
  /** In the order of speed; bins without a sample, and those slower than `kmh`, are left out. */
  means(kmh: number): SpeedBin[] {
    return this.counts.flatMap((n, at) => {
      const v = this.speeds[at]! / n;
      return n > 0 && v > kmh ? [{ v, w: this.powers[at]! / n }] : [];
    });
  }
}

/** The plateau: highest mean of a few neighbouring bins, and the speed in their middle. */
function strongestBins(bins: readonly SpeedBin[]): SpeedBin | undefined {
  let best: SpeedBin | undefined;
  for (let k = PLATEAU_BINS; k <= bins.length; k++) {
    const few = bins.slice(k - PLATEAU_BINS, k);
    const mean = (of: (bin: SpeedBin) => number): number => few.reduce((sum, bin) => sum + of(bin), 0) / few.length;
    if (!best || mean(({ w }) => w) > best.w) best = { v: mean(({ v }) => v), w: mean(({ w }) => w) };
  }
  return best;
}

/**
 * `assistEnds` km/h: speed at which the power crosses half of its plateau, by a logistic curve over speed.
 *
 * Method: samples of the spans while the drive is asked for, from where the power has risen, in means over 0.3 km/h;
 * the plateau is the highest mean over four of them, and the curve is fitted beyond it. Undefined where the power does not
 * fall below half. Help beyond `context.assistLimitKmh` is told.
 */
export function assistEnds(
  log: CleanLog,
  power: Float64Array,
  isOn: (k: number) => boolean,
  pulses: readonly { from: number; to: number }[],
  context: TestContext,
  warn: Warn,
): Figure | undefined {
  const speed = log.channels.speed!;
  const instrument = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const seen = new SpeedBins();
  for (const { from, to } of pulses) {
    const plateau = plateauOf(log.timeS, power, from, to);
    let full = from;
    while (full <= to && !(power[full]! > 0.9 * plateau)) full++;
    for (let k = full; k <= to; k++)
      if (isOn(k) && !Number.isNaN(speed[k]!) && !Number.isNaN(power[k]!)) seen.add(speed[k]! * 3.6, power[k]!);
  }
  if (seen.count < 50) return undefined;
  const { fastest } = seen;
  const bins = seen.means(NEAR_END_SHARE * fastest);
  const top = strongestBins(bins);
  if (!top) return undefined;
  // Beyond the plateau only: how the help rises to it is another matter.
  const near = bins.filter(({ v }) => v >= top.v);
  if (near.length < 4 || !near.some(({ w }) => w < 0.5 * top.w)) return undefined;
  const errorOf = (half: number, width: number): number =>
    near.reduce((sum, { v, w }) => sum + (w - top.w / (1 + Math.exp((v - half) / width))) ** 2, 0);
  let best = { half: fastest, width: 0.5, error: Infinity };
  let [centre, centreWidth, reach, widthReach] = [0.9 * fastest, 0.5, 0.25 * fastest, 3];
  for (let round = 0; round < 7; round++) {
    for (let i = -10; i <= 10; i++)
      for (let j = -4; j <= 4; j++) {
        const half = centre + (reach * i) / 10;
        const width = centreWidth * widthReach ** (j / 4);
        const error = errorOf(half, width);
        if (error < best.error) best = { half, width, error };
      }
    [centre, centreWidth, reach, widthReach] = [best.half, best.width, reach / 4, Math.sqrt(widthReach)];
  }
  const step = 0.02;
  const curvature =
    (errorOf(best.half + step, best.width) - 2 * best.error + errorOf(best.half - step, best.width)) /
    (2 * step * step);
  const variance = best.error / (near.length - 2);
  const figure = makeFigure({
    key: 'assistEnds',
    label: 'Speed at which assist ends (half power)',
    value: best.half,
    unit: 'km/h',
    n: near.length,
    contributions: [
      {
        source: 'scatter about the logistic curve',
        standardUncertainty: curvature > 0 ? Math.sqrt(variance / curvature) : best.width,
      },
      // The true fading is not exactly logistic.
      { source: 'shape of the fading', standardUncertainty: fromLimit(0.5 * best.width), isRectangular: true },
      wheelCircumference(instrument, best.half),
    ],
    formula: 'v½ of P = plateau ÷ (1 + exp((v − v½) ÷ s))',
    substituted: say`${qty(best.half, 'km/h')}, fading over ${qty(best.width, 'km/h')}, plateau ${num(top.w)} W`,
    inputs: ['speed', 'power'],
    fromS: log.timeS[pulses[0]!.from]!,
    toS: log.timeS[pulses.at(-1)!.to]!,
  });
  warnAboutLimit(figure, context, warn);
  return figure;
}

/** Help that goes on beyond where it has to end is no small thing: it makes another class of vehicle. */
function warnAboutLimit(ends: Figure, { assistLimitKmh }: TestContext, warn: Warn): void {
  if (assistLimitKmh === undefined || ends.interval95[0] <= assistLimitKmh) return;
  warn(
    'help-beyond-limit',
    say`Assist ends at ${qty(ends.value, 'km/h')}, above the ${qty(assistLimitKmh, 'km/h')} set for this setup. Check your local rules; until it is fixed, private ground only.`,
  );
}
