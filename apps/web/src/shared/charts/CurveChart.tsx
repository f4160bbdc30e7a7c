import { scaleLinear } from 'd3-scale';
import type { Letter } from '@ebrix/contract';
import { plain } from '../format/format-quantity.js';
import { SetupShape, setupColour } from '../ui/SetupMark.js';
import { extent } from './extent.js';
import { useWidth } from './use-width.js';

export interface CurvePoint {
  readonly x: number;
  readonly y: number;
  readonly band?: readonly [number, number];
}
export interface Curve {
  readonly letter: Letter;
  readonly label: string;
  readonly points: readonly CurvePoint[];
  /** Stays at a height until the next point. */
  readonly isStep?: boolean;
  /** Points that were measured, without a line between them. */
  readonly isDots?: boolean;
  /** Where watching ended: a step goes on to here. */
  readonly end?: number;
}
interface Props {
  readonly title: string;
  readonly xLabel: string;
  readonly yLabel: string;
  readonly curves: readonly Curve[];
  readonly from?: number;
  readonly to?: number;
  readonly limit?: { readonly at: number; readonly label: string };
  readonly xText?: (x: number) => string;
  readonly height?: number;
}
const [LEFT, RIGHT, TOP, FOOT] = [50, 16, 12, 44];

/** Curves with their bands over one axis; each has the colour and the mark of its letter. The numbers stand in a table beside it. */
export function CurveChart({ title, xLabel, yLabel, curves, from = 0, to, limit, xText = plain, height = 230 }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>(560);
  const drawn = curves.filter(({ points }) => points.length > 0);
  if (drawn.length === 0) return null;
  const xs = drawn.flatMap(({ points, end }) => [...points.map(({ x }) => x), ...(end === undefined ? [] : [end])]);
  const ys = drawn.flatMap(({ points }) => points.flatMap(({ y, band }) => (band ? [...band] : [y])));
  const [left, right] = extent(xs);
  const top = to ?? Math.max(...ys, limit?.at ?? -Infinity);
  const bottom = Math.min(from, ...ys.filter((y) => Number.isFinite(y)));
  const x = scaleLinear([Math.min(left, right), right === left ? left + 1 : right], [LEFT, width - RIGHT]);
  const y = scaleLinear([bottom, top === bottom ? bottom + 1 : top], [height - FOOT, TOP]).nice(4);
  return (
    <figure className="picture curve" ref={ref}>
      <figcaption>{title}</figcaption>
      <svg width={width} height={height} role="img" aria-label={`${title}. ${yLabel} over ${xLabel}.`}>
        {y.ticks(4).map((tick) => (
          <g key={tick}>
            <line x1={LEFT} x2={width - RIGHT} y1={y(tick)} y2={y(tick)} className="along-grid" />
            <text x={LEFT - 6} y={y(tick) + 4} className="along-text" textAnchor="end">
              {plain(tick)}
            </text>
          </g>
        ))}
        {x.ticks(Math.max(2, Math.floor(width / 130))).map((tick) => (
          <text key={tick} x={x(tick)} y={height - FOOT + 18} className="along-text" textAnchor="middle">
            {xText(tick)}
          </text>
        ))}
        <text x={width - RIGHT} y={height - 6} className="along-text" textAnchor="end">
          {xLabel}
        </text>
        <text x={4} y={height - 6} className="along-text">
          {yLabel}
        </text>
        {limit && (
          <g>
            <line x1={LEFT} x2={width - RIGHT} y1={y(limit.at)} y2={y(limit.at)} className="along-limit" />
            <text x={width - RIGHT} y={y(limit.at) - 4} className="along-text" textAnchor="end">
              {limit.label}
            </text>
          </g>
        )}
        {drawn.map((curve) => (
          <CurveView key={curve.label} curve={curve} x={x} y={y} />
        ))}
      </svg>
    </figure>
  );
}

function CurveView({
  curve: { letter, points, isStep = false, isDots = false, end },
  x,
  y,
}: {
  readonly curve: Curve;
  readonly x: (at: number) => number;
  readonly y: (at: number) => number;
}) {
  const colour = setupColour(letter);
  const to = (of: (point: CurvePoint) => number): string[] =>
    points.flatMap((point, k) => {
      const next = points[k + 1]?.x ?? end;
      const at = `${x(point.x).toFixed(1)},${y(of(point)).toFixed(1)}`;
      return isStep && next !== undefined ? [at, `${x(next).toFixed(1)},${y(of(point)).toFixed(1)}`] : [at];
    });
  const hasBand = points.some(({ band }) => band);
  const upper = to(({ y: middle, band }) => band?.[1] ?? middle);
  const lower = to(({ y: middle, band }) => band?.[0] ?? middle);
  const every = isDots ? 1 : Math.max(1, Math.floor(points.length / 4));
  return (
    <g>
      {hasBand && <polygon points={[...upper, ...lower.reverse()].join(' ')} fill={colour} opacity={0.14} />}
      {!isDots && <polyline points={to((point) => point.y).join(' ')} fill="none" stroke={colour} strokeWidth={1.8} />}
      {points
        .filter((_, k) => k % every === Math.floor(every / 2))
        .map((point, k) => (
          <SetupShape key={k} letter={letter} x={x(point.x)} y={y(point.y)} size={8} />
        ))}
    </g>
  );
}
