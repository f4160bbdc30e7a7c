import { Button } from 'antd';
import type { BackupList } from '@ebrix/contract';
import { formatAge, formatMoment, plain } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useBackupsQuery, useMakeBackupMutation } from './api.js';
import { Wide } from '../../shared/ui/Wide.js';
import { RunningPart } from './RunningPart.js';

/** Copies of everything: how old the newest is, whether it was tried, and one button. */
export function BackupsTab() {
  const query = useBackupsQuery();
  return (
    <>
      <QueryView query={query}>{(list) => <Shown list={list} />}</QueryView>
      <RunningPart />
    </>
  );
}

function Shown({ list: { folder, backups, problem } }: { readonly list: BackupList }) {
  const [make, { isLoading }] = useMakeBackupMutation();
  const { failure, success } = useNotices();
  const newest = backups[0];
  const tried = backups.find(({ verified }) => verified !== null)?.verified;
  if (folder === null)
    return (
      <div className="teach">
        <p>
          This server makes no backups: it was started against a database of another’s, without EBRIX_BACKUPS and
          EBRIX_PG_BIN. What looks after that database has to.
        </p>
      </div>
    );
  return (
    <>
      <section aria-label="Newest" className="mt-12">
        <p className="use-answer">
          {newest === undefined
            ? 'There is no backup yet.'
            : newest.madeAt === null
              ? 'The newest backup cannot be read.'
              : `The newest backup is ${formatAge(newest.madeAt)} old.`}{' '}
          {tried === null || tried === undefined
            ? 'None was tried yet.'
            : tried.isGood
              ? `One was restored and counted ${formatAge(tried.at)} ago: it is good.`
              : 'The one that was tried does not restore.'}
        </p>
        {problem !== null && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
        <p className="quiet">
          One is made every day and kept for two weeks, in {folder}. A disk that breaks takes them along: copy one
          elsewhere now and then.
        </p>
        <p className="actions mt-8">
          <Button
            type="primary"
            loading={isLoading}
            onClick={() => void make().then((answer) => !failure(answer) && success('Backed up.'))}
          >
            Back up now
          </Button>
        </p>
      </section>
      {backups.length > 0 && (
        <section className="section" aria-label="Backups">
          <Wide label="Backups there are">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Made</th>
                  <th scope="col">Why</th>
                  <th scope="col" className="number">
                    Size
                  </th>
                  <th scope="col">Tried</th>
                  <th scope="col">
                    <span className="unseen">File</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {backups.map(({ name, bytes, madeAt, reason, verified }) => (
                  <tr key={name}>
                    <th scope="row" className="pair figures">
                      {madeAt === null ? name : formatMoment(madeAt)}
                    </th>
                    <td>{reason ?? 'cannot be read'}</td>
                    <td className="number">{plain(bytes / 1e6, 3)} MB</td>
                    <td>
                      {verified === null ? (
                        <span className="quiet">not yet</span>
                      ) : verified.isGood ? (
                        `restored and counted, ${formatMoment(verified.at)}`
                      ) : (
                        <strong>{verified.message}</strong>
                      )}
                    </td>
                    <td className="number">
                      <a
                        href={`/api/upkeep/backups/${name}`}
                        download={name}
                        aria-label={`Save the backup of ${madeAt === null ? name : formatMoment(madeAt)}`}
                      >
                        Save
                      </a>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Wide>
        </section>
      )}
      <section className="section" aria-label="Bringing one back">
        <h2 className="mb-8">Bringing one back</h2>
        <p>
          At the machine, with Ebrix stopped: <code>npm run restore FILE</code>. What is there now is put aside, never
          dropped; with <code>-- --as NAME</code> the backup stands beside it instead.
        </p>
      </section>
    </>
  );
}
