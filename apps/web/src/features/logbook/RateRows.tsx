import { scaleLinear } from 'd3-scale';
import type { Letter, ReliabilityDto } from '@ebrix/contract';
import { formatQuantity, plain } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { SetupMark, setupColour } from '../../shared/ui/SetupMark.js';
import { Wide } from '../../shared/ui/Wide.js';

type Rate = ReliabilityDto['groups'][number];

const STRIP = { width: 220, height: 18 };
/** Rates with their intervals drawn; with no fault a bound from one side, never a point at nought. */
export function RateRows({
  rows,
}: {
  readonly rows: readonly { readonly rate: Rate; readonly letter: Letter | undefined }[];
}) {
  const system = useUnits();
  const most = Math.max(
    ...rows.map(({ rate }) =>
      Math.min(rate.interval95[1], 4 * rate.rate + 2, rate.faults === 0 ? rate.upperBound * 1.3 : Infinity),
    ),
    0.1,
  );
  const x = scaleLinear([0, most], [2, STRIP.width - 2]);
  return (
    <Wide label="Faults in 1 000 km">
      <table className="rows rates">
        <thead>
          <tr>
            <th scope="col">Group</th>
            <th scope="col" className="number">
              Bikes
            </th>
            <th scope="col" className="number">
              Ridden
            </th>
            <th scope="col" className="number">
              Faults
            </th>
            <th scope="col">In 1 000 km</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ rate, letter }) => {
            const colour = letter ? setupColour(letter) : 'var(--ink)';
            return (
              <tr key={rate.label}>
                <th scope="row" className="pair">
                  {letter ? <SetupMark letter={letter} label={rate.label} /> : rate.label}
                </th>
                <td className="number">{rate.conversions}</td>
                <td className="number">{formatQuantity(rate.km, 'km', system, 4)}</td>
                <td className="number">{rate.faults}</td>
                <td>
                  <svg {...STRIP} aria-hidden="true" className="rate-strip">
                    <line x1={0} x2={STRIP.width} y1={9} y2={9} className="along-grid" />
                    <line
                      x1={x(rate.faults === 0 ? 0 : rate.interval95[0])}
                      x2={x(Math.min(most, rate.faults === 0 ? rate.upperBound : rate.interval95[1]))}
                      y1={9}
                      y2={9}
                      stroke={colour}
                      strokeWidth={rate.faults === 0 ? 1.5 : 3}
                      strokeDasharray={rate.faults === 0 ? '4 4' : undefined}
                    />
                    {rate.faults > 0 && <circle cx={x(Math.min(most, rate.rate))} cy={9} r={4.5} fill={colour} />}
                  </svg>{' '}
                  <span className="figures">
                    {rate.faults === 0
                      ? `fewer than ${plain(rate.upperBound, 2)}`
                      : `${plain(rate.rate, 2)} (${plain(rate.interval95[0], 2)} to ${plain(rate.interval95[1], 2)})`}
                  </span>
                  {rate.isUneven && <div className="quiet text-12-5">{rate.words.split('. ').at(-1)}</div>}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Wide>
  );
}
