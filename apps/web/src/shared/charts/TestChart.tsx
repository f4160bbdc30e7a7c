import { scaleLinear } from 'd3-scale';
import { useLayoutEffect, useRef, useState } from 'react';
import {
  CartesianGrid,
  ErrorBar,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import type { ChartDto } from '@ebrix/contract';
import { convertUnit, convertUnitDifference, displayUnit, type UnitName } from '@ebrix/core/units';
import { useUnits } from '../preferences/index.js';
import { plain, unitText } from '../format/format-quantity.js';
import { extent } from './extent.js';
import { spreadLabels } from './spread-labels.js';
import { SERIES_STYLES, type SeriesStyle } from './series-styles.js';

const HEIGHT = 270;
const MARGIN = { top: 10, right: 16, bottom: 20, left: 2 };
const ACROSS_HEIGHT = 30;
const PLOT_HEIGHT = HEIGHT - MARGIN.top - MARGIN.bottom - ACROSS_HEIGHT;
/** Wide enough for the names of lines beside the plot; narrower, they stand below it with their values. */
const WIDE = 620;
const NAMES_WIDTH = 190;
const NAME_GAP = 15;
const LINE = { stroke: 'var(--ink)', strokeDasharray: '5 3', ifOverflow: 'extendDomain' } as const;
const TABLE_ROWS = 40;

/** One picture of a test: points and curves on axes with units, lines at the values that matter, its numbers in a table behind. */
export default function TestChart({ chart }: { readonly chart: ChartDto }) {
  const system = useUnits();
  const { x, y, series, lines, title } = inUnits(chart, system);
  const axis = { stroke: 'none', fill: 'var(--ink-2)', fontSize: 12, fontFamily: 'var(--figures)' };
  const named = (label: string, unit: UnitName): string => (unitText(unit) ? `${label}, ${unitText(unit)}` : label);
  const styleOf = stylesOf(series);
  const legend = series.filter(({ isFit }) => !isFit);
  const isNamed = series.length > 1;
  const [width, setWidth] = useState(0);
  const plot = useRef<HTMLDivElement>(null);
  // Before it is drawn: where names stand depends on it, and with them how high all of it is.
  useLayoutEffect(() => setWidth(plot.current!.clientWidth), []);
  const level = lines.filter((line) => line.axis === 'y');
  const upright = lines.filter((line) => line.axis === 'x');
  const across = ticksOf(
    [...series.flatMap(({ points }) => points.map((point) => point.x)), ...upright.map(({ at }) => at)],
    x.unit === 'level' ? 1 : undefined,
  );
  const up = ticksOf(
    withFloor([
      ...series.flatMap(({ points }) =>
        points.flatMap((point) => [point.y - (point.plusMinus ?? 0), point.y + (point.plusMinus ?? 0)]),
      ),
      ...level.map(({ at }) => at),
    ]),
  );
  const isBeside = width > WIDE && level.length > 0;
  const [lowest, highest] = ends(up);
  const heights = level.map(({ at }) => (PLOT_HEIGHT * (highest - at)) / (highest - lowest));
  const nameHeights = spreadLabels(heights, NAME_GAP, PLOT_HEIGHT);
  return (
    <figure className="picture">
      <figcaption>{title}</figcaption>
      <div
        ref={plot}
        role="img"
        aria-label={`${title}: ${named(y.label, y.unit)} over ${named(x.label, x.unit)}. The data is in the table below.`}
      >
        <ResponsiveContainer width="100%" height={HEIGHT} onResize={setWidth}>
          <ScatterChart margin={{ ...MARGIN, ...(isBeside && { right: NAMES_WIDTH }) }} accessibilityLayer={false}>
            <CartesianGrid stroke="var(--band)" />
            <XAxis
              dataKey="x"
              type="number"
              height={ACROSS_HEIGHT}
              domain={x.categories ? [-0.5, x.categories.length - 0.5] : ends(across)}
              ticks={x.categories ? x.categories.map((_, k) => k) : [...across]}
              interval={x.categories ? 0 : 'preserveStartEnd'}
              tickFormatter={(value: number) => x.categories?.[value] ?? plain(value, 4)}
              allowDecimals={x.unit !== 'level'}
              tick={axis}
              stroke="var(--hairline)"
              label={{
                value: named(x.label, x.unit),
                position: 'insideBottom',
                offset: -12,
                fill: 'var(--ink-2)',
                fontSize: 12,
              }}
            />
            <YAxis
              dataKey="y"
              type="number"
              domain={ends(up)}
              ticks={[...up]}
              tickFormatter={(value: number) => plain(value, 4)}
              tick={axis}
              stroke="var(--hairline)"
              width={64}
              label={{
                value: named(y.label, y.unit),
                angle: -90,
                position: 'insideLeft',
                offset: 8,
                fill: 'var(--ink-2)',
                fontSize: 12,
                style: { textAnchor: 'middle' },
              }}
            />
            <Tooltip
              isAnimationActive={false}
              cursor={{ stroke: 'var(--ink-2)', strokeDasharray: '3 3' }}
              formatter={(value) => plain(Number(value), 4)}
              labelFormatter={() => ''}
              contentStyle={{
                background: 'var(--surface)',
                border: '1px solid var(--hairline)',
                borderRadius: 4,
                color: 'var(--ink)',
              }}
            />
            {level.map(({ at, label }, k) => (
              <ReferenceLine
                key={label}
                y={at}
                {...LINE}
                {...(isBeside && { label: lineName(label, nameHeights[k]!) })}
              />
            ))}
            {upright.map(({ at, label }) => (
              <ReferenceLine
                key={label}
                x={at}
                {...LINE}
                label={{ value: label, position: 'insideTopRight', fill: 'var(--ink)', fontSize: 12 }}
              />
            ))}
            {series.map(({ label, drawAs, points }, k) => {
              const { colour, dash, shape } = styleOf(k);
              const isLine = drawAs === 'line';
              return (
                <Scatter
                  key={label}
                  name={label}
                  data={points}
                  fill={colour}
                  isAnimationActive={false}
                  shape={isLine ? () => <g /> : points.length > MANY_POINTS ? smallDot(colour) : shape}
                  {...(isLine && {
                    line: { stroke: colour, strokeWidth: 1.7, ...(dash && { strokeDasharray: dash }) },
                  })}
                  lineType="joint"
                >
                  {points.some(({ plusMinus }) => plusMinus !== undefined) && (
                    <ErrorBar dataKey="plusMinus" direction="y" width={7} stroke={colour} strokeWidth={1.6} />
                  )}
                </Scatter>
              );
            })}
          </ScatterChart>
        </ResponsiveContainer>
      </div>
      {(legend.length > 1 || (!isBeside && level.length > 0)) && (
        <ul className="picture-names">
          {(legend.length > 1 ? legend : []).map(({ label, drawAs }) => {
            const { colour, dash, mark } = styleOf(series.findIndex((one) => one.label === label));
            return (
              <li key={label}>
                <svg width={26} height={12} aria-hidden="true">
                  {drawAs === 'line' ? (
                    <line x1={0} x2={26} y1={6} y2={6} stroke={colour} strokeWidth={2} strokeDasharray={dash} />
                  ) : (
                    <path d={mark} transform="translate(13 6)" fill={colour} />
                  )}
                </svg>
                {label}
              </li>
            );
          })}
          {!isBeside &&
            level.map(({ at, label }) => (
              <li key={label}>
                <svg width={26} height={12} aria-hidden="true">
                  <line x1={0} x2={26} y1={6} y2={6} stroke="var(--ink)" strokeDasharray="5 3" />
                </svg>
                {label}, {plain(at, 4)} {unitText(y.unit)}
              </li>
            ))}
        </ul>
      )}
      <details>
        <summary className="quiet">Chart data</summary>
        <div className="scroll-x" tabIndex={0} role="region" aria-label={`Numbers of ${title}`}>
          <table className="rows">
            <thead>
              <tr>
                {isNamed && <th scope="col">Curve</th>}
                <th scope="col" className="number">
                  {named(x.label, x.unit)}
                </th>
                <th scope="col" className="number">
                  {named(y.label, y.unit)}
                </th>
              </tr>
            </thead>
            <tbody>
              {series.flatMap(({ label, points }) =>
                points
                  .filter((_, k) => k % Math.max(1, Math.ceil((points.length * series.length) / TABLE_ROWS)) === 0)
                  .map((point, k) => (
                    <tr key={`${label} ${k}`}>
                      {isNamed && <td>{label}</td>}
                      <td className="number">{x.categories?.[point.x] ?? plain(point.x)}</td>
                      <td className="number">
                        {plain(point.y)}
                        {point.plusMinus !== undefined && ` ± ${plain(point.plusMinus, 2)}`}
                      </td>
                    </tr>
                  )),
              )}
            </tbody>
          </table>
        </div>
      </details>
    </figure>
  );
}

interface LabelProps {
  readonly viewBox?: unknown;
}

/** The name of a level line, beside the plot with a thread to its line. */
function lineName(label: string, height: number) {
  return function LineName({ viewBox }: LabelProps) {
    const { x, y, width } = viewBox as { x: number; y: number; width: number };
    const end = x + width;
    const at = MARGIN.top + height;
    return (
      <g className="line-name">
        <path d={`M${end + 2} ${y}L${end + 12} ${at}`} stroke="var(--ink-2)" fill="none" />
        <text x={end + 16} y={at} dominantBaseline="central" fontSize={12}>
          {label}
        </text>
      </g>
    );
  };
}

interface Point {
  readonly x: number;
  readonly y: number;
  readonly plusMinus?: number;
}
interface Drawn extends Omit<ChartDto, 'series'> {
  readonly series: readonly {
    readonly label: string;
    readonly drawAs: 'line' | 'points';
    readonly isFit: boolean;
    readonly points: Point[];
  }[];
}

/** A fitted curve wears the colour of what it is fitted to. */
function stylesOf(series: Drawn['series']): (k: number) => SeriesStyle {
  let own = -1;
  const places = series.map(({ isFit }) => (isFit ? own : ++own));
  return (k) => {
    const place = Math.max(0, places[k]!);
    const style = SERIES_STYLES[place % SERIES_STYLES.length]!;
    if (place < SERIES_STYLES.length) return style;
    // More curves than colours: the colours come again, each with another's dash.
    return {
      ...style,
      dash: SERIES_STYLES[(place + Math.floor(place / SERIES_STYLES.length)) % SERIES_STYLES.length]!.dash,
    };
  };
}

/** The picture in the person's units. */
function inUnits(chart: ChartDto, system: ReturnType<typeof useUnits>): Drawn {
  const [toX, toY] = [displayUnit(chart.x.unit, system), displayUnit(chart.y.unit, system)];
  const xOf = (value: number): number => (chart.x.categories ? value : convertUnit(value, chart.x.unit, toX));
  const yOf = (value: number): number => convertUnit(value, chart.y.unit, toY);
  return {
    ...chart,
    x: { ...chart.x, unit: toX },
    y: { ...chart.y, unit: toY },
    lines: chart.lines.map((line) => ({ ...line, at: line.axis === 'x' ? xOf(line.at) : yOf(line.at) })),
    series: chart.series.map(({ label, drawAs, isFit = false, x, y, plusMinus }) => ({
      label,
      drawAs,
      isFit,
      points: x.map((value, k) => ({
        x: xOf(value),
        y: yOf(y[k]!),
        ...(plusMinus && { plusMinus: Math.abs(convertUnitDifference(plusMinus[k]!, chart.y.unit, toY)) }),
      })),
    })),
  };
}

/** Zero is the floor where the values come near it; a narrow range far from it is not squashed. */
function withFloor(values: readonly number[]): readonly number[] {
  const [least, most] = extent(values);
  return least >= 0 && least < 0.4 * most ? [0, ...values] : values;
}

const TICKS = 6;
/** Round ticks around all values; `step` where only whole ones make sense. */
function ticksOf(values: readonly number[], step?: number): readonly number[] {
  const [least, most] = extent(values);
  if (!(most >= least)) return [0, 1];
  if (step !== undefined) {
    const from = Math.floor(least - step / 2);
    return Array.from({ length: Math.ceil(most + step / 2) - from + 1 }, (_, k) => from + k);
  }
  const scale = scaleLinear(most > least ? [least, most] : [least - 1, most + 1], [0, 1]).nice(TICKS);
  return scale.ticks(TICKS);
}

function ends(ticks: readonly number[]): [number, number] {
  return [ticks[0]!, ticks.at(-1)!];
}

/** More points than this overlap: each is drawn small. */
const MANY_POINTS = 60;

function smallDot(colour: string) {
  return function SmallDot({ cx, cy }: { cx?: number | undefined; cy?: number | undefined }) {
    return <circle cx={cx} cy={cy} r={1.8} fill={colour} />;
  };
}
