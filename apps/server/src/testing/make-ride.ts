/** A short ride as CSV: `wh` sets its consumption, `salt` makes the bytes differ. */
export function makeRideCsv({
  current = 6,
  minutes = 6,
  salt = 0,
  speed: mean = 20,
}: { current?: number; minutes?: number; salt?: number; speed?: number } = {}): string {
  const lines = ['time (s),speed (km/h),distance (m),voltage (V),current (A)'];
  for (let t = 0; t <= minutes * 60; t++) {
    const speed = mean + 0.5 * Math.sin(t / 30 + salt);
    lines.push(
      `${t},${speed.toFixed(2)},${((t * mean) / 3.6).toFixed(1)},${(50 - t / 500).toFixed(2)},${(current + 0.3 * Math.sin(t / 7 + salt)).toFixed(3)}`,
    );
  }
  return lines.join('\n');
}
