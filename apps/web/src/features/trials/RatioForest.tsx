import { scaleLinear } from 'd3-scale';
import type { Elsewhere } from '@ebrix/contract';
import { useWidth } from '../../shared/charts/index.js';

export interface ForestRow {
  readonly name: string;
  readonly ratio: number;
  readonly lower: number;
  readonly upper: number;
  /** Share in the whole, 0 to 1; null while nothing is put together. */
  readonly weight: number | null;
}
interface Props {
  readonly rows: readonly ForestRow[];
  readonly pooled: Elsewhere[number]['pooled'];
}

const ROW = 30;
const AXIS = 26;
const RIGHT = 14;

/** Each tester's difference with its interval, then all together, and where one more tester would lie. */
export function RatioForest({ rows, pooled }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(760);
  const left = width < 560 ? 120 : 230;
  const percent = (ratio: number): number => 100 * (ratio - 1);
  const next = pooled?.nextTester95 ?? null;
  const ends = [
    ...rows.flatMap(({ lower, upper }) => [lower, upper]),
    ...(pooled ? [pooled.interval95.lower, pooled.interval95.upper] : []),
    ...(next ? [next.lower, next.upper] : []),
  ].map(percent);
  const x = scaleLinear([Math.min(0, ...ends), Math.max(0, ...ends)], [left, width - RIGHT]).nice();
  const height = (rows.length + (pooled ? 1 : 0) + (next ? 1 : 0)) * ROW + AXIS;
  const at = (ratio: number): number => x(percent(ratio));
  const text = (ratio: number): string => `${ratio >= 1 ? '+' : '−'}${Math.abs(percent(ratio)).toFixed(0)} %`;
  return (
    <div ref={box}>
      <svg
        width={width}
        height={height}
        className="block"
        role="img"
        aria-label={rows
          .map((row) => `${row.name}: ${text(row.ratio)}, ${text(row.lower)} to ${text(row.upper)}.`)
          .join(' ')}
      >
        {x.ticks(width < 560 ? 4 : 7).map((tick) => (
          <g key={tick}>
            <line
              x1={x(tick)}
              x2={x(tick)}
              y1={0}
              y2={height - AXIS}
              stroke={tick === 0 ? 'var(--ink)' : 'var(--hairline)'}
              strokeWidth={tick === 0 ? 1.2 : 0.6}
            />
            <text className="figures" x={x(tick)} y={height - 8} fontSize={12} textAnchor="middle" fill="var(--ink-2)">
              {tick === 0 ? 'equal' : `${tick > 0 ? '+' : '−'}${Math.abs(tick)} %`}
            </text>
          </g>
        ))}
        {rows.map((row, k) => (
          <g key={k} transform={`translate(0 ${k * ROW + ROW / 2})`}>
            <text x={0} y={4} fontSize={13} fill="var(--ink)">
              {row.name}
            </text>
            <line x1={at(row.lower)} x2={at(row.upper)} y1={0} y2={0} stroke="var(--acting)" strokeWidth={2} />
            <rect
              x={at(row.ratio) - 3 - 6 * (row.weight ?? 0)}
              y={-3 - 6 * (row.weight ?? 0)}
              width={6 + 12 * (row.weight ?? 0)}
              height={6 + 12 * (row.weight ?? 0)}
              fill={row.name === 'Here' ? 'var(--acting)' : 'var(--surface)'}
              stroke="var(--acting)"
              strokeWidth={2}
            />
          </g>
        ))}
        {pooled && (
          <g transform={`translate(0 ${rows.length * ROW + ROW / 2})`}>
            <text x={0} y={4} fontSize={13} fontWeight={640} fill="var(--ink)">
              All together
            </text>
            <rect
              x={at(pooled.interval95.lower)}
              width={at(pooled.interval95.upper) - at(pooled.interval95.lower)}
              y={-5}
              height={10}
              fill="var(--caution)"
            />
            <line x1={at(pooled.ratio)} x2={at(pooled.ratio)} y1={-9} y2={9} stroke="var(--ink)" strokeWidth={2} />
          </g>
        )}
        {next && (
          <g transform={`translate(0 ${(rows.length + 1) * ROW + ROW / 2})`}>
            <text x={0} y={4} fontSize={13} fill="var(--ink-2)">
              One more tester
            </text>
            <line
              x1={at(next.lower)}
              x2={at(next.upper)}
              y1={0}
              y2={0}
              stroke="var(--ink-2)"
              strokeWidth={2}
              strokeDasharray="5 4"
            />
          </g>
        )}
      </svg>
      <div className="scroll-x">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Tester</th>
              <th scope="col">Difference</th>
              <th scope="col">95 % interval</th>
              <th scope="col">Counts for</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, k) => (
              <tr key={k}>
                <td>{row.name}</td>
                <td className="figures">{text(row.ratio)}</td>
                <td className="figures">
                  {text(row.lower)} to {text(row.upper)}
                </td>
                <td className="figures">{row.weight === null ? '–' : `${Math.round(100 * row.weight)} %`}</td>
              </tr>
            ))}
            {pooled && (
              <tr>
                <td>
                  <strong>All together</strong>
                </td>
                <td className="figures">{text(pooled.ratio)}</td>
                <td className="figures">
                  {text(pooled.interval95.lower)} to {text(pooled.interval95.upper)}
                </td>
                <td className="quiet">
                  {next
                    ? `one more tester: ${text(next.lower)} to ${text(next.upper)}`
                    : 'one more tester: needs a third'}
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
    </div>
  );
}
