import type { ManualReadingsDto } from '@ebrix/contract';
import { MOTOR_TOUCHES, passesOf } from '@ebrix/core/analysis';
import { useUnits } from '../../shared/preferences/index.js';
import { NUMBER_READINGS, SEVERAL_READINGS } from '../../entities/run/index.js';
import { formatClock, formatQuantity } from '../../shared/format/format-quantity.js';

/** An odometer of five figures is not rounded away. */
const ODOMETER_DIGITS = 7;
const DIGITS = 4;
/** What was timed and read off by hand, as it was written down. */
export function ManualReadings({ manualReadings }: { readonly manualReadings: ManualReadingsDto }) {
  const system = useUnits();
  const passes = passesOf(manualReadings.laps);
  const rows: [string, string][] = [
    ...passes.map(({ direction, seconds, lapPresses }, k): [string, string] => [
      ['Pass', k + 1, direction === -1 && '(reversed)', lapPresses > 0 && `with ${lapPresses} × lap gate`]
        .filter(Boolean)
        .join(' '),
      `${formatClock(seconds)} (${seconds.toFixed(1)} s)`,
    ]),
    ...NUMBER_READINGS.flatMap(([key, label, unit]): [string, string][] => {
      const value = manualReadings[key];
      return value === undefined
        ? []
        : [[label, formatQuantity(value, unit, system, key.startsWith('odometer') ? ODOMETER_DIGITS : DIGITS)]];
    }),
    ...(manualReadings.durationS === undefined
      ? []
      : [['Time by the watch', formatClock(manualReadings.durationS)] as [string, string]]),
    ...SEVERAL_READINGS.flatMap(([key, label, unit]): [string, string][] => {
      const times = manualReadings[key];
      return times ? [[label, `${times.join(', ')} ${unit}`]] : [];
    }),
    ...(manualReadings.barsOut ?? []).map(({ km, left }): [string, string] => [
      `A bar went out, ${left} left`,
      `at ${formatQuantity(km, 'km', system)}`,
    ]),
    ...(manualReadings.levelTable ?? []).map(({ level, speedKmh, powerW }): [string, string] => [
      `Level ${level}`,
      [
        ...(speedKmh === undefined ? [] : [formatQuantity(speedKmh, 'km/h', system)]),
        ...(powerW === undefined ? [] : [formatQuantity(powerW, 'W', system)]),
      ].join(', '),
    ]),
    ...(manualReadings.gaugeSeen ?? []).map(({ elapsedS, bars }): [string, string] => [
      `Bars at ${formatClock(elapsedS)}`,
      String(bars),
    ]),
    ...(manualReadings.levelsSeen ?? []).map(({ elapsedS, level }): [string, string] => [
      `Level at ${formatClock(elapsedS)}`,
      level,
    ]),
    ...(manualReadings.motorTouch === undefined
      ? []
      : [['Motor by hand', MOTOR_TOUCHES[manualReadings.motorTouch].label.toLowerCase()] as [string, string]]),
    ...(manualReadings.cutBacks === undefined
      ? []
      : [['Motor cut back', `${manualReadings.cutBacks} times`] as [string, string]]),
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
