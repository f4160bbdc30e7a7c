import { LIFE_KINDS } from '@ebrix/core/life';
import { Button, Popconfirm } from 'antd';
import { useState } from 'react';
import type { LogEntry, Subject } from '@ebrix/contract';
import { formatDay, formatMoney, formatQuantity } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { Photos } from '../photo/index.js';
import { useDeleteEntryMutation, useListEntriesQuery } from './api.js';
import { EntryForm, type SubjectChoice } from './EntryForm.js';
import { entryWords } from './entry-words.js';

interface Props {
  readonly subject?: Subject;
  readonly kind?: string;
  readonly choices: readonly SubjectChoice[];
}

/** What was written down, newest first; more is fetched by asking for it. */
export function EntryList({ subject, kind, choices }: Props) {
  const [ends, setEnds] = useState<readonly string[]>([]);
  return (
    <div className="entries">
      <EntryPart
        key="first"
        subject={subject}
        kind={kind}
        choices={choices}
        isLast={ends.length === 0}
        onMore={(next) => setEnds([...ends, next])}
      />
      {ends.map((after, k) => (
        <EntryPart
          key={after}
          subject={subject}
          kind={kind}
          after={after}
          choices={choices}
          isLast={k === ends.length - 1}
          onMore={(next) => setEnds([...ends, next])}
        />
      ))}
    </div>
  );
}

function EntryPart({
  subject,
  kind,
  after,
  choices,
  isLast,
  onMore,
}: {
  readonly subject: Subject | undefined;
  readonly kind: string | undefined;
  readonly after?: string;
  readonly choices: readonly SubjectChoice[];
  readonly isLast: boolean;
  readonly onMore: (next: string) => void;
}) {
  const query = useListEntriesQuery({ subject, kind, after });
  return (
    <QueryView query={query} keepPrevious>
      {({ entries, next }) =>
        entries.length === 0 ? (
          <p className="quiet">{after === undefined ? 'Nothing was written down yet.' : null}</p>
        ) : (
          <>
            <ul className="entry-rows">
              {entries.map((entry) => (
                <EntryRow key={entry.id} entry={entry} isNamed={subject === undefined} choices={choices} />
              ))}
            </ul>
            {isLast && next !== null && <Button onClick={() => onMore(next)}>Show earlier ones</Button>}
          </>
        )
      }
    </QueryView>
  );
}

function EntryRow({
  entry,
  isNamed,
  choices,
}: {
  readonly entry: LogEntry;
  readonly isNamed: boolean;
  readonly choices: readonly SubjectChoice[];
}) {
  const system = useUnits();
  const notices = useNotices();
  const [remove] = useDeleteEntryMutation();
  const [isChanging, setChanging] = useState(false);
  const [isShown, setShown] = useState(false);
  const { details, day, odometerKm, cost, by } = entry;
  const name = `${LIFE_KINDS[details.kind]} of ${formatDay(day)}`;
  if (isChanging)
    return (
      <li>
        <EntryForm choices={choices} stored={entry} onDone={() => setChanging(false)} />
      </li>
    );
  return (
    <li className={`entry-row of-${details.kind}`}>
      <span className="figures entry-day">{formatDay(day)}</span>
      <span className="entry-what">
        <strong>{LIFE_KINDS[details.kind]}</strong>
        {isNamed && <span>{entry.subjectName}</span>}
      </span>
      <span className="entry-says">
        {entryWords(details, system)}
        <span className="quiet">
          {[
            odometerKm === null ? '' : `at ${formatQuantity(odometerKm, 'km', system, 5)}`,
            cost ? formatMoney(cost) : '',
            by,
          ]
            .filter((words) => words !== '')
            .map((words) => ` · ${words}`)}
        </span>
      </span>
      <span className="entry-act">
        {details.kind === 'fault' && (
          <Button
            size="small"
            aria-expanded={isShown}
            aria-label={`Photos, ${name}`}
            onClick={() => setShown(!isShown)}
          >
            Photos
          </Button>
        )}
        <Button size="small" aria-label={`Change ${name}`} onClick={() => setChanging(true)}>
          Change
        </Button>
        <Popconfirm
          title="Delete this entry?"
          okText="Delete"
          cancelText="Keep it"
          onConfirm={() => void remove(entry).then(notices.failure)}
        >
          <Button size="small" aria-label={`Delete ${name}`}>
            Delete
          </Button>
        </Popconfirm>
      </span>
      {isShown && (
        <div className="entry-photos">
          <Photos owner="log-entry" ownerId={entry.id} />
        </div>
      )}
    </li>
  );
}
