import { Link } from 'react-router';

interface Props {
  readonly to: string;
  readonly label: string;
  readonly isMain?: boolean;
}

/** A link to another place that looks like a button. */
export function LinkButton({ to, label, isMain = false }: Props) {
  return (
    <Link className={isMain ? 'button main' : 'button'} to={to}>
      {label}
    </Link>
  );
}
