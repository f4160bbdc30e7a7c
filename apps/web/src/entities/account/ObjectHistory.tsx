import { useHistoryQuery } from './api.js';
import { HistoryRows } from './HistoryRows.js';

/** Who changed a thing, or what belongs to it; nothing where nobody did. */
export function ObjectHistory({ ids }: { readonly ids: readonly string[] }) {
  const { currentData = [] } = useHistoryQuery({ object: ids.slice(0, 100).join(',') });
  if (currentData.length === 0) return null;
  return (
    <details className="section">
      <summary>Who changed what ({currentData.length})</summary>
      <HistoryRows label="Who changed what" entries={currentData} />
    </details>
  );
}
