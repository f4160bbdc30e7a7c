import { useCallback, useState } from 'react';
import { readDraft } from './stored-draft.js';

/** State that stays through reloads of this window until it is let go; what no longer fits is dropped. */
export function useKeptState<T>(
  key: string,
  initial: () => T,
  parse: (stored: unknown) => T | undefined,
): readonly [value: T, set: (change: (now: T) => T) => void, letGo: (value: T) => void] {
  const name = `draft.${key}`;
  const [value, setValue] = useState(() => readDraft(sessionStorage, name, parse) ?? initial());
  const set = useCallback(
    (change: (now: T) => T) =>
      setValue((now) => {
        const next = change(now);
        sessionStorage.setItem(name, JSON.stringify(next));
        return next;
      }),
    [name],
  );
  const letGo = useCallback(
    (next: T) => {
      sessionStorage.removeItem(name);
      setValue(next);
    },
    [name],
  );
  return [value, set, letGo];
}
