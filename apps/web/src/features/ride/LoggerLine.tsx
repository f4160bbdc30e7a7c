import type { Live, Ride } from '@ebrix/contract';

const SILENT_S = 3;

/** How the logger does, in one line: what is missing is said. */
export function LoggerLine({ ride, live }: { readonly ride: Ride; readonly live: Live | undefined }) {
  if (!ride.logger) return <p className="quiet">No logger: what you time and read by hand counts.</p>;
  if (!live || live.silentS === null)
    return (
      <p className="quiet" role="status">
        {ride.logger.name}: nothing received yet.
      </p>
    );
  const isSilent = live.silentS > SILENT_S;
  return (
    <p className={isSilent && ride.state === 'running' ? 'caution' : 'quiet'} role="status">
      {ride.logger.name}: <span className="figures">{live.samples}</span> samples
      {isSilent && `, silent for ${live.silentS} s; it resumes when it comes back`}
      {live.missing > 0 && `, ${live.missing} missing`}
      {live.bad > 0 && `, ${live.bad} ${live.bad === 1 ? 'line' : 'lines'} could not be used`}.
    </p>
  );
}
