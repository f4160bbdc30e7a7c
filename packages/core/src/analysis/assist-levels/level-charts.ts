import type { Figure } from '../figure.js';
import type { Chart, Span } from '../findings.js';
import type { LevelResult } from './analyse-levels.js';

export function levelSpans(levels: readonly LevelResult[]): Span[] {
  return levels.map(({ level, fromS, toS }) => ({ kind: 'level', fromS, toS, level, label: `Level ${level}` }));
}

/** Consumption and speed of the levels beside one another, with their intervals. */
export function levelCharts(levels: readonly LevelResult[]): Chart[] {
  const chart = (
    key: string,
    title: string,
    y: Chart['y'],
    figureOf: (level: LevelResult) => Figure | null,
  ): Chart[] => {
    const known = levels.flatMap((level) => {
      const figure = figureOf(level);
      return figure ? [{ level: level.level, figure }] : [];
    });
    if (known.length === 0) return [];
    return [
      {
        key,
        title,
        x: { label: 'Assist level', unit: 'level' },
        y,
        series: [
          {
            label: y.label,
            drawAs: 'points',
            x: known.map(({ level }) => level),
            y: known.map(({ figure }) => figure.value),
            plusMinus: known.map(({ figure }) => (figure.interval95[1] - figure.interval95[0]) / 2),
          },
        ],
        lines: [],
      },
    ];
  };
  return [
    ...chart('consumption', 'Consumption by level', { label: 'Consumption', unit: 'Wh/km' }, (l) => l.consumption),
    ...chart('speed', 'Steady speed by level', { label: 'Steady speed', unit: 'km/h' }, (l) => l.steadySpeed),
    ...chart('power', 'Mean power by level', { label: 'Mean power', unit: 'W' }, (l) => l.meanPower),
  ];
}
