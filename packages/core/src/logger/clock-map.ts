export interface ClockPair {
  /** The logger's clock, s. */
  readonly loggerS: number;
  /** When that line arrived, on the server's clock, s. */
  readonly arrivedS: number;
}
/** loggerS = offsetS + pace · serverS */
export interface ClockMap {
  readonly offsetS: number;
  readonly pace: number;
  /** Spread of the pairs that were used, in logger seconds: how well a tap is placed on the log. */
  readonly scatterS: number;
}

/** Fewer pairs, or a shorter time, cannot tell drift from delay. */
const MIN_PAIRS = 20;
const MIN_SPAN_S = 20;
const ROUNDS = 4;
/** A cheap clock drifts by less; a fitted pace further off is delay, not drift. */
const MAX_DRIFT = 0.02;

/**
 * The logger's clock against the server's, from the times at which lines arrived.
 *
 * Lines are delayed, never early: each round keeps the half of the pairs that arrived soonest against the line fitted
 * so far, so that a span of bad reception does not bend the map. A pace outside `pace ± 2 %`, or too short a
 * record, leaves the stated pace.
 */
export function fitClock(pairs: readonly ClockPair[], statedPace = 1): ClockMap | undefined {
  if (pairs.length === 0) return undefined;
  const span = pairs.at(-1)!.arrivedS - pairs[0]!.arrivedS;
  let kept = pairs;
  let pace = statedPace;
  if (pairs.length >= MIN_PAIRS && span >= MIN_SPAN_S)
    for (let round = 0; round < ROUNDS; round++) {
      const fitted = slopeOf(kept);
      if (Math.abs(fitted / statedPace - 1) > MAX_DRIFT) break;
      pace = fitted;
      kept = soonest(pairs, pace);
    }
  else kept = soonest(pairs, pace);
  const offsets = kept.map(({ loggerS, arrivedS }) => loggerS - pace * arrivedS);
  const offsetS = offsets.reduce((sum, value) => sum + value, 0) / offsets.length;
  const squares = offsets.reduce((sum, value) => sum + (value - offsetS) ** 2, 0);
  return { offsetS, pace, scatterS: Math.sqrt(squares / Math.max(1, offsets.length - 1)) };
}

function slopeOf(pairs: readonly ClockPair[]): number {
  const meanX = pairs.reduce((sum, { arrivedS }) => sum + arrivedS, 0) / pairs.length;
  const meanY = pairs.reduce((sum, { loggerS }) => sum + loggerS, 0) / pairs.length;
  let sxx = 0;
  let sxy = 0;
  for (const { arrivedS, loggerS } of pairs) {
    sxx += (arrivedS - meanX) ** 2;
    sxy += (arrivedS - meanX) * (loggerS - meanY);
  }
  return sxy / sxx;
}

/** The half with the least delay: the larger the logger's time at arrival, the fresher the line. */
function soonest(pairs: readonly ClockPair[], pace: number): readonly ClockPair[] {
  const freshness = pairs.map(({ loggerS, arrivedS }) => loggerS - pace * arrivedS);
  const sorted = [...freshness].sort((a, b) => a - b);
  const limit = sorted[Math.floor(sorted.length / 2)]!;
  return pairs.filter((_, k) => freshness[k]! >= limit);
}

export function toLoggerTime({ offsetS, pace }: ClockMap, serverS: number): number {
  return offsetS + pace * serverS;
}
export function toServerTime({ offsetS, pace }: ClockMap, loggerS: number): number {
  return (loggerS - offsetS) / pace;
}
