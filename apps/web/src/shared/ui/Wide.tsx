import type { ReactNode } from 'react';

/** What may be wider than the screen scrolls by itself, with the keys too. */
export function Wide({
  label,
  className = '',
  children,
}: {
  readonly label: string;
  readonly className?: string;
  readonly children: ReactNode;
}) {
  return (
    <div className={`scroll-x ${className}`} tabIndex={0} role="region" aria-label={label}>
      {children}
    </div>
  );
}
