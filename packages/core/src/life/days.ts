const DAY_MS = 86_400_000;

/** Whole days from one ISO day to another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / DAY_MS);
}
export function addDays(day: string, days: number): string {
  return new Date(Date.parse(day) + Math.round(days) * DAY_MS).toISOString().slice(0, 10);
}
/** The same day of a later month, or that month's last. */
export function addMonths(day: string, months: number): string {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number];
  const last = new Date(Date.UTC(year, month - 1 + Math.round(months) + 1, 0));
  last.setUTCDate(Math.min(date, last.getUTCDate()));
  return last.toISOString().slice(0, 10);
}
