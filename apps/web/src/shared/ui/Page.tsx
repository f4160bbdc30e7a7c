import { useEffect, type ReactNode } from 'react';

interface Props {
  readonly title: string;
  readonly crumb?: ReactNode;
  readonly actions?: ReactNode;
  readonly children: ReactNode;
}

/** A place's frame: where it is, what it is called, what can be done. */
export function Page({ title, crumb, actions, children }: Props) {
  useEffect(() => {
    document.title = `${title} · Ebrix`;
  }, [title]);
  return (
    <main className="page" id="main">
      <div className="page-head">
        <div>
          {crumb && <div className="crumb">{crumb}</div>}
          <h1>{title}</h1>
        </div>
        {actions && <div className="actions">{actions}</div>}
      </div>
      {children}
    </main>
  );
}
