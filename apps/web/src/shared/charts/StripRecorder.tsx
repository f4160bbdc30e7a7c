import { scaleLinear } from 'd3-scale';
import { useId, useMemo, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { CleaningReportDto, SpanDto, Strip } from '@ebrix/contract';
import { convertUnit, displayUnit } from '@ebrix/core/units';
import { useUnits } from '../preferences/index.js';
import { formatClock, plain, unitText } from '../format/format-quantity.js';
import { SpanLanes, spanLanesHeight } from './SpanLanes.js';
import { channelRange, clockTicks, nearestBin, stripPath } from './strip-path.js';
import { useWidth } from './use-width.js';

interface Props {
  readonly strip: Strip;
  readonly cleaning: Pick<CleaningReportDto, 'gaps' | 'spikes' | 'stuck'>;
  /** Asks for another span; undefined is the whole ride. */
  readonly onShowSpan: (span: { fromS: number; toS: number } | undefined) => void;
  readonly isFetching?: boolean;
  /** Spans that figures rest on, drawn above the channels. */
  readonly spans?: readonly SpanDto[];
  /** Given: the edges of spans can be moved. */
  readonly onSpan?: (index: number, edges: { fromS: number; toS: number }) => void;
}
type Channel = Strip['channels'][number];

const LEFT = 132;
const RIGHT = 14;
const HEIGHT = 74;
const GAP = 12;
const AXIS = 26;
const SHORTEST_DRAG_PX = 6;
/** Channels that say little as a line over time. */
const HIDDEN_AT_FIRST: ReadonlySet<string> = new Set(['distance', 'latitude', 'longitude', 'gear', 'lap']);
const COLOURS = [
  'var(--ink)',
  'var(--acting)',
  'var(--setup-a)',
  'var(--stop)',
  'var(--setup-c)',
  'var(--setup-b)',
  'var(--setup-e)',
];

/** Channels stacked on one clock with one cursor; drag to zoom. */
export function StripRecorder({ strip, cleaning, onShowSpan, isFetching = false, spans = [], onSpan }: Props) {
  const system = useUnits();
  const [box, width] = useWidth<HTMLDivElement>();
  const [cursorS, setCursorS] = useState<number>();
  const [drag, setDrag] = useState<{ from: number; to: number }>();
  const hatch = useId();
  const left = width < 520 ? 106 : LEFT;
  const { fromS, toS } = strip;
  const x = useMemo(
    () => scaleLinear([fromS, toS], [left, Math.max(left + 50, width - RIGHT)]),
    [fromS, toS, left, width],
  );
  const [toggled, setToggled] = useState<ReadonlySet<string>>(new Set());
  const known = useMemo(
    () => strip.channels.map((channel) => inUnits(channel, system)).filter((channel) => channelRange(channel)),
    [strip, system],
  );
  const isShown = (name: string): boolean => HIDDEN_AT_FIRST.has(name) === toggled.has(name);
  const channels = known.filter(({ name }) => isShown(name));
  const toggle = (name: string): void => {
    const next = new Set(toggled);
    if (!next.delete(name)) next.add(name);
    setToggled(next);
  };
  const spansHeight = spanLanesHeight(spans);
  const height = spansHeight + channels.length * (HEIGHT + GAP) + AXIS;
  const isZoomed = fromS > 0 || toS < strip.totalS;
  const timeAt = (event: PointerEvent<SVGSVGElement>): number => {
    const { left: edge } = event.currentTarget.getBoundingClientRect();
    return Math.min(toS, Math.max(fromS, x.invert(event.clientX - edge)));
  };
  const zoom = (factor: number): void => {
    const middle = cursorS ?? (fromS + toS) / 2;
    const half = ((toS - fromS) * factor) / 2;
    const next = { fromS: Math.max(0, middle - half), toS: Math.min(strip.totalS, middle + half) };
    onShowSpan(next.toS - next.fromS >= strip.totalS ? undefined : next);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = (toS - fromS) / 100;
    const moves: Record<string, () => void> = {
      ArrowLeft: () => setCursorS((t) => Math.max(fromS, (t ?? fromS) - step)),
      ArrowRight: () => setCursorS((t) => Math.min(toS, (t ?? fromS) + step)),
      '+': () => zoom(0.5),
      '-': () => zoom(2),
      Escape: () => onShowSpan(undefined),
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    move();
  };
  return (
    <div ref={box} aria-busy={isFetching}>
      <svg
        width={width}
        height={height}
        role={onSpan ? 'group' : 'img'}
        aria-label={`Strip recorder: ${channels.map(({ label }) => label).join(', ')} from ${formatClock(fromS)} to ${formatClock(toS)}. Arrow keys move the cursor, plus and minus zoom, Escape shows the whole ride. The readings are in the table below.`}
        tabIndex={0}
        style={{ display: 'block', touchAction: 'pan-y', cursor: 'crosshair', opacity: isFetching ? 0.7 : 1 }}
        onKeyDown={onKeyDown}
        onPointerMove={(event) => {
          const t = timeAt(event);
          setCursorS(t);
          if (drag) setDrag({ ...drag, to: t });
        }}
        onPointerLeave={() => !drag && setCursorS(undefined)}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          const t = timeAt(event);
          setDrag({ from: t, to: t });
        }}
        onPointerUp={() => {
          if (drag && Math.abs(x(drag.to) - x(drag.from)) > SHORTEST_DRAG_PX)
            onShowSpan({ fromS: Math.min(drag.from, drag.to), toS: Math.max(drag.from, drag.to) });
          setDrag(undefined);
        }}
        onDoubleClick={() => onShowSpan(undefined)}
      >
        <defs>
          <pattern id={hatch} width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1={0} y1={0} x2={0} y2={6} stroke="var(--ink-2)" strokeWidth={1.4} opacity={0.55} />
          </pattern>
          <clipPath id={`${hatch}-clip`}>
            <rect x={left} y={0} width={Math.max(0, width - RIGHT - left)} height={height} />
          </clipPath>
        </defs>
        {channels.map((channel, k) => (
          <Lane
            key={channel.name}
            channel={channel}
            top={spansHeight + k * (HEIGHT + GAP)}
            left={left}
            right={width - RIGHT}
            colour={COLOURS[k % COLOURS.length]!}
            x={x}
            cleaning={cleaning}
            clip={`${hatch}-clip`}
            {...(cursorS !== undefined && { cursorS })}
          />
        ))}
        <g clipPath={`url(#${hatch}-clip)`}>
          {cleaning.gaps.map(({ startS, endS }) => (
            <rect
              key={startS}
              x={x(startS)}
              y={0}
              width={Math.max(1, x(endS) - x(startS))}
              height={height - AXIS - GAP}
              fill={`url(#${hatch})`}
            >
              <title>{`Gap of ${plain(endS - startS, 3)} s`}</title>
            </rect>
          ))}
          {drag && (
            <rect
              x={Math.min(x(drag.from), x(drag.to))}
              y={0}
              width={Math.abs(x(drag.to) - x(drag.from))}
              height={height - AXIS - GAP}
              fill="var(--acting)"
              opacity={0.15}
            />
          )}
          {cursorS !== undefined && (
            <line
              x1={x(cursorS)}
              x2={x(cursorS)}
              y1={0}
              y2={height - AXIS - GAP + 4}
              stroke="var(--ink)"
              strokeWidth={1}
            />
          )}
        </g>
        {spans.length > 0 && (
          <SpanLanes
            spans={spans}
            strip={strip}
            x={x}
            left={left}
            right={width - RIGHT}
            height={height - AXIS - GAP}
            clip={`${hatch}-clip`}
            {...(onSpan && { onSpan })}
          />
        )}
        <g className="figures" fontSize={12} fill="var(--ink-2)">
          {clockTicks(fromS, toS, Math.max(3, Math.floor(width / 130))).map((t) => (
            <text key={t} x={x(t)} y={height - 8} textAnchor={x(t) > width - RIGHT - 22 ? 'end' : 'middle'}>
              {formatClock(t)}
            </text>
          ))}
          {cleaning.gaps
            .filter((gap) => gap.endS > fromS && gap.startS < toS)
            .slice(0, 4)
            .map(({ startS, endS }) => (
              <text
                key={startS}
                x={x((startS + endS) / 2)}
                y={height - AXIS + 2}
                textAnchor="middle"
                fontSize={11}
                fill="var(--ink)"
              >
                {`gap ${plain(endS - startS, 3)} s`}
              </text>
            ))}
        </g>
      </svg>
      <p className="quiet text-12-5 flex gap-14 items-center flex-wrap">
        <span className="figures strip-clock">
          {cursorS === undefined ? 'min:s from the start' : `at ${formatClock(cursorS)}`}
        </span>
        <span>Drag across the chart to zoom.</span>
        <span role="group" aria-label="Channels shown" className="flex gap-4 flex-wrap">
          {known.map(({ name, label }) => (
            <button
              key={name}
              type="button"
              className="lane-switch"
              aria-pressed={isShown(name)}
              onClick={() => toggle(name)}
            >
              {label}
            </button>
          ))}
        </span>
        {isZoomed && (
          <button
            type="button"
            className="figure-button font-inherit min-h-26 pt-2 pb-2 px-6"

            onClick={() => onShowSpan(undefined)}
          >
            Show the whole ride
          </button>
        )}
      </p>
    </div>
  );
}

interface LaneProps {
  readonly channel: Channel;
  readonly top: number;
  readonly left: number;
  readonly right: number;
  readonly colour: string;
  readonly x: (timeS: number) => number;
  readonly cleaning: Props['cleaning'];
  readonly clip: string;
  readonly cursorS?: number;
}

function Lane({ channel, top, left, right, colour, x, cleaning, clip, cursorS }: LaneProps) {
  const y = useMemo(() => scaleLinear(channelRange(channel)!, [top + HEIGHT - 2, top + 2]).nice(4), [channel, top]);
  const path = useMemo(() => stripPath(channel, cleaning.gaps, x, y), [channel, cleaning.gaps, x, y]);
  const [least, greatest] = y.domain();
  const spikes = cleaning.spikes.find(({ channel: name }) => name === channel.name);
  const stuck = cleaning.stuck.filter(({ channel: name }) => name === channel.name);
  const bin = cursorS === undefined || channel.timesS.length === 0 ? undefined : nearestBin(channel.timesS, cursorS);
  const fontSize = left < LEFT ? 11.5 : 13;
  const name = linesOf(channel.label, (left - 14) / (LETTER_WIDTH * fontSize));
  const reading = bin === undefined ? undefined : readingText(channel, bin);
  return (
    <g>
      <rect
        x={left}
        y={top}
        width={Math.max(0, right - left)}
        height={HEIGHT}
        fill="var(--surface)"
        stroke="var(--hairline)"
      />
      {y.ticks(3).map((tick) => (
        <line key={tick} x1={left} x2={right} y1={y(tick)} y2={y(tick)} stroke="var(--band)" />
      ))}
      <text textAnchor="end" fontWeight={650} fontSize={fontSize} fill={colour}>
        {name.map((words, k) => (
          <tspan key={words} x={left - 10} y={top + 18 + 15 * k}>
            {words}
          </tspan>
        ))}
      </text>
      <text x={left - 10} y={top + 19 + 15 * name.length} textAnchor="end" fontSize={12} fill="var(--ink-2)">
        {unitText(channel.unit)}
      </text>
      <g className="figures" fontSize={11} fill="var(--ink-2)">
        <text
          x={left - 10}
          y={top + HEIGHT - 4}
          textAnchor="end"
        >{`${plain(least!, 3)} … ${plain(greatest!, 3)}`}</text>
      </g>
      <g clipPath={`url(#${clip})`}>
        {stuck.map(({ startS, endS }) => (
          <rect
            key={startS}
            x={x(startS)}
            y={top}
            width={x(endS) - x(startS)}
            height={HEIGHT}
            fill="var(--caution)"
            opacity={0.3}
          >
            <title>Sensor stuck here</title>
          </rect>
        ))}
        <path d={path} fill="none" stroke={colour} strokeWidth={1.4} strokeLinejoin="round" />
        {spikes?.timesS.map((t) => (
          <path key={t} d={`M${x(t) - 3.5} ${top + 4}l7 7m-7 0l7 -7`} stroke="var(--stop)" strokeWidth={1.6}>
            <title>Spike removed</title>
          </path>
        ))}
      </g>
      {reading !== undefined && cursorS !== undefined && (
        <g transform={`translate(${Math.min(x(cursorS) + 6, right - 96)} ${top + 6})`}>
          <rect width={92} height={20} rx={2} fill="var(--ink)" />
          <text className="figures" x={8} y={14.5} fontSize={12} fill="var(--ground)">
            {reading}
          </text>
        </g>
      )}
    </g>
  );
}

function readingText({ low, high, unit }: Channel, bin: number): string {
  const [least, greatest] = [low[bin], high[bin]];
  if (least === null || least === undefined || greatest === null || greatest === undefined) return 'missing';
  return `${plain((least + greatest) / 2, 4)} ${unitText(unit)}`;
}

function inUnits(channel: Channel, system: ReturnType<typeof useUnits>): Channel {
  const unit = displayUnit(channel.unit, system);
  if (unit === channel.unit) return channel;
  const convert = (value: number | null): number | null =>
    value === null ? null : convertUnit(value, channel.unit, unit);
  return { ...channel, unit, low: channel.low.map(convert), high: channel.high.map(convert) };
}

/** Mean width of a bold letter, in font sizes. */
const LETTER_WIDTH = 0.56;

/** A name on one line, or its last word on a second where it is too long. */
function linesOf(name: string, letters: number): string[] {
  const at = name.length > letters ? name.lastIndexOf(' ') : -1;
  return at < 0 ? [name] : [name.slice(0, at), name.slice(at + 1)];
}
