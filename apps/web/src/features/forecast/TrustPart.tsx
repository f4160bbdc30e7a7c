import { Link } from 'react-router';
import type { SetupCalibration } from '@ebrix/contract';
import { plain } from '../../shared/format/format-quantity.js';

const NAMES = { energy: 'Energy', time: 'Time', rise: 'Motor’s rise' } as const;
const UNITS = { energy: 'Wh', time: 's', rise: 'K' } as const;

/** How far to trust it: rides left out and foretold from the others; and what the rides told of the bike. */
export function TrustPart({ calibration }: { readonly calibration: SetupCalibration }) {
  const { trust, parameters, rides, sharedFrom } = calibration;
  const used = rides.filter(({ isUsed }) => isUsed);
  const left = rides.filter(({ isUsed }) => !isUsed);
  const checked = (['energy', 'time', 'rise'] as const).flatMap((key) => {
    const figure = trust[key];
    return figure && figure.n > 0 ? [{ key, ...figure }] : [];
  });
  return (
    <div className="trust">
      <p>
        {used.length === 0
          ? 'No ride of this bike could be used; what is usual for such a kit stands in. '
          : `Learned from ${used.length === 1 ? 'one ride' : `${used.length} rides`}. `}
        {sharedFrom !== null && `Air and road are taken from rides of ${sharedFrom}, on the same bike. `}
        {used.length > 0 &&
          checked.length === 0 &&
          'With rides of two outings it could check itself; so far it cannot.'}
      </p>
      {checked.length > 0 && (
        <table className="rows">
          <caption className="quiet">Each outing left out in turn, its rides foretold from the others</caption>
          <thead>
            <tr>
              <th scope="col">Figure</th>
              <th scope="col">Inside its span</th>
              <th scope="col">Ridden against foretold</th>
              <th scope="col">Scatter</th>
            </tr>
          </thead>
          <tbody>
            {checked.map(({ key, n, hits, bias, spread }) => (
              <tr key={key}>
                <th scope="row">{NAMES[key]}</th>
                <td className="figures">
                  {hits} of {n}
                </td>
                <td className="figures">
                  {bias >= 0 ? '+' : '−'}
                  {Math.abs(100 * bias).toFixed(0)} %
                </td>
                <td className="figures">{(100 * spread).toFixed(0)} %</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <details>
        <summary className="quiet">Ride by ride</summary>
        <ul className="plain">
          {trust.rides
            .filter(({ figures }) => figures.length > 0)
            .map(({ name, figures }, k) => (
              <li key={`${name} ${k}`}>
                {name}:{' '}
                {figures
                  .map(
                    ({ key, forecast, interval95: [low, high], ridden }) =>
                      `${NAMES[key].toLowerCase()} ${plain(ridden, 3)} ${UNITS[key]}, foretold ${plain(forecast, 3)} (${plain(low, 3)} to ${plain(high, 3)})`,
                  )
                  .join('; ')}
              </li>
            ))}
        </ul>
        {left.length > 0 && (
          <>
            <h3>Not used</h3>
            <ul className="plain">
              {left.map(({ id, name, why }) => (
                <li key={id}>
                  <Link to={`/runs/${id}`}>{name}</Link>: {why}
                </li>
              ))}
            </ul>
          </>
        )}
      </details>
      <details>
        <summary className="quiet">What the rides told of the bike</summary>
        <div className="scroll-x" tabIndex={0} role="region" aria-label="What the rides told of the bike">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Quantity</th>
                <th scope="col">Value</th>
                <th scope="col">95 in 100</th>
                <th scope="col">From</th>
              </tr>
            </thead>
            <tbody>
              {parameters.map(({ name, label, unit, value, interval95: [low, high], from }) => (
                <tr key={name}>
                  <th scope="row">{label}</th>
                  <td className="figures nowrap">
                    {plain(value, 3)} {unit}
                  </td>
                  <td className="figures nowrap quiet">
                    {plain(low, 2)} to {plain(high, 2)}
                  </td>
                  <td>{from === 'data' ? 'the rides' : <span className="quiet">what is usual or stated</span>}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </details>
    </div>
  );
}
