import { scaleLinear } from 'd3-scale';
import { useNavigate } from 'react-router';
import type { Letter } from '@ebrix/contract';
import { SetupShape, setupColour } from '../../shared/ui/SetupMark.js';
import { useWidth } from '../../shared/charts/index.js';

export interface PointGroup {
  readonly name: string;
  readonly letter: Letter | undefined;
  readonly note: string;
  /** In shown units; absent with fewer than two counted runs. */
  readonly mean?: number;
  readonly interval?: readonly [number, number];
  readonly points: readonly {
    readonly value: number;
    readonly text: string;
    readonly isExcluded: boolean;
    readonly to?: string;
  }[];
}

const ROW = 54;
const AXIS = 48;

/** Every run as a point, with each setup's mean and its interval. */
export function RunPoints({ groups, axis }: { readonly groups: readonly PointGroup[]; readonly axis: string }) {
  const [box, width] = useWidth<HTMLDivElement>(780);
  const navigate = useNavigate();
  const isNarrow = width < 560;
  const left = isNarrow ? 40 : 270;
  const values = groups.flatMap(({ points, interval }) => [...points.map(({ value }) => value), ...(interval ?? [])]);
  if (values.length === 0) return <p className="quiet">No run has this figure yet.</p>;
  const x = scaleLinear([Math.min(...values), Math.max(...values)], [left + 14, width - 24]).nice();
  const height = groups.length * ROW + AXIS;
  return (
    <div ref={box}>
      <svg width={width} height={height} className="block" role="group" aria-label={`Every run: ${axis}`}>
        {x.ticks(isNarrow ? 4 : 7).map((tick) => (
          <g key={tick}>
            <line
              x1={x(tick)}
              x2={x(tick)}
              y1={0}
              y2={groups.length * ROW}
              stroke="var(--hairline)"
              strokeWidth={0.7}
            />
            <text
              className="figures"
              x={x(tick)}
              y={groups.length * ROW + 17}
              fontSize={12}
              textAnchor="middle"
              fill="var(--ink-2)"
            >
              {tick}
            </text>
          </g>
        ))}
        {groups.map(({ name, letter, note, mean, interval, points }, row) => {
          const middle = row * ROW + ROW / 2;
          const colour = letter ? setupColour(letter) : 'var(--ink)';
          return (
            <g key={name}>
              {letter && <SetupShape letter={letter} x={10} y={middle - 4} size={14} />}
              <text x={26} y={middle} fontSize={13} fontWeight={650} fill="var(--ink)">
                {isNarrow ? (letter ?? '') : `${letter ?? ''} ${name}`.trim().slice(0, 36)}
              </text>
              {!isNarrow && (
                <text x={26} y={middle + 16} fontSize={12} fill="var(--ink-2)">
                  {note}
                </text>
              )}
              {interval && (
                <rect
                  x={x(interval[0])}
                  y={middle - 12}
                  width={Math.max(1, x(interval[1]) - x(interval[0]))}
                  height={24}
                  fill={colour}
                  opacity={0.18}
                />
              )}
              {mean !== undefined && (
                <line x1={x(mean)} x2={x(mean)} y1={middle - 15} y2={middle + 15} stroke={colour} strokeWidth={2} />
              )}
              {points.map(({ value, text, isExcluded, to }, k) => {
                // Points that would lie on one another are set apart, the same way at every look.
                const y = middle + (((k * 7) % 5) - 2) * 3;
                const shape = letter ? (
                  <SetupShape letter={letter} x={x(value)} y={y} size={11} isHollow={isExcluded} />
                ) : (
                  <circle cx={x(value)} cy={y} r={4.5} fill={isExcluded ? 'var(--surface)' : colour} stroke={colour} />
                );
                if (!to)
                  return (
                    <g key={k}>
                      <title>{text}</title>
                      {shape}
                    </g>
                  );
                return (
                  <a
                    key={k}
                    href={to}
                    aria-label={text}
                    onClick={(event) => {
                      event.preventDefault();
                      void navigate(to);
                    }}
                  >
                    <title>{text}</title>
                    <circle cx={x(value)} cy={y} r={12} fill="transparent" />
                    {shape}
                  </a>
                );
              })}
            </g>
          );
        })}
        <text x={(left + width) / 2} y={height - 8} fontSize={12} textAnchor="middle" fill="var(--ink-2)">
          {axis}
        </text>
      </svg>
    </div>
  );
}
