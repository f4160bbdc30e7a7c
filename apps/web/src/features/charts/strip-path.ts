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
export function stripPath({ timesS, low, high }: Channel, gaps: readonly Gap[], xOf: (timeS: number) => number, yOf: (value: number) => number): string {
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

/** Least and greatest of the whole stretch, widened to a round scale; undefined when nothing is there. */
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
