import { scaleLinear } from 'd3-scale';
import type { Letter } from '@ebrix/contract';
import { decimalsFor } from '../../shared/format/format-quantity.js';
import { SetupShape } from '../../shared/ui/SetupMark.js';
import { useWidth } from '../../shared/charts/index.js';
import { VERDICT_LABELS, type PairStrip } from './pair-scale.js';

interface Props {
  readonly strips: readonly PairStrip[];
  /** Letters by setup name; setups without one are named. */
  readonly letterOf: ReadonlyMap<string, Letter>;
  readonly unit: string;
  readonly bandText: string;
}

const ROW = 40;
const AXIS = 42;

/** Differences with the range that holds 95 times in 100, over the band that does not matter. */
export function DifferenceStrips({ strips, letterOf, unit, bandText }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(780);
  const isNarrow = width < 560;
  const left = isNarrow ? 78 : 270;
  const extremes = strips.flatMap(({ lower, upper, band }) => [lower, upper, band[0] * 1.4, band[1] * 1.4, 0]);
  const x = scaleLinear([Math.min(...extremes), Math.max(...extremes)], [left, width - 24]).nice();
  const height = strips.length * ROW + AXIS;
  const narrowest = Math.min(...strips.map(({ lower, upper }) => upper - lower));
  const decimals = decimalsFor(narrowest / 4);
  const shown = (value: number): string =>
    `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value).toFixed(decimals)} ${unit}`;
  return (
    <div ref={box}>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={strips.map((strip) => describe(strip, unit)).join(' ')}
        className="block"
      >
        {strips.map(({ band }, k) => (
          <rect key={k} x={x(band[0])} width={x(band[1]) - x(band[0])} y={k * ROW} height={ROW} fill="var(--band)" />
        ))}
        {x.ticks(isNarrow ? 4 : 7).map((tick) => (
          <g key={tick}>
            <line
              x1={x(tick)}
              x2={x(tick)}
              y1={0}
              y2={strips.length * ROW}
              stroke={tick === 0 ? 'var(--ink)' : 'var(--hairline)'}
              strokeWidth={tick === 0 ? 1.2 : 0.6}
            />
            <text className="figures" x={x(tick)} y={height - 6} fontSize={12} textAnchor="middle" fill="var(--ink-2)">
              {tick === 0
                ? 'equal'
                : `${tick > 0 ? '+' : '−'}${Math.abs(Number(tick.toPrecision(3)))}${isNarrow ? '' : ` ${unit}`}`}
            </text>
          </g>
        ))}
        {strips.map((strip, k) => (
          <Row
            key={`${strip.a} ${strip.b}`}
            {...{ strip, letterOf, x, isNarrow, left }}
            middle={k * ROW + ROW / 2}
            text={shown(strip.estimate)}
            right={width - 24}
          />
        ))}
        <text x={x(0)} y={strips.length * ROW + 17} fontSize={12} textAnchor="middle" fill="var(--ink-2)">
          {bandText}
        </text>
      </svg>
      <div className="unseen">
        <table>
          <caption>Differences with their 95 % intervals</caption>
          <thead>
            <tr>
              <th>Pair</th>
              <th>Difference</th>
              <th>From</th>
              <th>To</th>
              <th>Verdict</th>
            </tr>
          </thead>
          <tbody>
            {strips.map((strip) => (
              <tr key={`${strip.a} ${strip.b}`}>
                <td>{`${strip.a} against ${strip.b}`}</td>
                <td>{shown(strip.estimate)}</td>
                <td>{shown(strip.lower)}</td>
                <td>{shown(strip.upper)}</td>
                <td>{VERDICT_LABELS[strip.verdict]}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

interface RowProps {
  readonly strip: PairStrip;
  readonly letterOf: ReadonlyMap<string, Letter>;
  readonly x: (value: number) => number;
  readonly middle: number;
  readonly text: string;
  readonly isNarrow: boolean;
  readonly left: number;
  readonly right: number;
}

function Row({ strip, letterOf, x, middle, text, isNarrow, left, right }: RowProps) {
  const [letterA, letterB] = [letterOf.get(strip.a), letterOf.get(strip.b)];
  const [from, to] = [x(strip.lower), x(strip.upper)];
  const textWidth = text.length * 7.6;
  // Beside the strip where there is room: left of it in the right half, right of it in the left half.
  const isLabelLeft =
    to + textWidth + 10 > right || (from - textWidth > left && x(strip.estimate) > (left + right) / 2);
  return (
    <g>
      {letterA && letterB ? (
        <g fontSize={13} fill="var(--ink)">
          <SetupShape letter={letterA} x={9} y={middle} size={13} />
          <text x={20} y={middle + 4.5} fontWeight={650}>
            {letterA}
          </text>
          {!isNarrow && (
            <text x={36} y={middle + 4.5} fontSize={12} fill="var(--ink-2)">
              against
            </text>
          )}
          <SetupShape letter={letterB} x={isNarrow ? 44 : 90} y={middle} size={13} />
          <text x={isNarrow ? 55 : 101} y={middle + 4.5} fontWeight={650}>
            {letterB}
          </text>
          {!isNarrow && (
            <text x={120} y={middle + 4.5} fontSize={12} fill="var(--ink-2)">
              {VERDICT_LABELS[strip.verdict]}
            </text>
          )}
        </g>
      ) : (
        <text x={0} y={middle + 4.5} fontSize={12}>
          {`${strip.a} against ${strip.b}`.slice(0, isNarrow ? 12 : 44)}
        </text>
      )}
      <rect x={from} y={middle - 4} width={Math.max(2, to - from)} height={8} fill="var(--ink)" opacity={0.88} />
      <rect
        x={x(strip.estimate) - 2}
        y={middle - 9}
        width={4}
        height={18}
        fill="var(--ink)"
        stroke="var(--surface)"
        strokeWidth={0.75}
      />
      <text
        className="figures"
        x={isLabelLeft ? from - 8 : to + 8}
        y={middle + 4.5}
        fontSize={12.5}
        textAnchor={isLabelLeft ? 'end' : 'start'}
        fill="var(--ink)"
        stroke="var(--ground)"
        strokeWidth={3}
        paintOrder="stroke"
      >
        {text}
      </text>
    </g>
  );
}

function describe({ a, b, estimate, lower, upper, verdict }: PairStrip, unit: string): string {
  const n = (value: number): string => String(Number(value.toPrecision(3)));
  return `${a} against ${b}: ${n(estimate)} ${unit}, from ${n(lower)} to ${n(upper)}: ${VERDICT_LABELS[verdict]}.`;
}
