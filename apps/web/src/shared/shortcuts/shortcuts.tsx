import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';

export interface Shortcut {
  readonly keys: string;
  readonly what: string;
}
interface Registry {
  readonly list: readonly Shortcut[];
  readonly add: (shortcut: Shortcut) => () => void;
}
const Context = createContext<Registry>({ list: [], add: () => () => undefined });

export function ShortcutProvider({ children }: { readonly children: ReactNode }) {
  const [list, setList] = useState<readonly Shortcut[]>([]);
  const add = useMemo(
    () => (shortcut: Shortcut) => {
      setList((known) => [...known, shortcut]);
      return () => setList((known) => known.filter((one) => one !== shortcut));
    },
    [],
  );
  const registry = useMemo(() => ({ list, add }), [list, add]);
  return <Context value={registry}>{children}</Context>;
}

export function useShortcutList(): readonly Shortcut[] {
  return useContext(Context).list;
}

/** Binds keys on this page and lists them under `?`. Not while typing in a field. */
export function useShortcut(keys: string, what: string, act: () => void): void {
  const { add } = useContext(Context);
  useHotkeys(
    keys,
    (event) => {
      event.preventDefault();
      act();
    },
    { useKey: true },
  );
  useEffect(() => add({ keys, what }), [keys, what, add]);
}
