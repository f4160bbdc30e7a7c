import {
  deliveryDays,
  DRILL_BEYOND_MM,
  drillStop,
  guessAgainstClock,
  toClaim,
  warrantyEnds,
  type FittingRecord,
} from '@ebrix/core/bench';
import type { FittingStep } from '@ebrix/contract';
import { formatClock, formatDay, formatQuantity, plain } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { BOX_LABELS } from './record-lines.js';

/** Days of delivery, warranty, and what to take up with the seller. */
export function BoxSays({ record }: { readonly record: FittingRecord }) {
  const days = deliveryDays(record);
  const ends = warrantyEnds(record);
  const claims = toClaim(record);
  const isBackwards = record.orderedOn !== null && record.arrivedOn !== null && days === null;
  return (
    <>
      {isBackwards && (
        <p className="problem mb-12">It cannot have arrived before it was ordered: look at the two days.</p>
      )}
      {(days !== null || ends !== null) && (
        <p className="quiet mb-12">
          {days !== null && `Delivered in ${days} ${days === 1 ? 'day' : 'days'}. `}
          {ends !== null && `Warranty until ${formatDay(ends)}.`}
        </p>
      )}
      {claims.length > 0 && (
        <p className="mb-12">
          To take up with the seller{record.seller && `, ${record.seller}`}:{' '}
          {claims.map(({ what, state }) => `${what} (${BOX_LABELS[state].toLowerCase()})`).join(', ')}. Photograph it
          now.
        </p>
      )}
    </>
  );
}

export function ClockSays({
  record,
  steps,
}: {
  readonly record: FittingRecord;
  readonly steps: readonly FittingStep[];
}) {
  const found = guessAgainstClock(record, steps);
  if (found)
    return (
      <p className="mb-12">
        Guessed {formatClock(found.guessedS)}, took {formatClock(found.tookS)}: {plain(found.factor, 2)} times the guess
        {record.guessedDifficulty !== null &&
          record.ratedDifficulty !== null &&
          `; difficulty guessed ${record.guessedDifficulty}, was ${record.ratedDifficulty}`}
        .
      </p>
    );
  return record.guessedHours === null ? null : (
    <p className="quiet mb-12">The clock of the steps is set against the guess once the last step is done.</p>
  );
}

export function DrillSays({ cooling }: { readonly cooling: FittingRecord['cooling'] }) {
  const system = useUnits();
  if (!cooling) return null;
  const stop = drillStop(cooling);
  const at = (mm: number | null): string => formatQuantity(mm ?? 0, 'mm', system);
  const deepest = at((cooling.coverMm ?? 0) + DRILL_BEYOND_MM);
  switch (stop) {
    case 'unknown':
      return (
        <p className="quiet mb-12">
          Measure the cover where the hole goes, at a screw hole or with the cover off, and set the stop of the drill by
          it.
        </p>
      );
    case 'right':
      return <p className="mb-12">The drill goes through the cover and stops before the winding.</p>;
    case 'too-short':
      return <p className="problem mb-12">The stop is no deeper than the cover: the hole will not go through.</p>;
    case 'too-deep':
      return (
        <p className="problem mb-12">
          The drill would go {at((cooling.drillStopMm ?? 0) - (cooling.coverMm ?? 0))} past the cover, into the winding.
          Set the stop to at most {deepest}.
        </p>
      );
  }
}
