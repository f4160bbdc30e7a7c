import { TEST_KIND_NAMES, type TestKind } from '@ebrix/core/analysis';
import { quickLookLogSchema, quickLookTableSchema } from '@ebrix/contract';
import { rideDemoLog } from '../demo/demo-ride.js';
import { RIDES, type PlannedRide } from '../demo/scenario.js';
import { TASKS } from './tasks.js';

const rideOf = (kind: TestKind): PlannedRide => {
  const ride = RIDES.find(({ test }) => test === kind) ?? RIDES[0]!;
  return kind === 'range' ? ride : { ...ride, test: kind };
};
const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);

describe('what the tasks return', () => {
  it.each(TEST_KIND_NAMES)('%s: is what the contract says, through JSON too', async (test) => {
    const bytes = bytesOf(rideDemoLog({ plan: rideOf(test), seed: 11 }));
    const context = { capacityAh: 14, nominalVoltageV: 48, airTemperatureC: 18, ambientC: 18, temperatureLimitC: 95 };
    const outcome = await TASKS.quickLook({ bytes, mapping: null, context, test });
    if (!outcome.ok) throw new Error(outcome.problem.message);
    const read = quickLookLogSchema.parse(JSON.parse(JSON.stringify(outcome.value)));
    expect(read).toEqual(outcome.value);
    expect(read.figures.length).toBeGreaterThan(0);
    expect(read.charts.length).toBeGreaterThan(0);
  });

  it('a comparison of two and of three setups is what the contract says', () => {
    const rows = ['kit,Wh per km'];
    for (let k = 0; k < 5; k++) rows.push(`A,${9 + 0.1 * k}`, `B,${10 + 0.13 * k}`, `C,${11 - 0.2 * k}`);
    for (const setups of [2, 3]) {
      const bytes = bytesOf(rows.filter((row) => setups === 3 || !row.startsWith('C')).join('\n'));
      const outcome = TASKS.table({
        bytes,
        columns: { setup: 'kit', value: 'Wh per km' },
        smallestDifference: { kind: 'relative', value: 0.05 },
        better: 'less',
        seed: 1,
        resamples: 200,
      });
      if (!outcome.ok || !outcome.value.ok) throw new Error('the table cannot be compared');
      const found = outcome.value.value;
      expect(quickLookTableSchema.parse(JSON.parse(JSON.stringify(found)))).toEqual(found);
      expect(found.comparison.setups).toHaveLength(setups);
    }
  });
});
