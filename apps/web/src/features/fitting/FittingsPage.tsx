import { Link } from 'react-router';
import { formatClock } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { Page } from '../../shared/ui/Page.js';
import { useListFittingsQuery } from './api.js';

/** What fitting took, setup by setup, so that kits can be compared by effort. */
export default function FittingsPage() {
  const query = useListFittingsQuery();
  return (
    <Page title="Fitting times" crumb={<Link to="/bench/setups">Bench</Link>}>
      <QueryView query={query}>
        {(fittings) =>
          fittings.length === 0 ? (
            <div className="teach">
              <p>Nothing has been fitted yet. Open a setup, go to Fitting, and start the clock of its first step.</p>
              <Link to="/bench/setups">To the setups</Link>
            </div>
          ) : (
            <div className="scroll-x">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Setup</th>
                    <th scope="col">Kit</th>
                    <th scope="col" className="number">
                      Time
                    </th>
                    <th scope="col" className="number">
                      Steps done
                    </th>
                    <th scope="col">Hardest</th>
                    <th scope="col" className="number">
                      Troubles
                    </th>
                    <th scope="col">Tools</th>
                  </tr>
                </thead>
                <tbody>
                  {fittings.map((one) => (
                    <tr key={one.setupId}>
                      <td>
                        <Link to={`/bench/setups/${one.setupId}/fitting`}>{one.setupName}</Link>
                      </td>
                      <td>{one.kitName}</td>
                      <td className="number">
                        {formatClock(one.elapsedS)}
                        {one.done < one.steps && <span className="quiet"> so far</span>}
                      </td>
                      <td className="number">
                        {one.done} of {one.steps}
                      </td>
                      <td>{one.hardest ? `${one.hardest.difficulty}: ${one.hardest.title}` : '–'}</td>
                      <td className="number">{one.troubles}</td>
                      <td>
                        {one.tools.length}
                        <details>
                          <summary className="quiet">which</summary>
                          {one.tools.join(', ')}
                        </details>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )
        }
      </QueryView>
      <p className="quiet section max-w-640">
        One fitting each: how long it takes depends on who does it and what they learnt before. Times by the same
        person, alternating, say more.
      </p>
    </Page>
  );
}
