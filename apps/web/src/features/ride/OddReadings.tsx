import type { Ride } from '@ebrix/contract';
import { contradictionsOf, type ManualReadings } from '@ebrix/core/analysis';
import { SentenceText } from '../../shared/ui/SentenceText.js';

/** At the roadside the display is still at hand: what cannot be true is said here, not only beside the figures. */
export function OddReadings({ ride, after }: { readonly ride: Ride; readonly after: Ride['after'] }) {
  const odd = contradictionsOf(readingsOf(after));
  const { gaugeStart } = ride.preparation;
  const hasGained = after.gaugeEnd !== null && gaugeStart !== null && after.gaugeEnd > gaugeStart;
  return (
    <>
      {odd.map(({ code, said }) => (
        <p key={code} className="caution" role="status">
          <SentenceText of={said} />
        </p>
      ))}
      {hasGained && (
        <p className="caution" role="status">
          More bars left than there were before, {gaugeStart}: no energy can be told by them. Put them right.
        </p>
      )}
    </>
  );
}

function readingsOf({ readings, tripDistanceKm, displayMeanKmh }: Ride['after']): ManualReadings {
  return {
    ...(readings as ManualReadings | null),
    // Taken as read to the next whole one: what is told holds however it was rounded.
    ...(tripDistanceKm !== null && { tripDistanceKm, tripStepKm: 1 }),
    ...(displayMeanKmh !== null && { displayMeanKmh }),
  };
}
