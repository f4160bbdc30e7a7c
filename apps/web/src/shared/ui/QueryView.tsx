import { Button, Spin } from 'antd';
import type { ReactNode } from 'react';
import { errorMessage } from '../api/base-api.js';

interface Query<T> {
  readonly data?: T | undefined;
  readonly error?: unknown;
  readonly refetch: () => unknown;
}

/** Loading, failed and ready are each drawn; once there, data stays while it is fetched again. */
export function QueryView<T>({
  query,
  children,
}: {
  readonly query: Query<T>;
  readonly children: (data: T) => ReactNode;
}) {
  if (query.data !== undefined) return <>{children(query.data)}</>;
  if (query.error !== undefined)
    return (
      <div className="problem" role="alert">
        <p>{errorMessage(query.error)}</p>
        <Button style={{ marginTop: 8 }} onClick={() => void query.refetch()}>
          Try again
        </Button>
      </div>
    );
  return (
    <div style={{ padding: 24 }} role="status" aria-label="Loading">
      <Spin />
    </div>
  );
}

export function Problem({ error }: { readonly error: unknown }) {
  return (
    <div className="problem" role="alert">
      {errorMessage(error)}
    </div>
  );
}
