import { useEffect, useRef, useState } from 'react';
import type { Ride } from '@ebrix/contract';
import { useChangeRideMutation } from './api.js';

type Part = 'after' | 'preparation';
const SAVE_AFTER_MS = 500;

/** Typed values are shown at once and stored a moment later; what another phone stored meanwhile is taken in. */
export function useDraft<P extends Part>(
  ride: Ride,
  part: P,
): {
  values: Ride[P];
  /** False while a typed number cannot be read. */
  isReadable: boolean;
  change: (values: Partial<Ride[P]>) => void;
  /** Stores what is typed now; false when it could not be. */
  flush: () => Promise<boolean>;
  isSaving: boolean;
  error: unknown;
} {
  const [typed, setTyped] = useState<Partial<Ride[P]>>({});
  const [save, { error, isLoading }] = useChangeRideMutation();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const latest = useRef({ ride, typed });
  useEffect(() => {
    latest.current = { ride, typed };
  });
  const flush = async (): Promise<boolean> => {
    clearTimeout(timer.current);
    const { ride: now, typed: parts } = latest.current;
    const readable = Object.fromEntries(Object.entries(parts).filter(([, value]) => isReadableValue(value)));
    if (Object.keys(readable).length === 0) return true;
    const result = await save({ id: now.id, version: now.version, [part]: { ...now[part], ...readable } });
    if (!('data' in result) || !result.data) return false;
    setTyped(
      (before) =>
        Object.fromEntries(Object.entries(before).filter(([key, value]) => readable[key] !== value)) as Partial<
          Ride[P]
        >,
    );
    return true;
  };
  useEffect(() => () => void flush(), []);
  return {
    values: { ...ride[part], ...typed },
    isReadable: Object.values(typed).every(isReadableValue),
    change: (values) => {
      setTyped((before) => ({ ...before, ...values }));
      clearTimeout(timer.current);
      timer.current = setTimeout(() => void flush(), SAVE_AFTER_MS);
    },
    flush,
    isSaving: isLoading,
    error,
  };
}

function isReadableValue(value: unknown): boolean {
  return !(typeof value === 'number' && Number.isNaN(value));
}
