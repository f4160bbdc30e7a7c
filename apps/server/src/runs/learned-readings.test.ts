import type { LearnedReadings, NotebookAnswer, RunDetail, RunSummary, SetupDetail } from '@ebrix/contract';
import { importOne, startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';

let server: TestApp;
let bench: Bench;
let setup: SetupDetail;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('Corvane R2, 52 V');
});
afterAll(() => server.close());

/** Half a minute of rest with the pack full, then an hour at 25 km/h and 50 V × 5 A: 250 Wh or so, of a pack of 48 V × 14 Ah. */
function hourCsv(salt: number): string {
  const rows = ['time (s),speed (km/h),voltage (V),current (A)'];
  for (let t = 0; t <= 3600; t += 2)
    rows.push(
      t < 30
        ? `${t},0,54.40,0.02`
        : [t, (25 + 0.1 * Math.sin(t + salt)).toFixed(2), '50.00', (5 + 0.05 * Math.sin(t / 7 + salt)).toFixed(3)].join(
            ',',
          ),
    );
  return rows.join('\n');
}
const gauge = { start: 5, end: 3, bars: 5 };
const get = async (id: string): Promise<RunDetail> =>
  (await server.api.get(`/api/runs/${id}`).expect(200)).body as RunDetail;
const energyOf = (run: RunDetail) => run.allFigures.find(({ key }) => key === 'energyOut')!;
async function settled(id: string, isReady: (run: RunDetail) => boolean): Promise<RunDetail> {
  for (let tries = 0; tries < 600; tries++) {
    const run = await get(id);
    if (!run.isRecalculating && isReady(run)) return run;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('not worked out');
}
async function addMetered(salt: number, more: object): Promise<string> {
  const [file] = (
    (
      await server.api
        .post('/api/imports')
        .attach('files', Buffer.from(hourCsv(salt)), `${salt}.csv`)
        .expect(201)
    ).body as { id: string; inspection: { mapping: never } }[]
  ).map((one) => one);
  const done = await importOne(server, file!.id, { ...bench.assignment(setup), ...more }, file!.inspection.mapping);
  return done.runId!;
}

describe('a gauge and a charger', () => {
  it('are read by what a logger showed of them, and earlier rides by hand are worked out anew', async () => {
    const page = {
      setups: [{ written: setup.name, revisionId: setup.revisions[0]!.id }],
      rides: [
        { date: '2026-05-02', setup: setup.name, gauge, readings: { tripDistanceKm: 25, restVoltageStartV: 54.4 } },
        { date: '2026-05-03', setup: setup.name, readings: { tripDistanceKm: 25, wallEnergyWh: 300 } },
      ],
    };
    const { importIds } = (await server.api.post('/api/notebook').send(page).expect(201)).body as NotebookAnswer;
    expect(importIds).toHaveLength(2);
    const byHand = async (date: string): Promise<string> => {
      for (let tries = 0; tries < 400; tries++) {
        const { items } = (await server.api.get('/api/runs')).body as { items: RunSummary[] };
        const found = items.find(({ outing }) => outing.date === date);
        if (found) return found.id;
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
      throw new Error('no run');
    };
    const [bars, socket] = [await byHand('2026-05-02'), await byHand('2026-05-03')];
    const before = energyOf(await get(bars));
    expect(before.derivation.inputs[0]).toBe('gauge');
    expect(before.derivation.inputs).not.toContain('metered rides');
    expect(energyOf(await get(socket)).derivation.inputs).toContain('an ordinary charger');

    const manualReadings = { wallEnergyWh: 290 };
    for (const salt of [1, 2, 3]) await addMetered(salt, { gauge, manualReadings });
    const learned = energyOf(await settled(bars, (run) => energyOf(run).derivation.inputs.includes('metered rides')));
    // Two bars stood for 250 Wh each time; even bars of this pack would be 230 to 270, within ± 10 % of the whole.
    expect(learned.value).toBeGreaterThan(245);
    expect(learned.value).toBeLessThan(280);
    expect(learned.standardUncertainty).toBeLessThan(before.standardUncertainty);
    const charged = energyOf(
      await settled(socket, (run) => /charges beside a logger/.test(String(energyOf(run).derivation.inputs))),
    );
    expect(charged.value / 300).toBeCloseTo(250 / 290, 1);

    // Where a ride began part-way, nobody knows what was used before it: it teaches nothing.
    const partWay = await addMetered(4, { gauge: { start: 4, end: 2, bars: 5 }, isPartWay: true });
    expect((await get(partWay)).isPartWay).toBe(true);
    const after = await settled(bars, () => true);
    expect(energyOf(after).value).toBeCloseTo(learned.value, 9);
    const shown = (await server.api.get(`/api/setups/${setup.id}/learned`).expect(200)).body as LearnedReadings;
    expect(shown.gauge).toEqual([expect.objectContaining({ shown: 0.6, isEdge: false, n: 3 })]);
    expect(shown.chargeEfficiency!.n).toBe(3);
  });
});
