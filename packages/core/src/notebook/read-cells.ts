/** Values out of a cell as people write it; undefined where it cannot be read. All of them take a comma for a point. */
export function readNumber(cell: string): number | undefined {
  const text = cell
    .trim()
    .replace(/[  ]/g, ' ')
    .replace(/\s*(km\/h|mph|km|mi|wh|kwh|v|w|a|kg|°?c|°?f|bpm|min|h|%|bars?)$/i, '')
    .replace(/^(\d{1,3})([ '’](\d{3}))+(?=$|[.,])/, (all) => all.replace(/[ '’]/g, ''));
  const number = /^[-−+]?\d+(?:[.,]\d+)?$/.test(text) ? Number(text.replace(',', '.').replace('−', '-')) : NaN;
  return Number.isFinite(number) ? number : undefined;
}

/** "5 3", "5 → 3", "5-3", "5/3", "41,8 / 38,2": before and after. One number alone is that after. */
export function readPair(cell: string): readonly [number | undefined, number] | undefined {
  const parts = cell
    .trim()
    .split(/\s*(?:→|->|–|—|\bto\b|\/|;)\s*|(?<=[\d%v])\s*-\s*(?=\d)|\s+/i)
    .filter((part) => part !== '' && !/^(v|%|km|mi|bars?|bpm)$/i.test(part))
    .map(readNumber);
  if (parts.includes(undefined)) return undefined;
  if (parts.length === 2) return [parts[0]!, parts[1]!];
  return parts.length === 1 ? [undefined, parts[0]!] : undefined;
}

/**
 * ISO, or day first with points or slashes. With slashes the month comes first where people write it so, and wherever the day
 * cannot be a month.
 */
export function readDay(cell: string, isMonthFirst = false): string | undefined {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(cell.trim());
  const other = /^(\d{1,2})[./](\d{1,2})[./](\d{2}|\d{4})$/.exec(cell.trim());
  let [year, month, day] = iso ? [iso[1]!, iso[2]!, iso[3]!] : other ? [other[3]!, other[2]!, other[1]!] : [];
  if (year === undefined || month === undefined || day === undefined) return undefined;
  if ((isMonthFirst && cell.includes('/') && Number(day) <= 12) || Number(month) > 12) [month, day] = [day, month];
  if (year.length === 2) year = `20${year}`;
  const text = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`;
  const at = new Date(`${text}T00:00:00Z`);
  return !Number.isNaN(at.getTime()) && at.toISOString().startsWith(text) ? text : undefined;
}

/**
 * A time in seconds with the step it was noted in. "25" and "25 min" are minutes, "1 h 05", "0:25:10" and "25 min 30 s" as they say.
 * "25:30" may be minutes or hours: a distance in km decides, since nobody rides at 300 or at 0.3 km/h.
 */
export function readDuration(
  cell: string,
  distanceKm?: number,
): { readonly seconds: number; readonly stepS: number } | undefined {
  const text = cell.trim().toLowerCase();
  const three = /^(\d{1,2}):([0-5]?\d):([0-5]?\d(?:[.,]\d+)?)$/.exec(text);
  if (three)
    return { seconds: 3600 * Number(three[1]) + 60 * Number(three[2]) + Number(three[3]!.replace(',', '.')), stepS: 1 };
  const two = /^(\d{1,3}):([0-5]\d)$/.exec(text);
  if (two) {
    const [a, b] = [Number(two[1]), Number(two[2])];
    const asHours = { seconds: 3600 * a + 60 * b, stepS: 60 };
    const asMinutes = { seconds: 60 * a + b, stepS: 1 };
    const isLikely = ({ seconds }: { seconds: number }): boolean => {
      const kmh = ((distanceKm ?? NaN) * 3600) / seconds;
      return kmh >= SLOWEST_KMH && kmh <= FASTEST_KMH;
    };
    if (distanceKm !== undefined && isLikely(asHours) !== isLikely(asMinutes))
      return isLikely(asHours) ? asHours : asMinutes;
    return a <= MOST_HOURS ? asHours : asMinutes;
  }
  const words =
    /^(?:(\d+(?:[.,]\d+)?)\s*h(?:ours?)?)?\s*(?:(\d+(?:[.,]\d+)?)\s*(?:m|min|minutes)?)?\s*(?:(\d+(?:[.,]\d+)?)\s*s(?:ec)?)?$/.exec(
      text,
    );
  if (!words || words.slice(1).every((part) => part === undefined)) return undefined;
  const [hours = 0, minutes = 0, seconds = 0] = words.slice(1).map((part) => Number((part ?? '0').replace(',', '.')));
  const total = 3600 * hours + 60 * minutes + seconds;
  return total > 0 ? { seconds: total, stepS: words[3] === undefined ? 60 : 1 } : undefined;
}
const SLOWEST_KMH = 4;
const FASTEST_KMH = 70;
const MOST_HOURS = 8;
