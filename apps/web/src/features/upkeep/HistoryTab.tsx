import { Button } from 'antd';
import { useState } from 'react';
import { HistoryRows, useHistoryQuery } from '../../entities/account/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';

const PAGE = 100;

/** What was stored, deleted, waived, and by whom; it is only ever added to. */
export function HistoryTab() {
  const [before, setBefore] = useState<number>();
  const query = useHistoryQuery(before === undefined ? {} : { before });
  return (
    <QueryView query={query} keepPrevious>
      {(entries) =>
        entries.length === 0 ? (
          <div className="teach">
            <p>Nothing was changed since this installation keeps a history.</p>
          </div>
        ) : (
          <>
            <HistoryRows label="What was done" entries={entries} />
            <p className="actions mt-12">
              {before !== undefined && <Button onClick={() => setBefore(undefined)}>Newest</Button>}
              {entries.length === PAGE && <Button onClick={() => setBefore(entries.at(-1)!.id)}>Earlier</Button>}
            </p>
          </>
        )
      }
    </QueryView>
  );
}
