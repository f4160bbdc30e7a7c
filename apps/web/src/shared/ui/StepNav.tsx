import { Link, useNavigate } from 'react-router';
import { useShortcut } from '../shortcuts/index.js';

export interface NavStep {
  readonly key: string;
  readonly to: string;
  readonly name: string;
  readonly says: string;
  /** The key that leads there; none: the number of its place. */
  readonly shortcut?: string;
}

/** The parts of a place side by side, each reached by a number key; how many there are never changes while it stands. */
export function StepNav({
  label,
  steps,
  here,
}: {
  readonly label: string;
  readonly steps: readonly NavStep[];
  readonly here: string;
}) {
  const navigate = useNavigate();
  steps.forEach(({ to, name, shortcut }, k) => {
    // The number of steps never changes, so neither does the order of hooks.
    // oxlint-disable-next-line react/rules-of-hooks
    useShortcut(shortcut ?? String(k + 1), `To ${name}`, () => void navigate(to));
  });
  return (
    <nav className="steps" aria-label={label}>
      {steps.map(({ key, to, name, says }) => (
        <Link key={key} to={to} className={key === here ? 'here' : ''} aria-current={key === here ? 'step' : undefined}>
          <strong>{name}</strong>
          <span>{says}</span>
        </Link>
      ))}
    </nav>
  );
}
