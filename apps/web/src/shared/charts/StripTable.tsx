import type { Strip } from '@ebrix/contract';
import { convertUnit, displayUnit } from '@ebrix/core/units';
import { useUnits } from '../preferences/index.js';
import { formatClock, plain, unitText } from '../format/format-quantity.js';

const ROWS = 24;

/** The readings behind a strip recorder, at evenly spread times. */
export function StripTable({ strip }: { readonly strip: Strip }) {
  const system = useUnits();
  const { channels } = strip;
  const longest = channels.reduce((most, { timesS }) => Math.max(most, timesS.length), 0);
  const every = Math.max(1, Math.floor(longest / ROWS));
  const rows = Array.from({ length: Math.ceil(longest / every) }, (_, k) => k * every);
  return (
    <details>
      <summary className="quiet">Readings as a table</summary>
      <div className="scroll-x" tabIndex={0} role="region" aria-label="Readings">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Time</th>
              {channels.map(({ name, label, unit }) => (
                <th scope="col" key={name}>
                  {label} {unitText(displayUnit(unit, system))}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((k) => (
              <tr key={k}>
                <td className="figures">{formatClock(channels[0]?.timesS[k] ?? 0)}</td>
                {channels.map(({ name, low, high, unit }) => {
                  const [least, greatest] = [low[k], high[k]];
                  const known = least !== null && least !== undefined && greatest !== null && greatest !== undefined;
                  return (
                    <td key={name} className="figures">
                      {known ? plain(convertUnit((least + greatest) / 2, unit, displayUnit(unit, system)), 4) : '–'}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </details>
  );
}
