import { useSyncExternalStore } from 'react';
import { convertUnit, displayUnit, type UnitName, type UnitSystem } from '@ebrix/core/units';

const KEY = 'along-units';
/** Where the pages of Ebrix keep what this browser chose. */
const OF_EBRIX = 'ebrix.preferences';

const isSystem = (value: unknown): value is UnitSystem => value === 'imperial' || value === 'metric';

/** As chosen on this phone, else as in Ebrix's own pages on it; anything odd in the store is ignored. */
function remembered(): UnitSystem {
  const own = localStorage.getItem(KEY);
  if (isSystem(own)) return own;
  try {
    const { units } = JSON.parse(localStorage.getItem(OF_EBRIX) ?? '{}') as { units?: unknown };
    return isSystem(units) ? units : 'metric';
  } catch {
    return 'metric';
  }
}

let chosen: UnitSystem | undefined;
const listeners = new Set<() => void>();

/** What is stored stays in the field's own units; this is what people read and type. */
export function unitSystem(): UnitSystem {
  return (chosen ??= remembered());
}
export function chooseUnits(system: UnitSystem): void {
  chosen = system;
  localStorage.setItem(KEY, system);
  listeners.forEach((tell) => tell());
}
export function useUnitSystem(): UnitSystem {
  return useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => void listeners.delete(tell);
  }, unitSystem);
}

/** `3.22 mi`. */
export function inUnits(value: number, unit: UnitName, system: UnitSystem, decimals = 0): string {
  const to = displayUnit(unit, system);
  return `${convertUnit(value, unit, to).toFixed(decimals)} ${to}`;
}
/** As it is typed: what is kept, and of another unit no more digits than somebody reads off. */
export function asTyped(value: number, unit: UnitName, system: UnitSystem): string {
  const to = displayUnit(unit, system);
  return String(to === unit ? value : Number(convertUnit(value, unit, to).toPrecision(5)));
}
/** What was typed, in the unit that is stored. */
export function fromTyped(value: number, unit: UnitName, system: UnitSystem): number {
  const to = displayUnit(unit, system);
  return to === unit ? value : Number(convertUnit(value, to, unit).toPrecision(8));
}
