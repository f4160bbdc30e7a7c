import type { TimingGate, Track } from '@ebrix/contract';
import { convertUnit } from '@ebrix/core/units';
import { useUnits } from '../../shared/preferences/index.js';
import { formatLength } from '../../shared/format/format-quantity.js';
import { useWidth } from '../../shared/charts/index.js';

const PADDING = 14;

/** The course seen from above, with a scale and north; no map behind it. */
export function CoursePlan({
  track,
  height,
  gates = [],
  isSmall = false,
  onPick,
}: {
  readonly track: Track;
  readonly gates?: readonly TimingGate[];
  readonly height: number;
  readonly isSmall?: boolean;
  /** A tap on the way: how far along it. */
  readonly onPick?: (distanceM: number) => void;
}) {
  const system = useUnits();
  const [box, width] = useWidth<HTMLDivElement>(isSmall ? 120 : 420);
  const east = track.plan.map(({ eastM }) => eastM);
  const north = track.plan.map(({ northM }) => northM);
  const [minE, maxE, minN, maxN] = [Math.min(...east), Math.max(...east), Math.min(...north), Math.max(...north)];
  const padding = isSmall ? 4 : PADDING;
  const foot = isSmall ? 0 : 26;
  const scale = Math.min(
    (width - 2 * padding) / Math.max(1, maxE - minE),
    (height - foot - 2 * padding) / Math.max(1, maxN - minN),
  );
  const x = (e: number): number => width / 2 + (e - (minE + maxE) / 2) * scale;
  const y = (n: number): number => (height - foot) / 2 - (n - (minN + maxN) / 2) * scale;
  const path = track.plan
    .map(({ eastM, northM }, k) => `${k === 0 ? 'M' : 'L'}${x(eastM).toFixed(1)} ${y(northM).toFixed(1)}`)
    .join('');
  const unit = system === 'imperial' ? 'mi' : 'km';
  const bar = roundLength(convertUnit(((width - 2 * padding) * 0.3) / scale, 'm', unit));
  const barPx = convertUnit(bar, unit, 'm') * scale;
  const start = track.plan[0];
  return (
    <div ref={box}>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={`Plan of the course, ${formatLength(track.lengthM, system)} long`}
        style={{ display: 'block', cursor: onPick ? 'crosshair' : undefined }}
        onClick={({ clientX, clientY, currentTarget }) => {
          if (!onPick) return;
          const { left, top } = currentTarget.getBoundingClientRect();
          onPick(
            nearestDistance(track.plan, (at) => Math.hypot(x(at.eastM) - clientX + left, y(at.northM) - clientY + top)),
          );
        }}
      >
        <path d={path} fill="none" stroke="var(--acting)" strokeWidth={isSmall ? 1.6 : 2.4} strokeLinejoin="round" />
        {start && (
          <circle
            cx={x(start.eastM)}
            cy={y(start.northM)}
            r={isSmall ? 2.5 : 4.5}
            fill="var(--caution)"
            stroke="var(--ink)"
          />
        )}
        {!isSmall &&
          gates.map((gate, k) => {
            const at = pointAt(track.plan, gate.distanceM);
            return (
              <g key={k}>
                <circle cx={x(at.eastM)} cy={y(at.northM)} r={8} fill="var(--caution)" stroke="var(--ink)" />
                <text
                  x={x(at.eastM)}
                  y={y(at.northM) + 4}
                  textAnchor="middle"
                  fontSize={11}
                  fontWeight={700}
                  fill="#14211c"
                >
                  {{ start: 'S', finish: 'F', lap: 'L', 'temperature-stop': 'T' }[gate.kind]}
                </text>
              </g>
            );
          })}
        {!isSmall && (
          <g stroke="var(--ink)" fill="var(--ink)">
            <path d={`M${padding} ${height - 14}h${barPx}m0 -4v8m${-barPx} -8v8`} fill="none" />
            <text className="figures" x={padding + barPx + 8} y={height - 10} fontSize={12} stroke="none">
              {bar} {unit}
            </text>
            <path d={`M${width - 20} ${height - 8}v-26l-5 9m5 -9l5 9`} fill="none" />
            <text x={width - 20} y={height - 38} fontSize={12} textAnchor="middle" stroke="none">
              N
            </text>
          </g>
        )}
      </svg>
    </div>
  );
}

/** Distance along the plan of its point that lies nearest; long pieces are looked at in steps. */
function nearestDistance(plan: Track['plan'], gapTo: (at: Track['plan'][number]) => number): number {
  const lengthM = plan
    .slice(1)
    .reduce((sum, point, k) => sum + Math.hypot(point.eastM - plan[k]!.eastM, point.northM - plan[k]!.northM), 0);
  let best = { distanceM: 0, gap: Infinity };
  for (let k = 0; k <= PICK_STEPS; k++) {
    const distanceM = (lengthM * k) / PICK_STEPS;
    const gap = gapTo(pointAt(plan, distanceM));
    if (gap < best.gap) best = { distanceM, gap };
  }
  return best.distanceM;
}
const PICK_STEPS = 1000;

/** The place on the plan at a distance along it. */
function pointAt(plan: Track['plan'], distanceM: number): Track['plan'][number] {
  let gone = 0;
  for (let k = 1; k < plan.length; k++) {
    const [a, b] = [plan[k - 1]!, plan[k]!];
    const step = Math.hypot(b.eastM - a.eastM, b.northM - a.northM);
    if (gone + step >= distanceM && step > 0) {
      const share = (distanceM - gone) / step;
      return { eastM: a.eastM + share * (b.eastM - a.eastM), northM: a.northM + share * (b.northM - a.northM) };
    }
    gone += step;
  }
  return plan.at(-1)!;
}

/** 1, 2 or 5 times a power of ten, not above the length. */
function roundLength(length: number): number {
  const power = 10 ** Math.floor(Math.log10(length));
  const step = [5, 2, 1].find((factor) => factor * power <= length) ?? 1;
  return Number((step * power).toPrecision(1));
}
