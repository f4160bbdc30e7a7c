import type { HistoryEntry } from '@ebrix/contract';
import { formatMoment } from '../../shared/format/format-quantity.js';
import { Wide } from '../../shared/ui/Wide.js';

export function HistoryRows({ label, entries }: { readonly label: string; readonly entries: readonly HistoryEntry[] }) {
  return (
    <Wide label={label}>
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">When</th>
            <th scope="col">Who</th>
            <th scope="col">What</th>
          </tr>
        </thead>
        <tbody>
          {entries.map(({ id, at, who, summary }) => (
            <tr key={id}>
              <td className="figures">{formatMoment(at)}</td>
              <td>{who || <span className="quiet">at this machine</span>}</td>
              <td>{summary}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Wide>
  );
}
