/**
 * What was typed before a reload, or undefined: where it cannot be read, or `parse` says that it no longer fits the form (a
 * later version of the program has other fields), it is dropped instead of breaking the page.
 */
export function readDraft<T>(storage: Storage, key: string, parse: (value: unknown) => T | undefined): T | undefined {
  const text = storage.getItem(key);
  if (text === null) return undefined;
  try {
    const draft = parse(JSON.parse(text));
    if (draft !== undefined) return draft;
  } catch {
    // Falls through: what cannot be read is dropped.
  }
  storage.removeItem(key);
  return undefined;
}

type Fields = Readonly<Record<string, unknown>>;

export function isFields(value: unknown): value is Fields {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/**
 * The fields of a draft that still fit the form: those it has, of the kind it has there (a list stays a list, a group a
 * group). A field that is empty in the form takes any plain value.
 */
export function fittingFields(draft: unknown, form: Fields): Fields {
  if (!isFields(draft)) return {};
  return Object.fromEntries(
    Object.entries(draft).flatMap(([name, value]): [string, unknown][] => {
      if (value === undefined || value === null) return [[name, value]];
      const known = form[name];
      if (isFields(known)) return isFields(value) ? [[name, { ...known, ...fittingFields(value, known) }]] : [];
      if (Array.isArray(known)) return Array.isArray(value) ? [[name, value]] : [];
      const isPlain = typeof value !== 'object';
      return isPlain || known === undefined || known === null ? [[name, value]] : [];
    }),
  );
}

/** Takes every draft away: the way out when a page breaks on one. True when there were some. */
export function dropDrafts(storage: Storage): boolean {
  const keys = Object.keys(storage).filter((key) => key.startsWith('draft.'));
  keys.forEach((key) => storage.removeItem(key));
  return keys.length > 0;
}
