import { Button } from 'antd';
import { errorDetails } from '../api/base-api.js';

/** One thing that two windows say differently. */
export interface Difference {
  readonly label: string;
  readonly theirs: string;
  readonly mine: string;
}
interface Props {
  /** What the other window stored, in a few words. */
  readonly what: string;
  readonly differences: readonly Difference[];
  readonly keepLabel: string;
  readonly takeLabel: string;
  readonly isBusy?: boolean;
  readonly onKeepMine: () => void;
  readonly onTakeTheirs: () => void;
}

/** Two windows changed one thing: both versions side by side, and a choice. Nothing is lost until it is made. */
export function ConflictChoice({ what, differences, keepLabel, takeLabel, isBusy = false, ...act }: Props) {
  return (
    <div className="problem mt-12 mb-12 mx-0 grid gap-10" role="alert">
      <p>
        <strong>This was changed in another window.</strong> {what}
      </p>
      {differences.length === 0 ? (
        <p>Both are the same: nothing is lost either way.</p>
      ) : (
        <div className="scroll-x">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Difference</th>
                <th scope="col">Saved in the other window</th>
                <th scope="col">Here, not saved yet</th>
              </tr>
            </thead>
            <tbody>
              {differences.map(({ label, theirs, mine }) => (
                <tr key={label}>
                  <td>{label}</td>
                  <td>{theirs}</td>
                  <td>{mine}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <div className="actions">
        <Button type="primary" loading={isBusy} onClick={act.onKeepMine}>
          {keepLabel}
        </Button>
        <Button onClick={act.onTakeTheirs}>{takeLabel}</Button>
      </div>
    </div>
  );
}

/** What the server holds now, when it refused because of another window; undefined for any other error. */
export function storedMeanwhile(error: unknown): unknown {
  const details = errorDetails(error, 'changed-meanwhile');
  return (details as { current?: unknown } | undefined)?.current;
}
