import { lazy, Suspense, useCallback, useState, type ComponentType } from 'react';
import { postNotice } from './notice-queue.js';

/** A part of a place that comes with a piece of the program of its own. */
export interface Piece<Props extends object> {
  /** When it has come, it is drawn at once. */
  readonly bring: () => Promise<void>;
  /** Brings itself if nobody did; what stands around it is there before. */
  readonly Part: ComponentType<Props>;
}

export function piece<Props extends object>(load: () => Promise<ComponentType<Props>>): Piece<Props> {
  let brought: ComponentType<Props> | undefined;
  const bring = async (): Promise<void> => void (brought ??= await load());
  const Late = lazy(async () => ({ default: brought ?? (await load()) }));
  function Part(props: Props) {
    // As it was first drawn: what was typed in it would be lost with the other.
    const [Drawn] = useState(() => brought);
    if (Drawn) return <Drawn {...props} />;
    return (
      <Suspense fallback={<div role="status" aria-label="Loading" />}>
        <Late {...props} />
      </Suspense>
    );
  }
  return { bring, Part };
}

interface Opened<Value> {
  /** What it was opened with; undefined while it is closed. */
  readonly value: Value | undefined;
  /** Whether it came. */
  readonly open: (value: Value) => Promise<boolean>;
  readonly close: () => void;
}

/** A form of a piece of its own that a hand opens: when it has come, and a notice where it does not. */
export function useOpened<Value = true>({ bring }: Pick<Piece<object>, 'bring'>): Opened<Value> {
  const [value, setValue] = useState<Value>();
  const open = useCallback(
    async (wanted: Value): Promise<boolean> => {
      try {
        await bring();
      } catch {
        postNotice({
          kind: 'error',
          title: 'This could not be opened: the server does not answer. Try again in a moment.',
        });
        return false;
      }
      setValue(wanted);
      return true;
    },
    [bring],
  );
  const close = useCallback(() => setValue(undefined), []);
  return { value, open, close };
}
