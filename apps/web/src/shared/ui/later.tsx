import { lazy, Suspense, type ComponentType } from 'react';

/** A part that comes with its own piece of the program when it is first drawn. What stands around it is there before. */
export function later<Props extends object>(bring: () => Promise<ComponentType<Props>>): ComponentType<Props> {
  const Part = lazy(async () => ({ default: await bring() }));
  return function Later(props) {
    return (
      <Suspense fallback={<div role="status" aria-label="Loading" />}>
        <Part {...props} />
      </Suspense>
    );
  };
}
