import { scaleLinear } from 'd3-scale';
import { Area, AreaChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { Track } from '@ebrix/contract';
import { convertUnit, displayUnit } from '@ebrix/core/units';
import { useUnits } from '../../app/hooks.js';
import { plain } from '../../shared/format/format-quantity.js';

/** Altitude over distance, smoothed over 50 m. */
export default function CourseProfile({ profile }: { readonly profile: NonNullable<Track['profile']> }) {
  const system = useUnits();
  const [far, high] = [displayUnit('km', system), displayUnit('m', system)];
  const data = profile.map(({ distanceM, altitudeM }) => ({
    distance: Number(convertUnit(distanceM / 1000, 'km', far).toFixed(3)),
    altitude: Number(convertUnit(altitudeM, 'm', high).toFixed(1)),
  }));
  const axis = { stroke: 'none', fill: 'var(--ink-2)', fontSize: 12, fontFamily: 'var(--figures)' };
  const altitudes = data.map(({ altitude }) => altitude);
  const y = scaleLinear([Math.min(...altitudes), Math.max(...altitudes)], [0, 1]).nice(4);
  const last = data.at(-1)!.distance;
  return (
    <div
      role="img"
      aria-label={`Profile: altitude from ${plain(Math.min(...altitudes), 3)} to ${plain(Math.max(...altitudes), 3)} ${high}`}
    >
      <ResponsiveContainer width="100%" height={220}>
        <AreaChart data={data} margin={{ top: 8, right: 12, bottom: 22, left: 8 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--band)" vertical={false} />
          <XAxis
            dataKey="distance"
            type="number"
            domain={[0, last]}
            ticks={scaleLinear([0, last], [0, 1]).ticks(6)}
            tick={axis}
            stroke="var(--hairline)"
            label={{
              value: `distance, ${far}`,
              position: 'insideBottom',
              offset: -12,
              fill: 'var(--ink-2)',
              fontSize: 12,
            }}
          />
          <YAxis
            tick={axis}
            stroke="var(--hairline)"
            width={58}
            domain={y.domain()}
            ticks={y.ticks(4)}
            label={{
              value: `altitude, ${high}`,
              angle: -90,
              position: 'insideLeft',
              offset: 4,
              fill: 'var(--ink-2)',
              fontSize: 12,
              style: { textAnchor: 'middle' },
            }}
          />
          <Tooltip
            isAnimationActive={false}
            formatter={(value) => [`${String(value)} ${high}`, 'altitude']}
            labelFormatter={(value) => `${Number(value)} ${far}`}
            contentStyle={{
              background: 'var(--surface)',
              border: '1px solid var(--hairline)',
              borderRadius: 4,
              color: 'var(--ink)',
            }}
          />
          <Area
            dataKey="altitude"
            stroke="var(--acting)"
            strokeWidth={2}
            fill="var(--band)"
            isAnimationActive={false}
            baseValue="dataMin"
          />
        </AreaChart>
      </ResponsiveContainer>
    </div>
  );
}
