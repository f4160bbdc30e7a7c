import { useDueEverywhereQuery } from './api.js';

/** How much is due on all bikes, beside the place where it stands; nothing while nothing is. */
export default function DueCount() {
  const { data = [] } = useDueEverywhereQuery();
  const count = data.reduce(
    (sum, { due, followUps }) => sum + due.filter(({ state }) => state !== 'soon').length + followUps.length,
    0,
  );
  if (count === 0) return null;
  return (
    <>
      <span className="place-count" aria-hidden="true">
        {count > 99 ? '99+' : count}
      </span>
      <span className="unseen">, {count} due</span>
    </>
  );
}
