import { Button } from 'antd';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Letter } from '@ebrix/contract';
import { plain } from '../../shared/format/format-quantity.js';
import { NumberInput } from '../../shared/ui/NumberInput.js';
import { SetupShape } from '../../shared/ui/SetupMark.js';
import { addCorner, moveCorner, removeCorner, spanOf, worthAt, type Corners } from './worth-corners.js';
import type { Scale } from './live-use.js';

const MINI = { width: 76, height: 26 };

/** The curve alone, small. */
export function WorthCurve({ points }: { readonly points: Corners }) {
  const [from, to] = spanOf(points, []);
  const x = (at: number): number => 2 + ((at - from) / (to - from)) * (MINI.width - 4);
  const y = (worth: number): number => MINI.height - 3 - worth * (MINI.height - 6);
  return (
    <svg width={MINI.width} height={MINI.height} aria-hidden="true">
      <path d={pathOf(points, from, to, x, y)} fill="none" stroke="var(--acting)" strokeWidth={2} />
    </svg>
  );
}

function pathOf(
  points: Corners,
  from: number,
  to: number,
  x: (at: number) => number,
  y: (worth: number) => number,
): string {
  const [first, last] = [points[0]!, points.at(-1)!];
  return [{ at: from, worth: first.worth }, ...points, { at: to, worth: last.worth }]
    .map(({ at, worth }, k) => `${k === 0 ? 'M' : 'L'}${x(at)} ${y(worth)}`)
    .join('');
}

interface Props {
  readonly label: string;
  readonly points: Corners;
  readonly isUsual: boolean;
  readonly scale: Scale;
  readonly setups: readonly { readonly letter: Letter; readonly value: number }[];
  readonly onChange: (points: Corners | null) => void;
}
const BOX = { width: 460, height: 190, left: 40, right: 14, top: 12, bottom: 30 };
const STEPS = 50;

/** Draws what a figure is worth: corners to drag, to move by arrow keys, or to type. */
export function WorthEditor({ label, points, isUsual, scale, setups, onChange }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const dragged = useRef<number>(undefined);
  const [from, to] = spanOf(
    points,
    setups.map(({ value }) => value),
  );
  const inner = { width: BOX.width - BOX.left - BOX.right, height: BOX.height - BOX.top - BOX.bottom };
  const x = (at: number): number => BOX.left + ((at - from) / (to - from)) * inner.width;
  const y = (worth: number): number => BOX.top + (1 - worth) * inner.height;
  const drag = (event: PointerEvent): void => {
    const box = svg.current?.getBoundingClientRect();
    if (dragged.current === undefined || !box) return;
    const shareX = ((event.clientX - box.left) / box.width) * BOX.width;
    const shareY = ((event.clientY - box.top) / box.height) * BOX.height;
    const at = from + ((shareX - BOX.left) / inner.width) * (to - from);
    onChange(moveCorner(points, dragged.current, { at, worth: 1 - (shareY - BOX.top) / inner.height }));
  };
  const byKey = (event: KeyboardEvent, k: number): void => {
    const step = (to - from) / STEPS;
    const { at, worth } = points[k]!;
    const moves: Record<string, { at: number; worth: number }> = {
      ArrowLeft: { at: at - step, worth },
      ArrowRight: { at: at + step, worth },
      ArrowUp: { at, worth: worth + 0.05 },
      ArrowDown: { at, worth: worth - 0.05 },
    };
    const move = moves[event.key];
    if (event.key === 'Delete' && points.length > 2) onChange(removeCorner(points, k));
    else if (move) onChange(moveCorner(points, k, move));
    else return;
    event.preventDefault();
  };
  return (
    <div className="worth-editor">
      <svg
        ref={svg}
        viewBox={`0 0 ${BOX.width} ${BOX.height}`}
        role="group"
        aria-label={`What ${label} is worth`}
        onPointerMove={drag}
        onPointerUp={() => (dragged.current = undefined)}
      >
        {[0, 0.5, 1].map((worth) => (
          <g key={worth}>
            <line x1={BOX.left} x2={BOX.width - BOX.right} y1={y(worth)} y2={y(worth)} stroke="var(--hairline)" />
            <text
              className="figures"
              x={BOX.left - 6}
              y={y(worth) + 4}
              fontSize={12}
              textAnchor="end"
              fill="var(--ink-2)"
            >
              {100 * worth}
            </text>
          </g>
        ))}
        {[from, (from + to) / 2, to].map((at, k) => (
          <text
            key={k}
            className="figures"
            x={x(at)}
            y={BOX.height - 8}
            fontSize={12}
            textAnchor={(['start', 'middle', 'end'] as const)[k]}
            fill="var(--ink-2)"
          >
            {plain(scale.toShown(at), 3)}
            {k === 2 && scale.unit ? ` ${scale.unit}` : ''}
          </text>
        ))}
        <path d={pathOf(points, from, to, x, y)} fill="none" stroke="var(--acting)" strokeWidth={2} />
        {setups.map(({ letter, value }) => (
          <SetupShape key={letter} letter={letter} x={x(value)} y={y(worthAt(points, value))} size={11} isHollow />
        ))}
        {points.map(({ at, worth }, k) => (
          <circle
            key={k}
            className="corner"
            cx={x(at)}
            cy={y(worth)}
            r={7}
            tabIndex={0}
            role="slider"
            aria-label={`Corner ${k + 1}: worth ${Math.round(100 * worth)} at ${scale.text(at)}`}
            aria-valuenow={Math.round(100 * worth)}
            aria-valuemin={0}
            aria-valuemax={100}
            onPointerDown={(event) => {
              dragged.current = k;
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onKeyDown={(event) => byKey(event, k)}
          />
        ))}
      </svg>
      <div className="corner-numbers">
        <p className="quiet">
          0 is no good, 100 as good as one could wish. Drag the corners, move them by arrow keys, or type.
        </p>
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">At{scale.unit ? `, ${scale.unit}` : ''}</th>
              <th scope="col">Worth</th>
              <th scope="col">
                <span className="unseen">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {points.map(({ at, worth }, k) => (
              <tr key={k}>
                <td>
                  <NumberInput
                    value={scale.toShown(at)}
                    label={`Corner ${k + 1} at`}
                    onChange={(typed) => onChange(moveCorner(points, k, { at: scale.fromShown(typed), worth }))}
                  />
                </td>
                <td>
                  <NumberInput
                    value={100 * worth}
                    label={`Worth of corner ${k + 1}`}
                    onChange={(typed) => onChange(moveCorner(points, k, { at, worth: typed / 100 }))}
                  />
                </td>
                <td>
                  {points.length > 2 && (
                    <Button
                      size="small"
                      aria-label={`Remove corner ${k + 1}`}
                      onClick={() => onChange(removeCorner(points, k))}
                    >
                      Remove
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <div className="actions">
          {points.length < 9 && (
            <Button size="small" onClick={() => onChange(addCorner(points))}>
              Add a corner
            </Button>
          )}
          {!isUsual && (
            <Button size="small" onClick={() => onChange(null)}>
              Back to the usual curve
            </Button>
          )}
        </div>
      </div>
    </div>
  );
}
