import type { Strip } from '@ebrix/contract';

type Channel = Strip['channels'][number];
interface Gap {
  readonly startS: number;
  readonly endS: number;
}

/**
 * SVG path of a channel: through the least and the greatest of each bin, lifted over missing samples and gaps.
 * At most two points per bin.
 */
export function stripPath(
  { timesS, low, high }: Channel,
  gaps: readonly Gap[],
  xOf: (timeS: number) => number,
  yOf: (value: number) => number,
): string {
  let path = '';
  let isDown = false;
  let gap = 0;
  for (let k = 0; k < timesS.length; k++) {
    const [t, least, greatest] = [timesS[k]!, low[k], high[k]];
    while (gap < gaps.length && gaps[gap]!.endS <= t) {
      if (k > 0 && timesS[k - 1]! <= gaps[gap]!.startS) isDown = false;
      gap++;
    }
    if (least === null || least === undefined || greatest === null || greatest === undefined) {
      isDown = false;
      continue;
    }
    const x = xOf(t).toFixed(1);
    path += `${isDown ? 'L' : 'M'}${x} ${yOf(least).toFixed(1)}`;
    if (greatest !== least) path += `L${x} ${yOf(greatest).toFixed(1)}`;
    isDown = true;
  }
  return path;
}

/** Least and greatest of the whole span, widened to a round scale; undefined when nothing is there. */
export function channelRange({ low, high }: Channel): readonly [number, number] | undefined {
  let least = Infinity;
  let greatest = -Infinity;
  low.forEach((value) => value !== null && value < least && (least = value));
  high.forEach((value) => value !== null && value > greatest && (greatest = value));
  if (least === Infinity) return undefined;
  if (least >= 0 && least < 0.35 * greatest) least = 0;
  return greatest > least ? [least, greatest] : [least - 1, greatest + 1];
}

/** The bin whose time is nearest. */
export function nearestBin(timesS: readonly number[], t: number): number {
  let lower = 0;
  let upper = timesS.length - 1;
  while (upper - lower > 1) {
    const middle = (lower + upper) >> 1;
    if (timesS[middle]! <= t) lower = middle;
    else upper = middle;
  }
  return Math.abs(timesS[lower]! - t) <= Math.abs(timesS[upper]! - t) ? lower : upper;
}

const CLOCK_STEPS_S = [0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14_400];

/** Round times within [from, to], about `count` of them: whole minutes where there is room for nothing finer. */
export function clockTicks(fromS: number, toS: number, count: number): number[] {
  const wanted = (toS - fromS) / count;
  const step = CLOCK_STEPS_S.find((one) => one >= wanted) ?? CLOCK_STEPS_S.at(-1)!;
  const first = Math.ceil(fromS / step);
  return Array.from({ length: Math.max(0, Math.floor(toS / step) - first + 1) }, (_, k) =>
    Number(((first + k) * step).toFixed(3)),
  );
}
