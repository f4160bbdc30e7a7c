import type { ChannelName, CleanLog } from '../../logs/index.js';
import { curveOf, type Chart } from '../findings.js';
import { smoothProfile } from '../range/climbing.js';
import { electricalPower } from '../range/ride-integrals.js';
import { rideDistance } from '../range/ride-distance.js';

/** Profile of the climb with power, speed and motor temperature, all over the way. */
export function climbCharts(log: CleanLog): Chart[] {
  const distance = rideDistance(log);
  if (!distance) return [];
  const { cumulativeM } = distance;
  const x = { label: 'Distance from start', unit: 'm' } as const;
  const way = (k: number): number => cumulativeM[k]! - cumulativeM[0]!;
  const over = (key: string, title: string, y: Chart['y'], values: Float64Array | undefined, factor = 1): Chart[] => {
    if (!values) return [];
    const series = [
      { label: y.label, drawAs: 'line' as const, ...curveOf(way, (k) => values[k]! * factor, 0, values.length - 1) },
    ];
    return series[0]!.x.length > 1 ? [{ key, title, x, y, series, lines: [] }] : [];
  };
  const channel = (name: ChannelName): Float64Array | undefined => log.channels[name];
  const profile = channel('altitude') && smoothProfile(cumulativeM, channel('altitude')!);
  return [
    ...(profile
      ? [
          {
            key: 'profile',
            title: 'Profile of the climb',
            x,
            y: { label: 'Altitude', unit: 'm' as const },
            series: [
              {
                label: 'Smoothed over 50 m',
                drawAs: 'line' as const,
                ...curveOf(
                  (k) => profile.distanceM[k]! - cumulativeM[0]!,
                  (k) => profile.altitudeM[k]!,
                  0,
                  profile.distanceM.length - 1,
                ),
              },
            ],
            lines: [],
          },
        ]
      : []),
    ...over('power', 'Electrical power', { label: 'Power', unit: 'W' }, electricalPower(log.channels)?.powerW),
    ...over('speed', 'Speed', { label: 'Speed', unit: 'km/h' }, channel('speed'), 3.6),
    ...over(
      'temperature',
      'Motor temperature',
      { label: 'Motor temperature', unit: '°C' },
      channel('motorTemperature'),
    ),
  ];
}
