import { splitPasted, type CellProblem, type NotebookColumn, type NotebookKey } from '@ebrix/core/notebook';
import type { ClipboardEvent } from 'react';
import { nextRow, type Row } from './notebook-state.js';

interface Props {
  readonly columns: readonly (NotebookColumn & { readonly key: NotebookKey })[];
  readonly rows: readonly Row[];
  readonly problems: readonly (CellProblem & { readonly row: number })[];
  readonly isImperial: boolean;
  readonly onChange: (rows: readonly Row[]) => void;
  /** Several cells at once, as rows of cells. */
  readonly onPaste: (table: readonly (readonly string[])[]) => void;
}
const UNITS: Partial<Record<NotebookKey, readonly [string, string]>> = {
  distance: ['km', 'mi'],
  mean: ['km/h', 'mph'],
  highest: ['km/h', 'mph'],
  lowest: ['km/h', 'mph'],
};

/** Cells as on paper. Leaving the last row begins another; what is alike from ride to ride is carried down. */
export function NotebookGrid({ columns, rows, problems, isImperial, onChange, onPaste }: Props) {
  const set = (at: number, key: NotebookKey, value: string): void => {
    const next = rows.map((row, k) => (k === at ? { ...row, [key]: value } : row));
    const carried = carryDown(next, at, key, value);
    onChange(
      at === rows.length - 1 && value !== ''
        ? [...carried, nextRow(carried.at(-1), carried.at(-1)?.date ?? '')]
        : carried,
    );
  };
  const paste = (event: ClipboardEvent): void => {
    const table = splitPasted(event.clipboardData.getData('text/plain'));
    if (table.length < 2 && (table[0]?.length ?? 0) < 2) return;
    event.preventDefault();
    onPaste(table);
  };
  return (
    <div className="scroll-x notebook">
      <table className="rows" aria-label="Rides">
        <thead>
          <tr>
            <th scope="col" className="number">
              <span className="unseen">Row</span>
            </th>
            {columns.map(({ key, label, hint }) => (
              <th key={key} scope="col">
                {label}
                {UNITS[key] && `, ${UNITS[key][isImperial ? 1 : 0]}`}
                {hint && <div className="quiet text-12 weight-400">{hint}</div>}
              </th>
            ))}
            <th scope="col">
              <span className="unseen">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, at) => (
            <tr key={at}>
              <td className="number quiet">{at + 1}</td>
              {columns.map(({ key, label }) => {
                const problem = problems.find((one) => one.row === at && one.key === key);
                return (
                  <td key={key} className={`cell cell-${key}`}>
                    <input
                      aria-label={`${label}, row ${at + 1}`}
                      aria-invalid={problem !== undefined}
                      title={problem?.message}
                      value={row[key] ?? ''}
                      maxLength={400}
                      onPaste={paste}
                      onChange={({ target }) => set(at, key, target.value)}
                    />
                  </td>
                );
              })}
              <td>
                <button
                  type="button"
                  className="text-button"
                  aria-label={`Remove row ${at + 1}`}
                  onClick={() => onChange(rows.filter((_, k) => k !== at))}
                >
                  Remove
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const CARRIED: readonly NotebookKey[] = ['setup', 'course', 'way', 'level', 'test'];

/** A setup typed once goes down into the rows below that have none of their own yet. */
function carryDown(rows: readonly Row[], at: number, key: NotebookKey, value: string): readonly Row[] {
  if (!CARRIED.includes(key)) return rows;
  const before = value.slice(0, -1);
  return rows.map((row, k) => {
    const own = row[key] ?? '';
    return k > at && (own === '' || own === before) && rows.slice(at + 1, k).every((one) => (one[key] ?? '') === own)
      ? { ...row, [key]: value }
      : row;
  });
}
