import { lazy, Suspense, useState, type ComponentType } from 'react';

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
