/** A short ride as CSV: `wh` sets its consumption, `salt` makes the bytes differ. */
export function makeRideCsv({
  current = 6,
  minutes = 6,
  salt = 0,
}: { current?: number; minutes?: number; salt?: number } = {}): string {
  const lines = ['time (s),speed (km/h),distance (m),voltage (V),current (A)'];
  for (let t = 0; t <= minutes * 60; t++) {
    const speed = 20 + 0.5 * Math.sin(t / 30 + salt);
    lines.push(
      `${t},${speed.toFixed(2)},${(t * 5.5556).toFixed(1)},${(50 - t / 500).toFixed(2)},${(current + 0.3 * Math.sin(t / 7 + salt)).toFixed(3)}`,
    );
  }
  return lines.join('\n');
}
