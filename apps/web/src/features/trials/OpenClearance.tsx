import { Link } from 'react-router';
import type { Trial } from '@ebrix/contract';

/** Setups of a trial that must not be ridden yet; nothing when all safety checks are passed or waived. */
export function OpenClearance({ trial }: { readonly trial: Trial }) {
  const shut = trial.setups.filter(({ openClearance }) => openClearance > 0);
  if (shut.length === 0) return null;
  return (
    <p className="caution">
      Do not ride yet:{' '}
      {shut.map(({ letter, name, setupId, openClearance }, k) => (
        <span key={setupId}>
          {k > 0 && '; '}
          {letter}, {name}, with{' '}
          <Link to={`/bench/setups/${setupId}/clearance`}>
            {openClearance} {openClearance === 1 ? 'safety check' : 'safety checks'} to do
          </Link>
        </span>
      ))}
      . Pass them at the bike, or waive them in writing.
    </p>
  );
}
