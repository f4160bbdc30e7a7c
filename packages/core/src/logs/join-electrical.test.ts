import { cleanLog } from './clean-log.js';
import { readLog } from './read-log.js';

const log = (rows: readonly string[]) => {
  const raw = readLog(new TextEncoder().encode(['time (s),speed (km/h),voltage (V),current (A)', ...rows].join('\n')));
  const cleaned = raw.ok ? cleanLog(raw.value) : raw;
  if (!cleaned.ok) throw new Error(cleaned.problem.message);
  return cleaned.value;
};
const charge = ({ timeS, channels }: ReturnType<typeof log>): number =>
  timeS.reduce((sum, t, k) => {
    const watts = channels.voltage![k]! * channels.current![k]!;
    return k === 0 || Number.isNaN(watts) ? sum : sum + watts * (t - timeS[k - 1]!);
  }, 0);

it('voltage and current in rows of their own are held until their next values, and said so', () => {
  const found = log(
    Array.from({ length: 300 }, (_, k) => {
      const t = (k / 3).toFixed(2);
      return k % 3 === 0 ? `${t},20,,` : k % 3 === 1 ? `${t},,50,` : `${t},,,4`;
    }),
  );
  expect(found.report.isJoined).toBe(true);
  expect(charge(found) / (200 * 99)).toBeCloseTo(1, 1);
});
it('a log in which they stand together is left as it is, whatever else is missing', () => {
  const found = log(
    Array.from({ length: 100 }, (_, k) => `${k / 5},${k % 5 === 0 ? 20 : ''},${k % 7 === 3 ? '' : 50},4`),
  );
  expect(found.report.isJoined).toBeUndefined();
  expect(found.channels.voltage!.filter(Number.isNaN)).toHaveLength(14);
});
it('a value that is long past is not held: what lies between is a gap', () => {
  const rows = (from: number) =>
    Array.from({ length: 60 }, (_, k) => (k % 2 === 0 ? `${from + k},20,50,` : `${from + k},20,,4`));
  const found = log([...rows(0), ...Array.from({ length: 120 }, (_, k) => `${60 + k},20,,`), ...rows(180)]);
  expect(found.report.isJoined).toBe(true);
  expect(found.channels.voltage![120]).toBeNaN();
});
