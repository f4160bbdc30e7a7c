import { Button } from 'antd';
import type { Ride, RideMarkInput } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { useIntoLogbook } from '../../entities/life/index.js';
import { useUndoMarkMutation } from './api.js';
import { markSentence } from './ride-labels.js';

/** Marks that may tell of a fault. */
function isTrouble({ kind }: RideMarkInput): boolean {
  return kind === 'brake-trouble' || kind === 'note';
}

/** What was marked, newest first, each with its undo; those not on the server yet say so. */
export function MarkList({
  ride,
  waiting,
  newest,
}: {
  readonly ride: Ride;
  readonly waiting: readonly RideMarkInput[];
  readonly newest?: number;
}) {
  const system = useUnits();
  const [undo] = useUndoMarkMutation();
  const intoLogbook = useIntoLogbook();
  const known = new Set(ride.marks.map(({ id }) => id));
  const unsent = waiting.filter(({ id }) => !known.has(id));
  // Where only the newest is shown, an older one does not stand in for it: its undo would be pressed for the one just made.
  const room = newest === undefined ? undefined : Math.max(0, newest - unsent.length);
  const marks = [...ride.marks].sort((a, b) => b.at.localeCompare(a.at)).slice(0, room);
  return (
    <ul className="console-marked" aria-label="Marks" aria-live="polite">
      {unsent.map((mark) => (
        <li key={mark.id} className="quiet">
          {markSentence(mark, system)} (kept here, not sent yet)
        </li>
      ))}
      {marks.map((mark) => (
        <li key={mark.id}>
          <span style={mark.isUndone ? { textDecoration: 'line-through', color: 'var(--ink-2)' } : {}}>
            {markSentence(mark, system)}
          </span>
          {isTrouble(mark) && !mark.isUndone && newest === undefined && (
            <Button
              onClick={() =>
                void intoLogbook(
                  {
                    day: mark.at.slice(0, 10),
                    by: '',
                    part: mark.kind === 'brake-trouble' ? 'brake' : 'other',
                    effect: mark.kind === 'brake-trouble' ? 'danger' : 'nuisance',
                    words: mark.text || 'Brake trouble on a ride',
                  },
                  { kind: 'setup', id: ride.setup.id },
                  `mark:${mark.id}`,
                )
              }
            >
              Into the logbook
            </Button>
          )}
          <Button onClick={() => void undo({ id: ride.id, markId: mark.id, undone: !mark.isUndone })}>
            {mark.isUndone ? 'Restore' : 'Undo'}
          </Button>
        </li>
      ))}
    </ul>
  );
}
