import { studentTQuantile } from '@ebrix/core/statistics';
import { useLearnedReadingsQuery } from './api.js';

/** What this setup's own gauge and charger were seen to mean: what later rides without a logger are read by. */
export function LearnedGauge({ setupId }: { readonly setupId: string }) {
  const { data } = useLearnedReadingsQuery(setupId);
  if (!data || (data.gauge.length === 0 && data.chargeEfficiency === null)) return null;
  const { gauge, bars, chargeEfficiency: charge } = data;
  const half = (dof: number, deviation: number): number => studentTQuantile(0.975, dof) * deviation;
  return (
    <section className="mb-18" aria-label="What the gauge means">
      <h3 className="mb-4">What the gauge means</h3>
      <p className="quiet max-w-760 mb-8">
        Seen beside a logger, on rides that began full. Rides without one are read by this instead of by even bars.
      </p>
      {gauge.length > 0 && bars !== null && (
        <div className="scroll-x">
          <table className="rows max-w-620">
            <thead>
              <tr>
                <th scope="col">Gauge</th>
                <th scope="col" className="number">
                  Used by then, Wh
                </th>
                <th scope="col" className="number">
                  95 of 100 within
                </th>
                <th scope="col" className="number">
                  Seen
                </th>
              </tr>
            </thead>
            <tbody>
              {gauge.map(({ shown, isEdge, mean, standardDeviation, degreesOfFreedom, n }) => (
                <tr key={`${shown} ${isEdge}`}>
                  <td>
                    {Math.round(shown * bars)} of {bars} {isEdge ? 'left, just as one went out' : 'lit'}
                  </td>
                  <td className="number">{Math.round(mean)}</td>
                  <td className="number">± {Math.round(half(degreesOfFreedom, standardDeviation))}</td>
                  <td className="number">{n}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {charge && (
        <p className="mt-8">
          Of the energy from the socket {(100 * charge.mean).toFixed(0)} %
          <span className="quiet">
            {' '}
            ± {(100 * half(charge.degreesOfFreedom, charge.standardDeviation)).toFixed(0)} % (95 of 100), {charge.n}{' '}
            {charge.n === 1 ? 'charge' : 'charges'} seen
          </span>{' '}
          reaches the pack.
        </p>
      )}
    </section>
  );
}
