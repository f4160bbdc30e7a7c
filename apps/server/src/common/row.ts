/** `wheelCircumferenceM` → `wheel_circumference_m`. */
export function toColumnName(field: string): string {
  return field.replaceAll(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
}

export function iso(value: Date): string {
  return value.toISOString();
}

export function isoOrNull(value: Date | null): string | null {
  return value === null ? null : value.toISOString();
}

/** The same object without its nulls: what is unknown is absent in the core. */
export function withoutNulls<T extends object>(value: T): { [K in keyof T]?: Exclude<T[K], null | undefined> } {
  return Object.fromEntries(Object.entries(value).filter(([, v]) => v !== null && v !== undefined)) as {
    [K in keyof T]?: Exclude<T[K], null | undefined>;
  };
}

/** Seconds of the epoch as an instant; null where they are not known or are no date. */
export function isoOfEpoch(epochS: number | null | undefined): string | null {
  const date = new Date(1000 * (epochS ?? NaN));
  return Number.isNaN(date.getTime()) ? null : date.toISOString();
}
