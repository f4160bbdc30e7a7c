import { Button } from 'antd';
import type { TrashEntry } from '@ebrix/contract';
import { useSessionQuery } from '../../entities/account/index.js';
import { formatAge, formatMoment } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { Wide } from '../../shared/ui/Wide.js';
import { useBringBackMutation, useDropFromTrashMutation, useTrashQuery } from './api.js';

const KIND_WORDS: Readonly<Record<string, string>> = {
  add_on: 'add-on',
  limit_profile: 'limits',
  intended_use: 'use',
  elsewhere_study: 'answer from elsewhere',
  kept_forecast: 'forecast',
  log_entry: 'logbook entry',
  experience_rating: 'rating',
  fitting_template: 'fitting template',
};

/** What was deleted, for a month, and the way back. */
export function DeletedTab() {
  const query = useTrashQuery();
  const { data: session } = useSessionQuery();
  const isOwner = session?.state === 'no-accounts' || session?.account?.role === 'owner';
  return (
    <>
      <p className="quiet mt-12">
        Kept for 30 days, with all that went with it. Runs that were deleted come back under Runs, photos where they
        were.
      </p>
      <QueryView query={query}>
        {(entries) =>
          entries.length === 0 ? (
            <div className="teach">
              <p>Nothing was deleted within the last 30 days.</p>
            </div>
          ) : (
            <Wide label="What was deleted">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">What</th>
                    <th scope="col">Kind</th>
                    <th scope="col">Deleted</th>
                    <th scope="col">
                      <span className="unseen">Actions</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {entries.map((entry) => (
                    <Row key={entry.id} entry={entry} isOwner={isOwner} />
                  ))}
                </tbody>
              </table>
            </Wide>
          )
        }
      </QueryView>
    </>
  );
}

function Row({
  entry: { id, at, kind, name, rows },
  isOwner,
}: {
  readonly entry: TrashEntry;
  readonly isOwner: boolean;
}) {
  const [bringBack, { isLoading }] = useBringBackMutation();
  const [drop] = useDropFromTrashMutation();
  const { failure, success } = useNotices();
  return (
    <tr>
      <th scope="row" className="pair">
        {name}
        {rows > 1 && <span className="quiet"> and what belongs to it</span>}
      </th>
      <td>{KIND_WORDS[kind] ?? kind}</td>
      <td className="figures" title={formatMoment(at)}>
        {formatAge(at)} ago
      </td>
      <td>
        <span className="actions justify-end">
          <Button
            size="small"
            loading={isLoading}
            aria-label={`Bring back ${name}`}
            onClick={() => void bringBack(id).then((answer) => !failure(answer) && success(`${name} is back.`))}
          >
            Bring back
          </Button>
          {isOwner && (
            <Button
              size="small"
              danger
              aria-label={`Delete ${name} for good`}
              onClick={() => void drop(id).then(failure)}
            >
              Delete for good
            </Button>
          )}
        </span>
      </td>
    </tr>
  );
}
