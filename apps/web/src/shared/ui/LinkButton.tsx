import { Button } from 'antd';
import type { MouseEvent } from 'react';
import { useNavigate } from 'react-router';

interface Props {
  readonly to: string;
  readonly label: string;
  readonly isMain?: boolean;
}

/** A link to another place that looks like a button. */
export function LinkButton({ to, label, isMain = false }: Props) {
  const navigate = useNavigate();
  const go = (event: MouseEvent): void => {
    // A new tab is the browser's business.
    if (event.ctrlKey || event.metaKey || event.shiftKey) return;
    event.preventDefault();
    void navigate(to);
  };
  return (
    <Button type={isMain ? 'primary' : 'default'} href={to} onClick={go}>
      {label}
    </Button>
  );
}
