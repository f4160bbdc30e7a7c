import type { ReactNode } from 'react';

interface Props {
  readonly onClick: () => void;
  readonly isBusy?: boolean;
  readonly className?: string;
  readonly children: ReactNode;
}

/** A button that looks like those of the component library, without it: for the first page, and what it shares with the others. */
export function PlainButton({ onClick, isBusy = false, className = '', children }: Props) {
  return (
    <button
      type="button"
      className={`button ${className}`}
      aria-busy={isBusy}
      onClick={() => {
        if (!isBusy) onClick();
      }}
    >
      {isBusy && <span className="spinner" />}
      {children}
    </button>
  );
}
