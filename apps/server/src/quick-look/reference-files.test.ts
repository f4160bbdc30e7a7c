import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { QuickLookLog } from '@ebrix/contract';
import { startTestApp, type TestApp } from '../testing/test-app.js';

const CORE = join(__dirname, '../../../../packages/core/src/analysis');
const truth = JSON.parse(
  readFileSync(join(CORE, 'reference/truth.json'), 'utf8'),
) as typeof import('../../../../packages/core/src/analysis/reference/truth.json');
const csvOf = (name: string): string =>
  readFileSync(join(CORE, name === 'range-ride' ? 'range/reference' : 'reference', `${name}.csv`), 'utf8');

/** What range-ride.csv was made from. */
const RANGE_TRUTH = {
  distanceKm: 26.917590055811157,
  energyOutWh: 150.17305788854017,
  energyRegenWh: 1.3243733333333332,
  netWhPerKm: 5.5297923865614536,
};

let server: TestApp;
beforeAll(async () => {
  server = await startTestApp();
});
afterAll(() => server.close());

/** The same file as a spreadsheet with decimal commas would have it. */
const withCommas = (csv: string): string =>
  csv
    .split('\n')
    .map((line, k) => (k === 0 ? line.replaceAll(',', ';') : line.replaceAll(',', ';').replaceAll('.', ',')))
    .join('\n');
const OTHER_UNITS: Readonly<Record<string, readonly [string, (value: number) => number]>> = {
  s: ['min', (s) => s / 60],
  'km/h': ['mph', (kmh) => kmh / 1.609344],
  m: ['ft', (m) => m / 0.3048],
  '°C': ['°F', (c) => c * 1.8 + 32],
};
/** And as a logger of miles, feet, minutes and Fahrenheit would. */
function withOtherUnits(csv: string): string {
  const [header, ...lines] = csv.split('\n');
  const names = header!.split(',').map((name) => {
    const unit = /\((.*)\)$/.exec(name)?.[1];
    const other = unit === undefined ? undefined : OTHER_UNITS[unit];
    return { header: other ? name.replace(`(${unit})`, `(${other[0]})`) : name, convert: other?.[1] };
  });
  return [
    names.map((name) => name.header).join(','),
    ...lines.map((line) =>
      line
        .split(',')
        .map((cell, k) => {
          const convert = names[k]?.convert;
          return convert && cell.trim() !== '' ? convert(Number(cell)).toFixed(6) : cell;
        })
        .join(','),
    ),
  ].join('\n');
}
const WRITINGS = [
  ['as it came', (csv: string) => csv],
  ['with semicolons and decimal commas', withCommas],
  ['in miles, feet, minutes and °F', withOtherUnits],
] as const;

async function look(
  name: keyof typeof truth | 'range-ride',
  test: string,
  write: (csv: string) => string,
  more: object = {},
): Promise<QuickLookLog> {
  const { airTemperatureC, airDensity, totalMassKg, cdaM2, crr, rotatingMassFactor } = truth['top-speed'];
  const context = { airTemperatureC, airDensity, totalMassKg, cdaM2, crr, rotatingMassFactor, ...more };
  const answer = await server.api
    .post('/api/quick-look/log')
    .attach('file', Buffer.from(write(csvOf(name))), `${name}.csv`)
    .field('test', test)
    .field('context', JSON.stringify(context));
  expect([answer.status, answer.body.error?.message]).toEqual([200, undefined]);
  return answer.body as QuickLookLog;
}
const valueOf = ({ figures }: QuickLookLog, key: string): number => figures.find((figure) => figure.key === key)!.value;
const off = (value: number, expected: number): number => Math.abs(value / expected - 1);

describe.each(WRITINGS)('files of an independent simulation, %s', (_words, write) => {
  it('range', async () => {
    const found = await look('range-ride', 'range', write);
    const { distanceKm, energyOutWh, netWhPerKm, energyRegenWh } = RANGE_TRUTH;
    expect(off(valueOf(found, 'distance'), distanceKm)).toBeLessThan(0.003);
    expect(off(valueOf(found, 'energyOut'), energyOutWh)).toBeLessThan(0.01);
    expect(off(valueOf(found, 'netConsumption'), netWhPerKm)).toBeLessThan(0.01);
    expect(off(valueOf(found, 'energyRegenerated'), energyRegenWh)).toBeLessThan(0.1);
  });
  it('top speed', async () => {
    const found = await look('top-speed', 'top-speed', write, { directions: [1, -1, 1, -1] });
    const { passes, twoWayMeanKmh, stillAirKmh } = truth['top-speed'];
    found.passes.forEach(({ steadySpeed }, k) =>
      expect(off(steadySpeed!, passes[k]!.steadySpeedKmh)).toBeLessThan(0.005),
    );
    expect(found.passes).toHaveLength(passes.length);
    expect(off(valueOf(found, 'twoWayTopSpeed'), twoWayMeanKmh)).toBeLessThan(0.004);
    expect(off(valueOf(found, 'stillAirTopSpeed'), stillAirKmh)).toBeLessThan(0.007);
  });
  it('hill climb', async () => {
    const { lengthM, timeS, energyWh, gainM, driveEfficiency, verticalSpeedMperH, minSpeed3sMeanKmh } =
      truth['hill-climb'];
    const found = await look('hill-climb', 'hill-climb', write, {
      gates: { startDistanceM: 0, finishDistanceM: lengthM },
    });
    expect(off(valueOf(found, 'climbTime'), timeS)).toBeLessThan(0.005);
    expect(off(valueOf(found, 'energyOut'), energyWh)).toBeLessThan(0.005);
    expect(Math.abs(valueOf(found, 'gain') - gainM)).toBeLessThan(2);
    expect(Math.abs(valueOf(found, 'driveEfficiency') - driveEfficiency)).toBeLessThan(0.03);
    expect(off(valueOf(found, 'verticalSpeed'), verticalSpeedMperH)).toBeLessThan(0.025);
    expect(Math.abs(valueOf(found, 'minSpeed') - minSpeed3sMeanKmh)).toBeLessThan(0.4);
  });
  it('assist response', async () => {
    const found = await look('assist-response', 'assist-response', write);
    const { starts, rampS, overrunS, brakeCutoffS, assistHalfPowerKmh } = truth['assist-response'];
    const events = found.events;
    // The file here is the first half of it.
    expect(events).toHaveLength(3);
    events.forEach(({ latency, riseTime }, k) => {
      expect(Math.abs(latency! - starts[k]!.latencyS)).toBeLessThan(0.06 + 0.05 * rampS);
      if (riseTime !== null) expect(off(riseTime, 0.8 * rampS)).toBeLessThan(0.2);
    });
    expect(Math.abs(valueOf(found, 'overrun') - overrunS)).toBeLessThan(0.06);
    expect(Math.abs(valueOf(found, 'brakeCutoff') - brakeCutoffS)).toBeLessThan(0.05);
    expect(Math.abs(valueOf(found, 'assistEnds') - assistHalfPowerKmh)).toBeLessThan(0.6);
  });
  it('heating', async () => {
    const { ambientC, timeConstantS, peakC } = truth['heat-soak'];
    const found = await look('heat-soak', 'heating', write, { ambientC });
    expect(off(valueOf(found, 'timeConstant'), timeConstantS)).toBeLessThan(0.08);
    expect(Math.abs(valueOf(found, 'peakTemperature') - peakC)).toBeLessThan(0.5);
  });
  it('coast-down', async () => {
    const { cdaM2, crr, slope, windMs } = truth['coast-down'];
    const found = await look('coast-down', 'coast-down', write, { directions: [1, -1, 1, -1] });
    expect(off(valueOf(found, 'cda'), cdaM2)).toBeLessThan(0.05);
    expect(off(valueOf(found, 'crr'), crr)).toBeLessThan(0.05);
    expect(Math.abs(valueOf(found, 'slope') - slope)).toBeLessThan(0.0004);
    expect(Math.abs(valueOf(found, 'wind') - windMs)).toBeLessThan(0.15);
  });
  it('assist levels', async () => {
    const found = await look('assist-levels', 'assist-levels', write);
    const { levels } = truth['assist-levels'];
    expect(found.levels).toHaveLength(levels.length);
    found.levels.forEach(({ steadySpeed, consumption }, k) => {
      expect(Math.abs(steadySpeed - levels[k]!.steadySpeedKmh)).toBeLessThan(0.2);
      expect(off(consumption!, levels[k]!.whPerKm)).toBeLessThan(0.02);
    });
  });
  it('battery', async () => {
    const { internalResistanceOhm, openCircuitAtStartV } = truth['battery-steps'];
    const found = await look('battery-steps', 'battery', write);
    expect(off(valueOf(found, 'internalResistance'), internalResistanceOhm)).toBeLessThan(0.03);
    expect(Math.abs(valueOf(found, 'openCircuitVoltage') - openCircuitAtStartV)).toBeLessThan(0.15);
  });
});
