const MINUTE_S = 60;

/**
 * Times of which only hour and minute are told, with many rows a minute: the rows of a minute are spread evenly over it, those of a
 * minute that was not whole at the first or last by the usual rows of a minute. In place; s, NaN where there is no time.
 */
export function spreadMinutes(timeS: Float64Array): void {
  const runs: { from: number; to: number }[] = [];
  for (let k = 0; k < timeS.length; k++) {
    const run = runs.at(-1);
    if (run && timeS[run.from] === timeS[k]) run.to = k + 1;
    else if (!Number.isNaN(timeS[k]!)) runs.push({ from: k, to: k + 1 });
  }
  const inner = runs.slice(1, -1).map(({ from, to }) => to - from);
  const usual = inner.sort((a, b) => a - b)[inner.length >> 1] ?? Math.max(0, ...runs.map(({ from, to }) => to - from));
  runs.forEach(({ from, to }, k) => {
    const rows = to - from;
    const isPart = rows < usual && (k === 0 || k === runs.length - 1);
    const step = MINUTE_S / (isPart ? usual : rows);
    // The first minute was come into late, the last one left early.
    const begin = timeS[from]! + (isPart && k === 0 ? MINUTE_S - rows * step : 0);
    for (let j = from; j < to; j++) timeS[j] = begin + (j - from) * step;
  });
}
