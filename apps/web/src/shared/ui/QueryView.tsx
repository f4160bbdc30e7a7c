import type { ReactNode } from 'react';
import { errorMessage } from '../api/base-api.js';
import { PlainButton } from './PlainButton.js';

export interface Query<T> {
  readonly data?: T | undefined;
  /** Of what is asked for now; `data` may still be of what was asked for before. */
  readonly currentData?: T | undefined;
  readonly error?: unknown;
  readonly refetch: () => unknown;
}

/**
 * Loading, failed and ready are each drawn. What is shown is always of the thing that is asked for now; with `keepPrevious` a
 * list stays while another filter of it loads. Where asking again failed, the page says that what it shows is from before.
 */
export function QueryView<T>({
  query,
  keepPrevious = false,
  children,
}: {
  readonly query: Query<T>;
  readonly keepPrevious?: boolean;
  readonly children: (data: T) => ReactNode;
}) {
  const data = keepPrevious && query.error === undefined ? query.data : query.currentData;
  if (data !== undefined)
    return (
      <>
        <StaleNotice query={query} />
        {children(data)}
      </>
    );
  if (query.error !== undefined)
    return (
      <div className="problem" role="alert">
        <p>{errorMessage(query.error)}</p>
        <Retry query={query} />
      </div>
    );
  return <Loading />;
}

/** What stands below it waits for its place (`theme.css`). */
export function Loading({ children = <span className="spinner" /> }: { readonly children?: ReactNode }) {
  return (
    <div className="loading" role="status" aria-label="Loading">
      {children}
    </div>
  );
}

/** Says that what is shown could not be brought up to date; nothing while it is. */
export function StaleNotice({ query }: { readonly query: Query<unknown> }) {
  if (query.error === undefined || query.currentData === undefined) return null;
  return (
    <div className="problem" role="alert">
      <p>This could not be brought up to date; it is shown as it was before. {errorMessage(query.error)}</p>
      <Retry query={query} />
    </div>
  );
}

function Retry({ query }: { readonly query: Query<unknown> }) {
  return (
    <PlainButton className="retry" onClick={() => void query.refetch()}>
      Try again
    </PlainButton>
  );
}

export function Problem({ error }: { readonly error: unknown }) {
  return (
    <div className="problem" role="alert">
      {errorMessage(error)}
    </div>
  );
}
