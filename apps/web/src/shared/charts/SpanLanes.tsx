import { SETTABLE_SPANS } from '@ebrix/core/analysis';
import type { ScaleLinear } from 'd3-scale';
import { useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { SpanDto, Strip } from '@ebrix/contract';
import { formatClock } from '../format/format-quantity.js';

interface Props {
  readonly spans: readonly SpanDto[];
  readonly strip: Pick<Strip, 'fromS' | 'toS' | 'totalS'>;
  readonly x: ScaleLinear<number, number>;
  readonly left: number;
  readonly right: number;
  /** Down to here the edges are drawn through the channels. */
  readonly height: number;
  readonly clip: string;
  readonly onSpan?: (index: number, edges: { fromS: number; toS: number }) => void;
}
interface Draft {
  readonly index: number;
  readonly edge: 'fromS' | 'toS';
  readonly value: number;
}

const ROW = 24;
const BELOW = 8;
const HANDLE = 9;
const KEY_STEP_S = 0.1;
/** A span keeps at least this length. */
const SHORTEST_S = 0.2;
const EDGE_LABELS = { fromS: 'Start', toS: 'End' } as const;

const isReadOnly = ({ kind }: SpanDto): boolean => !SETTABLE_SPANS.has(kind);

/** What the log shows, and no figure used, is in a row of its own. */
function rowsOf(spans: readonly SpanDto[]): readonly (readonly number[])[] {
  const all = spans.map((_, index) => index);
  return [all.filter((k) => !isReadOnly(spans[k]!)), all.filter((k) => isReadOnly(spans[k]!))].filter(
    (row) => row.length > 0,
  );
}
export function spanLanesHeight(spans: readonly SpanDto[]): number {
  return spans.length === 0 ? 0 : rowsOf(spans).length * ROW + BELOW;
}

/** Spans above the strip; their edges are moved by dragging, or by arrow keys (with Shift: by a second) and Enter. */
export function SpanLanes({ spans, strip, x, left, right, height, clip, onSpan }: Props) {
  const [draft, setDraft] = useState<Draft>();
  const edgesOf = (index: number): { fromS: number; toS: number } => {
    const { fromS, toS } = spans[index]!;
    return draft?.index === index ? { fromS, toS, [draft.edge]: draft.value } : { fromS, toS };
  };
  const held = (index: number, edge: Draft['edge'], value: number): Draft => {
    const { fromS, toS } = spans[index]!;
    const limited =
      edge === 'fromS'
        ? Math.min(toS - SHORTEST_S, Math.max(0, value))
        : Math.max(fromS + SHORTEST_S, Math.min(strip.totalS, value));
    return { index, edge, value: Math.round(limited * 100) / 100 };
  };
  const commit = (): void => {
    if (draft) {
      const { fromS, toS } = spans[draft.index]!;
      const edges = edgesOf(draft.index);
      if (edges.fromS !== fromS || edges.toS !== toS) onSpan?.(draft.index, edges);
    }
    setDraft(undefined);
  };
  const timeAt = (event: PointerEvent<SVGElement>): number => {
    const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    return x.invert(event.clientX - box.left);
  };
  const onKeyDown = (event: KeyboardEvent, index: number, edge: Draft['edge']): void => {
    const step = event.shiftKey ? 1 : KEY_STEP_S;
    const now = edgesOf(index)[edge];
    const moves: Record<string, () => void> = {
      ArrowLeft: () => setDraft(held(index, edge, now - step)),
      ArrowRight: () => setDraft(held(index, edge, now + step)),
      Enter: commit,
      Escape: () => setDraft(undefined),
    };
    const move = moves[event.key];
    if (!move) return;
    // The strip below would move its cursor or its zoom.
    event.preventDefault();
    event.stopPropagation();
    move();
  };
  return (
    <g>
      {rowsOf(spans).map((row, r) => (
        <g key={row[0]}>
          <rect x={left} y={r * ROW} width={Math.max(0, right - left)} height={ROW - 2} fill="var(--band)" />
          <text x={left - 10} y={r * ROW + 15} textAnchor="end" fontSize={12} fill="var(--ink-2)">
            {isReadOnly(spans[row[0]!]!) ? 'seen' : 'used'}
          </text>
          <g clipPath={`url(#${clip})`}>
            {row.map((index) => {
              const span = spans[index]!;
              const { fromS, toS } = edgesOf(index);
              const [a, b] = [x(fromS), x(toS)];
              const readOnly = isReadOnly(span);
              return (
                <g key={index}>
                  <rect
                    x={a}
                    y={r * ROW + 1}
                    width={Math.max(2, b - a)}
                    height={ROW - 4}
                    fill={readOnly ? 'var(--ink-2)' : 'var(--acting)'}
                    opacity={readOnly ? 0.35 : 0.85}
                    rx={2}
                  >
                    <title>{`${span.label}, ${formatClock(fromS)} to ${formatClock(toS)}`}</title>
                  </rect>
                  {!readOnly && (
                    <rect
                      x={a}
                      y={ROW}
                      width={Math.max(1, b - a)}
                      height={height - ROW}
                      fill="var(--acting)"
                      opacity={0.07}
                    />
                  )}
                  {b - a > 7 * span.label.length + 2 * HANDLE && (
                    <text
                      x={(a + b) / 2}
                      y={r * ROW + 15}
                      textAnchor="middle"
                      fontSize={12}
                      fill={readOnly ? 'var(--ink)' : 'var(--surface)'}
                      pointerEvents="none"
                    >
                      {span.label}
                    </text>
                  )}
                </g>
              );
            })}
          </g>
        </g>
      ))}
      {onSpan &&
        spans.flatMap((span, index) =>
          isReadOnly(span)
            ? []
            : (['fromS', 'toS'] as const).map((edge) => {
                const at = x(edgesOf(index)[edge]);
                // An edge that lies outside what is shown has no handle.
                if (at < left - 1 || at > right + 1) return null;
                const isMoving = draft?.index === index && draft.edge === edge;
                return (
                  <g
                    key={`${index} ${edge}`}
                    role="slider"
                    tabIndex={0}
                    aria-label={`${EDGE_LABELS[edge]} of ${span.label}`}
                    aria-valuemin={0}
                    aria-valuemax={strip.totalS}
                    aria-valuenow={edgesOf(index)[edge]}
                    aria-valuetext={`${edgesOf(index)[edge].toFixed(1)} s`}
                    className="span-edge"
                    style={{ cursor: 'ew-resize', touchAction: 'none' }}
                    onKeyDown={(event) => onKeyDown(event, index, edge)}
                    onBlur={() => draft && commit()}
                    onPointerDown={(event) => {
                      event.stopPropagation();
                      event.currentTarget.setPointerCapture(event.pointerId);
                      setDraft(held(index, edge, edgesOf(index)[edge]));
                    }}
                    onPointerMove={(event) => {
                      if (!draft || !event.currentTarget.hasPointerCapture(event.pointerId)) return;
                      event.stopPropagation();
                      setDraft(held(index, edge, timeAt(event)));
                    }}
                    onPointerUp={(event) => {
                      event.stopPropagation();
                      commit();
                    }}
                  >
                    <line
                      x1={at}
                      x2={at}
                      y1={0}
                      y2={height}
                      stroke="var(--acting)"
                      strokeWidth={isMoving ? 2 : 1}
                      strokeDasharray={isMoving ? undefined : '3 3'}
                    />
                    <rect
                      x={at - HANDLE / 2}
                      y={0}
                      width={HANDLE}
                      height={ROW - 2}
                      rx={2}
                      fill="var(--surface)"
                      stroke="var(--acting)"
                      strokeWidth={1.5}
                    />
                    <rect x={at - HANDLE} y={0} width={2 * HANDLE} height={ROW + 4} fill="transparent" />
                    {isMoving && (
                      <text
                        x={at + (edge === 'fromS' ? -8 : 8)}
                        y={ROW + 14}
                        textAnchor={edge === 'fromS' ? 'end' : 'start'}
                        fontSize={12}
                        className="figures"
                        fill="var(--ink)"
                      >
                        {`${draft.value.toFixed(1)} s`}
                      </text>
                    )}
                  </g>
                );
              }),
        )}
    </g>
  );
}
