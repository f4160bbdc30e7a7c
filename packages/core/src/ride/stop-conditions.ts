/** Limits beyond which nobody rides on. Null: not known, and said so. */
export interface RideLimits {
  readonly motorC: number | null;
  readonly controllerC: number | null;
  readonly batteryC: number | null;
  /** Whole pack, V: below it cells may be harmed. */
  readonly packV: number | null;
}
export interface RideReadings {
  readonly motorC?: number;
  readonly controllerC?: number;
  readonly batteryC?: number;
  readonly packV?: number;
  readonly hasBrakeTrouble?: boolean;
}
export type StopCode = 'motor-hot' | 'controller-hot' | 'battery-hot' | 'pack-low' | 'brake-trouble';
export interface StopCondition {
  readonly code: StopCode;
  readonly severity: 'caution' | 'stop';
  readonly value: number | null;
  readonly limit: number | null;
  /** Temperature to cool to before going on, °C. */
  readonly coolToC: number | null;
}

/** Usual limits of ordinary kits; a maker's own figure goes first. */
export const USUAL_LIMITS: RideLimits = { motorC: 95, controllerC: 75, batteryC: 50, packV: null };
const NEAR_K = 8;
const NEAR_V_SHARE = 0.03;
const COOL_BY_K = 35;

/** What has to stop the ride now, and what is near it; stops first. Limits are reached at the limit itself. */
export function stopConditions(limits: RideLimits, readings: RideReadings): StopCondition[] {
  const found: StopCondition[] = [];
  if (readings.hasBrakeTrouble)
    found.push({ code: 'brake-trouble', severity: 'stop', value: null, limit: null, coolToC: null });
  const hot = (code: StopCode, value: number | undefined, limit: number | null): void => {
    if (value === undefined || limit === null || !(value >= limit - NEAR_K)) return;
    found.push({
      code,
      severity: value >= limit ? 'stop' : 'caution',
      value,
      limit,
      coolToC: Math.round((limit - COOL_BY_K) / 5) * 5,
    });
  };
  hot('motor-hot', readings.motorC, limits.motorC);
  hot('controller-hot', readings.controllerC, limits.controllerC);
  hot('battery-hot', readings.batteryC, limits.batteryC);
  const { packV } = readings;
  if (packV !== undefined && limits.packV !== null && packV > 0 && packV <= limits.packV * (1 + NEAR_V_SHARE))
    found.push({
      code: 'pack-low',
      severity: packV <= limits.packV ? 'stop' : 'caution',
      value: packV,
      limit: limits.packV,
      coolToC: null,
    });
  return stopsFirst(found);
}

export function stopsFirst(conditions: readonly StopCondition[]): StopCondition[] {
  return [...conditions].sort((a, b) => Number(b.severity === 'stop') - Number(a.severity === 'stop'));
}
