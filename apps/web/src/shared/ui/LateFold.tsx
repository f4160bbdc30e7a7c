import type { ReactNode } from 'react';
import { useOpened } from './piece.js';

interface Props {
  readonly summary: string;
  readonly className: string;
  /** Of the piece that is in it. */
  readonly bring: () => Promise<void>;
  readonly children: ReactNode;
}

/** A fold whose piece comes when it is first opened, and stays: what is typed in it is not lost when it is closed. */
export function LateFold({ summary, className, bring, children }: Props) {
  const { value: isDrawn, open } = useOpened({ bring });
  return (
    <details className={className} onToggle={({ currentTarget }) => currentTarget.open && void open(true)}>
      <summary>{summary}</summary>
      {isDrawn && children}
    </details>
  );
}
