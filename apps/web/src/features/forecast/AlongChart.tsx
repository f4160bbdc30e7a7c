import { scaleLinear } from 'd3-scale';
import type { Letter } from '@ebrix/contract';
import type { Forecast, ForecastPoint } from '@ebrix/core/forecast';
import { USUAL_LIMITS } from '@ebrix/core/ride';
import { convertUnit, displayUnit, type UnitName } from '@ebrix/core/units';
import { extent, useWidth } from '../../shared/charts/index.js';
import { plain, unitText } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { SetupShape, setupColour } from '../../shared/ui/SetupMark.js';

export interface DrawnSetup {
  readonly letter: Letter;
  readonly name: string;
  readonly answer: Forecast;
}
interface Limit {
  readonly at: number;
  readonly label: string;
}
interface Panel {
  readonly title: string;
  readonly unit: UnitName;
  /** Drawn in this one whatever the person's units. */
  readonly shownAs?: UnitName;
  readonly of: (point: ForecastPoint) => number;
  readonly band?: (point: ForecastPoint) => readonly [number, number];
  readonly limits: readonly Limit[];
  readonly floor?: number;
}

const LEFT = 54;
const RIGHT = 18;
const PANEL = 128;
const WAY = 64;
const GAP = 30;

/** The way and what happens along it: heights at the foot, above them charge, speed, power and warmth with their bands. */
export function AlongChart({
  setups,
  reserveShare,
  temperatureLimitC,
}: {
  readonly setups: readonly DrawnSetup[];
  readonly reserveShare: number;
  readonly temperatureLimitC: number | null;
}) {
  const system = useUnits();
  const [ref, width] = useWidth<HTMLDivElement>(760);
  const longest = setups.reduce<readonly ForecastPoint[]>(
    (most, { answer }) => (answer.along.length > most.length ? answer.along : most),
    [],
  );
  const endM = longest.at(-1)?.distanceM ?? 0;
  if (endM === 0) return null;
  const farUnit = displayUnit(endM >= 3000 ? 'km' : 'm', system);
  const far = (metres: number): number => convertUnit(metres, 'm', farUnit);
  const x = scaleLinear([0, far(endM)], [LEFT, width - RIGHT]);
  const panels: Panel[] = [
    {
      title: 'Charge left',
      unit: '1',
      shownAs: '%',
      of: ({ chargeLeftShare }) => chargeLeftShare,
      band: ({ chargeBand }) => chargeBand,
      limits: [{ at: reserveShare, label: 'reserve' }],
    },
    { title: 'Speed', unit: 'km/h', of: ({ speedKmh }) => speedKmh, limits: [], floor: 0 },
    { title: 'Power out of the battery', unit: 'W', of: ({ powerW }) => powerW, limits: [], floor: 0 },
    {
      title: 'Motor',
      unit: '°C',
      of: ({ motorTemperatureC }) => motorTemperatureC,
      band: ({ temperatureBand }) => temperatureBand,
      limits: temperatureLimitC === null ? [] : [{ at: temperatureLimitC, label: 'limit' }],
    },
    ...(setups.some(({ answer }) => answer.along[0]?.controllerTemperatureC !== undefined)
      ? [
          {
            title: 'Controller',
            unit: '°C' as const,
            of: ({ controllerTemperatureC }: ForecastPoint) => controllerTemperatureC ?? NaN,
            band: ({ controllerBand }: ForecastPoint) => controllerBand ?? ([NaN, NaN] as const),
            limits: [{ at: USUAL_LIMITS.controllerC!, label: 'limit' }],
          },
        ]
      : []),
  ];
  const height = panels.length * (PANEL + GAP) + WAY + 56;
  const wayTop = panels.length * (PANEL + GAP) + 12;
  const heights = longest.map(({ altitudeM }) => convertUnit(altitudeM, 'm', displayUnit('m', system)));
  const heightScale = scaleLinear(drawable(heights), [wayTop + WAY, wayTop + 6]);
  const ground = [
    ...longest.map(({ distanceM }, k) => `${x(far(distanceM)).toFixed(1)},${heightScale(heights[k]!).toFixed(1)}`),
    `${x(far(endM))},${wayTop + WAY}`,
    `${LEFT},${wayTop + WAY}`,
  ].join(' ');
  return (
    <figure className="picture along" ref={ref}>
      <figcaption>Along the way</figcaption>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label="Charge left, speed, power and motor temperature over the way. The numbers are in the table below."
      >
        {panels.map((panel, k) => (
          <PanelView
            key={panel.title}
            panel={panel}
            // A setup whose rides say nothing of it has no line in it.
            setups={setups.filter(({ answer: { along } }) => along[0] && Number.isFinite(panel.of(along[0])))}
            x={x}
            far={far}
            top={k * (PANEL + GAP) + 20}
            width={width}
          />
        ))}
        <polygon points={ground} className="along-ground" />
        <text x={4} y={wayTop + WAY / 2} className="along-text">
          {unitText(displayUnit('m', system))}
        </text>
        {heightScale.ticks(2).map((tick) => (
          <text key={tick} x={LEFT - 6} y={heightScale(tick) + 4} className="along-text" textAnchor="end">
            {plain(tick)}
          </text>
        ))}
        {x.ticks(Math.max(3, Math.floor(width / 110))).map((tick) => (
          <text key={tick} x={x(tick)} y={wayTop + WAY + 18} className="along-text" textAnchor="middle">
            {plain(tick)}
          </text>
        ))}
        <text x={width - RIGHT} y={wayTop + WAY + 34} className="along-text" textAnchor="end">
          {unitText(farUnit)} along the way
        </text>
      </svg>
      <Numbers setups={setups} far={far} farUnit={farUnit} />
    </figure>
  );
}

interface PanelProps {
  readonly panel: Panel;
  readonly setups: readonly DrawnSetup[];
  readonly x: (at: number) => number;
  readonly far: (metres: number) => number;
  readonly top: number;
  readonly width: number;
}
function PanelView({ panel, setups, x, far, top, width }: PanelProps) {
  const system = useUnits();
  const unit = panel.shownAs ?? displayUnit(panel.unit, system);
  const shown = (value: number): number => convertUnit(value, panel.unit, unit);
  const values = setups.flatMap(({ answer }) =>
    answer.along.flatMap((point) => [...(panel.band?.(point) ?? [panel.of(point)])]),
  );
  const seen = drawable(values.map(shown));
  // A limit far away is not worth squashing the curve for.
  const near = panel.limits.filter(
    ({ at }) =>
      shown(at) < seen[1] + 1.2 * (seen[1] - seen[0] + 5) && shown(at) > seen[0] - 1.2 * (seen[1] - seen[0] + 5),
  );
  const domain = drawable([
    ...seen,
    ...near.map(({ at }) => shown(at)),
    ...(panel.floor === undefined ? [] : [panel.floor]),
  ]);
  const y = scaleLinear(domain, [top + PANEL, top + 4]).nice(4);
  const line = (points: readonly ForecastPoint[], of: (point: ForecastPoint) => number): string =>
    points.map((point) => `${x(far(point.distanceM)).toFixed(1)},${y(shown(of(point))).toFixed(1)}`).join(' ');
  return (
    <g>
      <text x={LEFT} y={top - 5} className="along-title">
        {panel.title}, {unitText(unit) || '%'}
      </text>
      {y.ticks(4).map((tick) => (
        <g key={tick}>
          <line x1={LEFT} x2={width - RIGHT} y1={y(tick)} y2={y(tick)} className="along-grid" />
          <text x={LEFT - 6} y={y(tick) + 4} className="along-text" textAnchor="end">
            {plain(tick)}
          </text>
        </g>
      ))}
      {near.map(({ at, label }) => (
        <g key={label}>
          <line x1={LEFT} x2={width - RIGHT} y1={y(shown(at))} y2={y(shown(at))} className="along-limit" />
          <text x={width - RIGHT} y={y(shown(at)) - 4} className="along-text" textAnchor="end">
            {label}
          </text>
        </g>
      ))}
      {setups.map(({ letter, answer: { along } }) => {
        const colour = setupColour(letter);
        const every = Math.max(1, Math.floor(along.length / 4));
        const { band } = panel;
        return (
          <g key={letter}>
            {band && (
              <polygon
                points={`${line(along, (point) => band(point)[1])} ${line([...along].reverse(), (point) => band(point)[0])}`}
                fill={colour}
                opacity={0.16}
              />
            )}
            <polyline points={line(along, panel.of)} fill="none" stroke={colour} strokeWidth={1.8} />
            {along
              .filter((_, k) => k % every === Math.floor(every / 2))
              .map((point) => (
                <SetupShape
                  key={point.distanceM}
                  letter={letter}
                  x={x(far(point.distanceM))}
                  y={y(shown(panel.of(point)))}
                  size={8}
                />
              ))}
          </g>
        );
      })}
    </g>
  );
}

const ROWS = 12;
function Numbers({
  setups,
  far,
  farUnit,
}: {
  readonly setups: readonly DrawnSetup[];
  readonly far: (metres: number) => number;
  readonly farUnit: UnitName;
}) {
  const system = useUnits();
  const speed = displayUnit('km/h', system);
  const warm = displayUnit('°C', system);
  const hasController = setups.some(({ answer: { along } }) => along[0]?.controllerTemperatureC !== undefined);
  const spanned = (value: number, [low, high]: readonly [number, number]): string => {
    const [at, from, to] = [value, low, high].map((each) => convertUnit(each, '°C', warm).toFixed(0));
    return `${at} (${from} to ${to})`;
  };
  return (
    <details>
      <summary className="quiet">Numbers along the way</summary>
      <div className="scroll-x" tabIndex={0} role="region" aria-label="Numbers along the way">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Setup</th>
              <th scope="col" className="number">{`Way, ${unitText(farUnit)}`}</th>
              <th scope="col" className="number">
                Charge left, %
              </th>
              <th scope="col" className="number">{`Speed, ${unitText(speed)}`}</th>
              <th scope="col" className="number">
                Power, W
              </th>
              <th scope="col" className="number">{`Motor, ${unitText(warm)}`}</th>
              {hasController && <th scope="col" className="number">{`Controller, ${unitText(warm)}`}</th>}
            </tr>
          </thead>
          <tbody>
            {setups.flatMap(({ letter, answer: { along } }) =>
              along
                .filter((_, k) => k % Math.max(1, Math.ceil(along.length / ROWS)) === 0)
                .map((point) => (
                  <tr key={`${letter} ${point.distanceM}`}>
                    <td>{letter}</td>
                    <td className="number">{plain(far(point.distanceM), 3)}</td>
                    <td className="number">
                      {(100 * point.chargeLeftShare).toFixed(0)} ({(100 * point.chargeBand[0]).toFixed(0)} to{' '}
                      {(100 * point.chargeBand[1]).toFixed(0)})
                    </td>
                    <td className="number">{convertUnit(point.speedKmh, 'km/h', speed).toFixed(1)}</td>
                    <td className="number">{point.powerW.toFixed(0)}</td>
                    <td className="number">{spanned(point.motorTemperatureC, point.temperatureBand)}</td>
                    {hasController && (
                      <td className="number">
                        {point.controllerTemperatureC !== undefined && point.controllerBand
                          ? spanned(point.controllerTemperatureC, point.controllerBand)
                          : '–'}
                      </td>
                    )}
                  </tr>
                )),
            )}
          </tbody>
        </table>
      </div>
    </details>
  );
}

/** Wide enough to be drawn, however even the values are. */
function drawable(values: readonly number[]): [number, number] {
  const [low, high] = extent(values);
  return high > low ? [low, high] : [low - 1, low + 1];
}
