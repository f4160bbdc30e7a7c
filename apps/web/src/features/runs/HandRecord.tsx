import type { HandRecordDto } from '@ebrix/contract';
import { passesOf } from '@ebrix/core/tests';
import { useUnits } from '../../app/hooks.js';
import { formatClock, formatQuantity } from '../../shared/format/format-quantity.js';

/** What was timed and read off by hand, as it was written down. */
export function HandRecord({ hand }: { readonly hand: HandRecordDto }) {
  const system = useUnits();
  const passes = passesOf(hand.laps);
  const rows: [string, string][] = [
    ...passes.map(({ direction, seconds }, k): [string, string] => [
      `Pass ${k + 1}${direction === -1 ? ', the other way' : ''}`,
      `${formatClock(seconds)} (${seconds.toFixed(1)} s)`,
    ]),
    ...(hand.tripDistanceKm === undefined
      ? []
      : [['Trip distance', formatQuantity(hand.tripDistanceKm, 'km', system)] as [string, string]]),
    ...(hand.displayMeanKmh === undefined
      ? []
      : [['Mean speed shown', formatQuantity(hand.displayMeanKmh, 'km/h', system)] as [string, string]]),
    ...(hand.restVoltageStartV === undefined
      ? []
      : [['Rest voltage before', `${hand.restVoltageStartV} V`] as [string, string]]),
    ...(hand.restVoltageEndV === undefined
      ? []
      : [['Rest voltage after', `${hand.restVoltageEndV} V`] as [string, string]]),
    ...(hand.wallEnergyWh === undefined ? [] : [['From the socket', `${hand.wallEnergyWh} Wh`] as [string, string]]),
    ...(hand.temperatures ?? []).map(({ place, elapsedS, valueC }): [string, string] => [
      `${place[0]!.toUpperCase()}${place.slice(1)} at ${formatClock(elapsedS)}`,
      formatQuantity(valueC, '°C', system),
    ]),
    ...(hand.heartRates ?? []).map(({ elapsedS, bpm }): [string, string] => [
      `Heart at ${formatClock(elapsedS)}`,
      `${bpm} bpm`,
    ]),
  ];
  if (rows.length === 0) return null;
  return (
    <section className="section">
      <h2>Written down</h2>
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
