import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceDot,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { powerCurve, type PlanDesign } from '@ebrix/core/planning';

interface Props {
  readonly design: PlanDesign;
  readonly difference: number;
  readonly runs: number;
  readonly wanted: number;
}

/** Chance of spotting the difference that matters against runs of each setup, with the chosen number marked. */
export default function PowerChart({ design, difference, runs, wanted }: Props) {
  const most = Math.max(10, Math.ceil(runs * 1.6));
  const curve = powerCurve(design, difference, most);
  const chosen = curve.find((point) => point.runs === runs);
  const axis = { stroke: 'none', fill: 'var(--ink-2)', fontSize: 12, fontFamily: 'var(--figures)' };
  const label = (value: string, more: object) => ({ value, fill: 'var(--ink-2)', fontSize: 12, ...more });
  return (
    <>
      <div
        role="img"
        aria-label={`Chance of spotting the difference: ${chosen ? Math.round(100 * chosen.power) : 0} % with ${runs} runs of each setup`}
      >
        <ResponsiveContainer width="100%" height={220}>
          <LineChart
            data={curve.map((point) => ({ runs: point.runs, chance: 100 * point.power }))}
            margin={{ top: 16, right: 18, bottom: 22, left: 4 }}
            accessibilityLayer={false}
          >
            <CartesianGrid stroke="var(--band)" vertical={false} />
            <XAxis
              dataKey="runs"
              type="number"
              domain={[2, most]}
              allowDecimals={false}
              tick={axis}
              stroke="var(--hairline)"
              label={label('runs of each setup', { position: 'insideBottom', offset: -12 })}
            />
            <YAxis
              domain={[0, 100]}
              ticks={[0, 20, 40, 60, 80, 100]}
              tick={axis}
              stroke="var(--hairline)"
              width={52}
              label={label('chance, %', {
                angle: -90,
                position: 'insideLeft',
                offset: 8,
                style: { textAnchor: 'middle' },
              })}
            />
            <ReferenceLine
              y={100 * wanted}
              stroke="var(--ink-2)"
              strokeDasharray="4 3"
              label={label(`wanted ${Math.round(100 * wanted)} %`, { position: 'insideBottomLeft' })}
            />
            <Tooltip
              isAnimationActive={false}
              formatter={(value) => [`${Number(value).toFixed(0)} %`, 'chance']}
              labelFormatter={(value) => `${Number(value)} runs of each`}
              contentStyle={{
                background: 'var(--surface)',
                border: '1px solid var(--hairline)',
                borderRadius: 4,
                color: 'var(--ink)',
              }}
            />
            <Line dataKey="chance" stroke="var(--acting)" strokeWidth={2} dot={false} isAnimationActive={false} />
            {chosen && (
              <ReferenceDot
                x={runs}
                y={100 * chosen.power}
                r={6}
                fill="var(--caution)"
                stroke="var(--ink)"
                label={label(`${runs} runs: ${Math.round(100 * chosen.power)} %`, {
                  position: chosen.power > 0.7 ? 'bottom' : 'right',
                  fill: 'var(--ink)',
                  fontWeight: 650,
                })}
              />
            )}
          </LineChart>
        </ResponsiveContainer>
      </div>
      <details>
        <summary className="quiet">Chances as a table</summary>
        <table className="rows max-w-340">
          <thead>
            <tr>
              <th scope="col">Runs of each</th>
              <th scope="col" className="number">
                Chance
              </th>
              <th scope="col" className="number">
                Smallest spotted
              </th>
            </tr>
          </thead>
          <tbody>
            {curve.map((point) => (
              <tr key={point.runs}>
                <td>{point.runs}</td>
                <td className="number">{(100 * point.power).toFixed(0)} %</td>
                <td className="number">{(100 * point.detectable).toFixed(1)} %</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </>
  );
}
