import type { ManualReadingsDto } from '@ebrix/contract';
import { passesOf } from '@ebrix/core/analysis';
import { useUnits } from '../../shared/preferences/index.js';
import { formatClock, formatQuantity } from '../../shared/format/format-quantity.js';

/** What was timed and read off by hand, as it was written down. */
export function ManualReadings({ manualReadings }: { readonly manualReadings: ManualReadingsDto }) {
  const system = useUnits();
  const passes = passesOf(manualReadings.laps);
  const rows: [string, string][] = [
    ...passes.map(({ direction, seconds }, k): [string, string] => [
      `Pass ${k + 1}${direction === -1 ? ', reversed' : ''}`,
      `${formatClock(seconds)} (${seconds.toFixed(1)} s)`,
    ]),
    ...(manualReadings.tripDistanceKm === undefined
      ? []
      : [['Trip distance', formatQuantity(manualReadings.tripDistanceKm, 'km', system)] as [string, string]]),
    ...(manualReadings.displayMeanKmh === undefined
      ? []
      : [
          ['Average speed on display', formatQuantity(manualReadings.displayMeanKmh, 'km/h', system)] as [
            string,
            string,
          ],
        ]),
    ...(manualReadings.restVoltageStartV === undefined
      ? []
      : [['Rest voltage, start', `${manualReadings.restVoltageStartV} V`] as [string, string]]),
    ...(manualReadings.restVoltageEndV === undefined
      ? []
      : [['Rest voltage, end', `${manualReadings.restVoltageEndV} V`] as [string, string]]),
    ...(manualReadings.wallEnergyWh === undefined
      ? []
      : [['Socket energy', `${manualReadings.wallEnergyWh} Wh`] as [string, string]]),
    ...(manualReadings.temperatures ?? []).map(({ place, elapsedS, valueC }): [string, string] => [
      `${place[0]!.toUpperCase()}${place.slice(1)} at ${formatClock(elapsedS)}`,
      formatQuantity(valueC, '°C', system),
    ]),
    ...(manualReadings.heartRates ?? []).map(({ elapsedS, bpm }): [string, string] => [
      `Heart at ${formatClock(elapsedS)}`,
      `${bpm} bpm`,
    ]),
  ];
  if (rows.length === 0) return null;
  return (
    <section className="section">
      <h2>Read by hand</h2>
      <dl className="facts">
        {rows.map(([what, value], k) => (
          <div key={k} style={{ display: 'contents' }}>
            <dt>{what}</dt>
            <dd className="figures">{value}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
