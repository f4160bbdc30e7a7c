import { Link } from 'react-router';
import type { Trial } from '@ebrix/contract';

/** Setups of a trial that must not be ridden yet; nothing when all gates are passed or waived. */
export function OpenClearance({ trial }: { readonly trial: Trial }) {
  const shut = trial.setups.filter(({ openClearance }) => openClearance > 0);
  if (shut.length === 0) return null;
  return (
    <p className="caution">
      Not to be ridden yet:{' '}
      {shut.map(({ letter, name, setupId, openClearance }, k) => (
        <span key={setupId}>
          {k > 0 && '; '}
          {letter}, {name}, with{' '}
          <Link to={`/bench/setups/${setupId}/gates`}>
            {openClearance} {openClearance === 1 ? 'gate' : 'gates'} open
          </Link>
        </span>
      ))}
      . Pass them on the bike, or waive them in writing.
    </p>
  );
}
