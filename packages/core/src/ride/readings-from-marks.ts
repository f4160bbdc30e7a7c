import { stopsFirst, type RideReadings, type StopCondition } from './stop-conditions.js';

/** A mark of a ride, as far as it says whether to stop. */
export interface ManualMark {
  readonly kind: string;
  /** When it was made, ISO 8601. */
  readonly at: string;
  readonly place: string | null;
  /** °C or V. */
  readonly value: number | null;
  readonly isUndone?: boolean;
}

const KEYS = { motor: 'motorC', controller: 'controllerC', battery: 'batteryC' } as const;

/** What was last read by hand of each thing, °C and V, and whether brake trouble was called out; undone marks do not count. */
export function readingsFromMarks(marks: readonly ManualMark[]): RideReadings {
  const readings: { -readonly [K in keyof RideReadings]: RideReadings[K] } = {};
  for (const { kind, place, value } of marks.filter(({ isUndone }) => !isUndone).sort(byTime)) {
    if (kind === 'brake-trouble') readings.hasBrakeTrouble = true;
    if (value === null) continue;
    if (kind === 'voltage') readings.packV = value;
    if (kind === 'temperature' && place !== null && place in KEYS) readings[KEYS[place as keyof typeof KEYS]] = value;
  }
  return readings;
}

function byTime(a: ManualMark, b: ManualMark): number {
  return Date.parse(a.at) - Date.parse(b.at);
}

/** One condition of each kind, the graver one where logger and hand both say something; stops first. */
export function graverOf(first: readonly StopCondition[], second: readonly StopCondition[]): StopCondition[] {
  const found = new Map<string, StopCondition>();
  for (const condition of [...first, ...second]) {
    const known = found.get(condition.code);
    if (!known || (known.severity === 'caution' && condition.severity === 'stop')) found.set(condition.code, condition);
  }
  return stopsFirst([...found.values()]);
}
