import { scaleLinear } from 'd3-scale';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { TimingGate, Track } from '@ebrix/contract';
import { altitudeOn } from '@ebrix/core/courses';
import { convertUnit, displayUnit } from '@ebrix/core/units';
import { useUnits } from '../../shared/preferences/index.js';
import { formatLength, plain } from '../../shared/format/format-quantity.js';
import { useWidth } from '../../shared/charts/index.js';
import { TIMING_GATE_LABELS } from './course-labels.js';

interface Props {
  readonly lengthM: number;
  readonly profile: Track['profile'];
  readonly gates: readonly TimingGate[];
  /** Absent: the gates are only shown. */
  readonly onMove?: (index: number, distanceM: number) => void;
}

const HEIGHT = 230;
const MARGIN = { top: 46, right: 16, bottom: 40, left: 58 };
/** Steps of the arrow keys, m. */
const STEP_M = 10;
const FAR_STEP_M = 100;

/** Altitude over distance with the gates as posts: dragged with a finger, moved with the arrow keys. */
export function TimingGateProfile({ lengthM, profile, gates, onMove }: Props) {
  const system = useUnits();
  const [box, width] = useWidth<HTMLDivElement>(560);
  const svg = useRef<SVGSVGElement>(null);
  const [dragged, setDragged] = useState<number>();
  const [far, high] = [displayUnit('km', system), displayUnit('m', system)];
  const points = profile && profile.length > 1 ? profile : [];
  const altitudes = points.map(({ altitudeM }) => convertUnit(altitudeM, 'm', high));
  const x = scaleLinear([0, lengthM], [MARGIN.left, width - MARGIN.right]);
  /** Round in the person's own unit. */
  const along = scaleLinear([0, convertUnit(lengthM / 1000, 'km', far)], [0, 1]).ticks(6);
  const range = altitudes.length > 0 ? [Math.min(...altitudes), Math.max(...altitudes)] : [0, 1];
  // A level course is not drawn as a range of hills.
  const spread = Math.max(range[1]! - range[0]!, convertUnit(10, 'm', high));
  const y = scaleLinear([range[0]!, range[0]! + spread], [HEIGHT - MARGIN.bottom, MARGIN.top]).nice(4);
  const path = points
    .map(({ distanceM }, k) => `${k === 0 ? 'M' : 'L'}${x(distanceM).toFixed(1)} ${y(altitudes[k]!).toFixed(1)}`)
    .join('');
  const base = HEIGHT - MARGIN.bottom;
  const toDistance = (event: PointerEvent): number => {
    const { left } = svg.current!.getBoundingClientRect();
    return Math.min(lengthM, Math.max(0, Math.round(x.invert(event.clientX - left))));
  };
  const onKey = (event: KeyboardEvent, index: number): void => {
    const step =
      (event.shiftKey ? FAR_STEP_M : STEP_M) * (event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0);
    if (step === 0 || !onMove) return;
    event.preventDefault();
    onMove(index, Math.min(lengthM, Math.max(0, gates[index]!.distanceM + step)));
  };
  const axis = { fontSize: 12, fill: 'var(--ink-2)', fontFamily: 'var(--figures)' };
  return (
    <div ref={box}>
      <svg
        ref={svg}
        width={width}
        height={HEIGHT}
        role="group"
        aria-label="Profile of the course with its gates"
        style={{ display: 'block', touchAction: dragged === undefined ? 'pan-y' : 'none' }}
        onPointerMove={(event) => dragged !== undefined && onMove?.(dragged, toDistance(event))}
        onPointerUp={() => setDragged(undefined)}
        onPointerLeave={() => setDragged(undefined)}
      >
        {y.ticks(4).map((tick) => (
          <g key={tick}>
            <path d={`M${MARGIN.left} ${y(tick)}H${width - MARGIN.right}`} stroke="var(--band)" />
            <text x={MARGIN.left - 8} y={y(tick) + 4} textAnchor="end" {...axis}>
              {plain(tick, 4)}
            </text>
          </g>
        ))}
        {along.map((tick) => (
          <text key={tick} x={x(1000 * convertUnit(tick, far, 'km'))} y={base + 18} textAnchor="middle" {...axis}>
            {plain(tick, 3)}
          </text>
        ))}
        <text x={(MARGIN.left + width) / 2} y={HEIGHT - 4} textAnchor="middle" fontSize={12} fill="var(--ink-2)">
          distance, {far}
        </text>
        <text
          transform={`translate(14 ${(MARGIN.top + base) / 2}) rotate(-90)`}
          textAnchor="middle"
          fontSize={12}
          fill="var(--ink-2)"
        >
          altitude, {high}
        </text>
        {path !== '' && (
          <>
            <path
              d={`${path}L${x(points.at(-1)!.distanceM)} ${base}L${x(points[0]!.distanceM)} ${base}Z`}
              fill="var(--band)"
            />
            <path d={path} fill="none" stroke="var(--acting)" strokeWidth={2} />
          </>
        )}
        {path === '' && <path d={`M${x(0)} ${base - 2}H${x(lengthM)}`} stroke="var(--acting)" strokeWidth={2} />}
        {gates.map((gate, k) => {
          const at = x(gate.distanceM);
          const ground = points.length > 0 ? y(convertUnit(altitudeOn(points, gate.distanceM), 'm', high)) : base - 2;
          const isThermal = gate.kind === 'temperature-stop';
          return (
            <g
              key={k}
              role={onMove ? 'slider' : 'img'}
              tabIndex={onMove ? 0 : undefined}
              aria-label={`${TIMING_GATE_LABELS[gate.kind]}${gate.name ? ` ${gate.name}` : ''}`}
              aria-valuenow={Math.round(gate.distanceM)}
              aria-valuemin={0}
              aria-valuemax={Math.round(lengthM)}
              aria-valuetext={formatLength(gate.distanceM, system)}
              style={{ cursor: onMove ? 'ew-resize' : 'default' }}
              onPointerDown={(event) => {
                if (!onMove) return;
                event.preventDefault();
                event.currentTarget.focus();
                setDragged(k);
              }}
              onKeyDown={(event) => onKey(event, k)}
            >
              <rect x={at - 14} y={MARGIN.top - 40} width={28} height={base - MARGIN.top + 44} fill="transparent" />
              <path
                d={`M${at} ${MARGIN.top - 16}V${base}`}
                stroke="var(--ink)"
                strokeDasharray={isThermal ? '3 3' : undefined}
              />
              <rect x={at - 9} y={MARGIN.top - 34} width={18} height={18} fill="var(--caution)" stroke="var(--ink)" />
              <text x={at} y={MARGIN.top - 20.5} textAnchor="middle" fontSize={12} fontWeight={700} fill="#14211c">
                {{ start: 'S', finish: 'F', lap: 'L', 'temperature-stop': 'T' }[gate.kind]}
              </text>
              <circle cx={at} cy={ground} r={4} fill="var(--caution)" stroke="var(--ink)" />
            </g>
          );
        })}
      </svg>
    </div>
  );
}
