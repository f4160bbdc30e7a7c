import { RIDE_STATE_LABELS, stopSentence as sentenceOf } from '@ebrix/core/ride';
import { convertUnit, displayUnit, type UnitSystem } from '@ebrix/core/units';
import type { Live, Ride, RideMark } from '@ebrix/contract';
import { formatClock, unitText } from '../../shared/format/format-quantity.js';

export const STATE_LABELS = RIDE_STATE_LABELS;

const degrees = (celsius: number, system: UnitSystem): string => {
  const unit = displayUnit('°C', system);
  return `${Math.round(convertUnit(celsius, '°C', unit))} ${unit}`;
};

/** What is too hot, too low or not safe, and what to do now. */
export function stopSentence(stop: Live['stops'][number], system: UnitSystem): string {
  return sentenceOf(stop, (celsius) => degrees(celsius, system));
}

const PLACES = { motor: 'Motor', controller: 'Controller', battery: 'Battery', air: 'Air' } as const;

export function markSentence(
  mark: Pick<RideMark, 'direction' | 'elapsedS' | 'kind' | 'place' | 'text' | 'value'>,
  system: UnitSystem,
): string {
  const at = mark.elapsedS === null ? '' : `${formatClock(mark.elapsedS)} `;
  const back = mark.direction === -1 ? ', reversed' : '';
  switch (mark.kind) {
    case 'start':
      return `${at}start gate${back}`;
    case 'lap':
      return `${at}lap gate${back}`;
    case 'finish':
      return `${at}finish gate${back}`;
    case 'event':
      return `${at}event ${mark.text}`;
    case 'temperature':
      return `${at}${PLACES[mark.place ?? 'motor'].toLowerCase()} ${degrees(mark.value ?? 0, system)}`;
    case 'gauge':
      return `${at}${mark.value} bars`;
    case 'voltage':
      return `${at}${mark.value} V`;
    case 'heart-rate':
      return `${at}${mark.value} bpm`;
    case 'level':
      return `${at}level ${mark.value}`;
    case 'note':
      return `${at}${mark.text}`;
    case 'brake-trouble':
      return `${at}brake trouble`;
  }
}

/** A reading large enough for sunlight: no more digits than the eye needs. */
export function reading(
  value: number,
  unit: Live['values'][number]['unit'],
  system: UnitSystem,
): { value: string; unit: string } {
  const shown = displayUnit(unit, system);
  const converted = convertUnit(value, unit, shown);
  const digits = unit === 'km/h' || unit === 'V' || unit === 'A' ? 1 : 0;
  return { value: converted.toFixed(digits), unit: unitText(shown) };
}

/** How many of the preparations are done. */
export function preparedCount({ preparation: p }: Ride): { done: number; of: number; lacking: string[] } {
  const steps: [string, boolean][] = [
    ['charge and rest', p.isChargedAndRested],
    ['start voltage', p.startVoltageV !== null],
    ['safety checks', p.isClearanceConfirmed],
    ['weather', p.airTemperatureC !== null && p.windMps !== null],
    ['tyres', p.tyrePressureBar !== null],
    ['level', p.isLevelSet],
  ];
  const lacking = steps.filter(([, isDone]) => !isDone).map(([what]) => what);
  return { done: steps.length - lacking.length, of: steps.length, lacking };
}
