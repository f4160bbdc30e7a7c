/** The name itself where it is free, else the first free one of "name (2)", "name (3)" …; `taken` in small letters. */
export function nextName(name: string, taken: ReadonlySet<string>): string {
  if (!taken.has(name.toLowerCase())) return name;
  for (let k = 2; ; k++) {
    const next = `${name.slice(0, 74)} (${k})`;
    if (!taken.has(next.toLowerCase())) return next;
  }
}
