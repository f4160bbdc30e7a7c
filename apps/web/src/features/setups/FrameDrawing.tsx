import { frameShape, packPlace, roomAlong, type Point, type SetupFacts } from '@ebrix/core/bench';
import { useUnits } from '../../shared/preferences/index.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';

const WIDTH = 420;
const MARGIN = 34;

/** The inside of the frame to scale, with the room for the battery and the battery in it. */
export function FrameDrawing({ facts }: { readonly facts: SetupFacts }) {
  const system = useUnits();
  const { frame } = facts.bike;
  const pack = facts.packs.find((one) => packPlace(one) === 'frame');
  if (!frame || !pack) return null;
  const { seatTubeMm, topTubeMm, headTubeMm, downTubeMm, diagonalMm } = frame;
  if (seatTubeMm === null || topTubeMm === null || headTubeMm === null || downTubeMm === null || diagonalMm === null)
    return null;
  const shape = frameShape({ seatTubeMm, topTubeMm, headTubeMm, downTubeMm, diagonalMm });
  if (!shape.ok) return null;
  const { bottomBracket, headBottom, headTop, seatTop } = shape.value;
  const corners = [bottomBracket, headBottom, headTop, seatTop];
  const { lengthMm, heightMm, railMm } = pack;
  const tube = facts.fit.batteryTube;
  const room =
    lengthMm !== null && heightMm !== null && railMm !== null && tube !== null
      ? roomAlong(shape.value, tube, railMm, heightMm)
      : undefined;

  const xs = corners.map(({ x }) => x);
  const ys = corners.map(({ y }) => y);
  const scale = (WIDTH - 2 * MARGIN) / (Math.max(...xs) - Math.min(...xs));
  const height = (Math.max(...ys) - Math.min(...ys)) * scale + 2 * MARGIN;
  const at = ({ x, y }: Point): string =>
    `${(MARGIN + (x - Math.min(...xs)) * scale).toFixed(1)},${(height - MARGIN - (y - Math.min(...ys)) * scale).toFixed(1)}`;
  const battery = room?.ok ? batteryCorners(room.value.strip, lengthMm!) : undefined;
  const words = room?.ok
    ? `${formatQuantity(room.value.freeMm, 'mm', system, 3)} free along the ${tube!.replace('-', ' ')}, battery ${formatQuantity(lengthMm!, 'mm', system)}`
    : 'No room for the battery at this height';
  return (
    <figure style={{ margin: 0, maxWidth: WIDTH }}>
      <svg
        viewBox={`0 0 ${WIDTH} ${height.toFixed(0)}`}
        width="100%"
        role="img"
        aria-label={`Inside of the frame to scale. ${words}.`}
      >
        <polygon
          points={corners.map(at).join(' ')}
          fill="var(--surface)"
          stroke="var(--ink)"
          strokeWidth={5}
          strokeLinejoin="round"
        />
        {room?.ok && (
          <polygon
            points={room.value.strip.map(at).join(' ')}
            fill="none"
            stroke="var(--ink-2)"
            strokeWidth={1}
            strokeDasharray="5 4"
          />
        )}
        {battery && (
          <polygon points={battery.map(at).join(' ')} fill="var(--band)" stroke="var(--acting)" strokeWidth={1.5} />
        )}
        <circle
          cx={at(bottomBracket).split(',')[0]}
          cy={at(bottomBracket).split(',')[1]}
          r={9}
          fill="var(--ground)"
          stroke="var(--ink)"
          strokeWidth={4}
        />
        <line x1={MARGIN} y1={height - 10} x2={MARGIN + 100 * scale} y2={height - 10} stroke="var(--ink-2)" />
        <text x={MARGIN + 100 * scale + 6} y={height - 6} fontSize={12} fill="var(--ink-2)">
          {formatQuantity(100, 'mm', system)}
        </text>
      </svg>
      <figcaption className="quiet">{words}; dashed: the room at the battery’s height.</figcaption>
    </figure>
  );
}

/** The battery at the lower end of its strip. */
function batteryCorners(strip: readonly Point[], lengthMm: number): Point[] {
  const [a, b, , d] = strip as [Point, Point, Point, Point];
  const room = Math.hypot(b.x - a.x, b.y - a.y);
  const share = Math.min(1, lengthMm / room);
  const along = ({ x, y }: Point): Point => ({ x: x + (b.x - a.x) * share, y: y + (b.y - a.y) * share });
  return [a, along(a), along(d), d];
}
