import type { SetupCosts } from '@ebrix/contract';
import { decimalsFor, formatMoney } from '../../shared/format/format-quantity.js';

/** Sums, 100 km and payback of one setup, each with what it rests on. */
export function Costs({ costs }: { readonly costs: SetupCosts }) {
  const { sums, running, perUsableWh, payback, reason, isOwn } = costs;
  const money = (amount: number): string => formatMoney({ amount, currency: sums.home });
  const hasBike = costs.lines.some(({ isOfBike }) => isOfBike);
  const left = [
    ...(sums.unpriced.length > 0 ? [`no price: ${sums.unpriced.join(', ')}`] : []),
    ...(sums.unrated.length > 0 ? [`no rate: ${sums.unrated.join(', ')}`] : []),
  ].join('; ');
  return (
    <section aria-label="What it costs" className="mt-12">
      <dl className="cost-strip">
        <div>
          <dt>Conversion</dt>
          <dd className="figures">
            {left ? 'at least ' : ''}
            {money(sums.conversion)}
          </dd>
          <dd className="quiet">{left || (isOwn ? 'as listed below' : 'prices of the parts')}</dd>
        </div>
        <div>
          <dt>With the bike</dt>
          <dd className="figures">{hasBike ? `${left ? 'at least ' : ''}${money(sums.withBike)}` : '–'}</dd>
          <dd className="quiet">
            {sums.rates.length > 0
              ? sums.rates
                  .map(({ currency, inHome, day }) => `1 ${currency} = ${inHome} ${sums.home} on ${day}`)
                  .join('; ')
              : hasBike
                ? `in ${sums.home}`
                : 'the list holds no bike'}
          </dd>
        </div>
        <div>
          <dt>For a usable Wh</dt>
          <dd className="figures">{perUsableWh ? money(perUsableWh.value) : '–'}</dd>
          <dd className="quiet figures">
            {perUsableWh
              ? `${money(perUsableWh.interval95[0])} to ${money(perUsableWh.interval95[1])}`
              : 'needs prices and the pack’s energy'}
          </dd>
        </div>
        <div>
          <dt>100 km</dt>
          <dd className="figures">
            {running ? `${withDoubt(running.value, running.standardUncertainty)} ${sums.home}` : '–'}
          </dd>
          <dd className="quiet">{running ? running.basis : reason}</dd>
        </div>
      </dl>
      {running && (
        <div className="scroll-x mt-12">
          <table className="rows">
            <caption className="unseen">What 100 km are made of</caption>
            <thead>
              <tr>
                <th scope="col">Of 100 km</th>
                <th scope="col">{sums.home}</th>
                <th scope="col">
                  <span className="unseen">Share</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {running.parts.map(({ what, value, standardUncertainty }) => (
                <tr key={what}>
                  <td>{what}</td>
                  <td className="figures">{withDoubt(value, standardUncertainty)}</td>
                  <td>
                    <span className="share-bar" aria-hidden="true">
                      <span style={{ width: `${(100 * value) / running.value}%`, background: 'var(--acting)' }} />
                    </span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {payback.length > 0 && (
        <ul className="turns mt-12" aria-label="Against what else the money buys">
          {payback.map(({ against, words }) => (
            <li key={against}>{words}</li>
          ))}
        </ul>
      )}
    </section>
  );
}

function withDoubt(value: number, doubt: number): string {
  const decimals = Math.max(2, decimalsFor(doubt));
  return doubt === 0 ? value.toFixed(2) : `${value.toFixed(Math.min(2, decimals))} ± ${doubt.toFixed(2)}`;
}
