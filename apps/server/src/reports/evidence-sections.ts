import { rollUp, type Check } from '@ebrix/core/bench';
import { DECIDING_FIGURES, ridingText } from '@ebrix/core/compare';
import { toFacts } from '../setups/revision-facts.js';
import type { ReportData, SetupOfReport } from './report-data.js';
import { text, type Block } from './report-model.js';
import { count, spanOf, writeFigure, writeQuantity } from './write-quantity.js';
import { costText, figureOf } from './answer-sections.js';

export function setupBlocks({ setups, system, spec }: ReportData): Block[] {
  const row = (label: string, of: (setup: SetupOfReport) => string): string[] => [label, ...setups.map(of)];
  const sums = new Map(setups.map(({ revision, letter }) => [letter, rollUp(toFacts(revision))]));
  const settingRows = (): string[][] => [
    row('Difficulty, 1 to 5', ({ difficulty }) => (difficulty === null ? 'not rated' : String(difficulty))),
    row('Assist level', ({ revision }) => revision.settings.assistLevel || '–'),
    row('Speed limit set', ({ revision }) =>
      revision.settings.speedLimitKmh === null ? '–' : writeQuantity(revision.settings.speedLimitKmh, 'km/h', system),
    ),
    row('Current limit set', ({ revision }) =>
      revision.settings.currentLimitA === null ? '–' : writeQuantity(revision.settings.currentLimitA, 'A', system),
    ),
  ];
  return [
    {
      kind: 'table',
      caption: 'Setups as ridden',
      head: ['', ...setups.map(({ letter, name }) => `${letter} ${name}`)],
      rows: [
        row('Bike', ({ revision }) => revision.parts.bike.name),
        row('Kit', ({ revision }) => revision.parts.kit?.name ?? 'none: the bike before conversion'),
        row('Packs', ({ revision }) => revision.parts.packs.map(({ name }) => name).join(', ') || '–'),
        row('Added to the bike', ({ letter }) => writeQuantity(sums.get(letter)!.mass.addedKg, 'kg', system)),
        row('Conversion', ({ costs }) => costText(costs.sums)),
        row('Hours of fitting', ({ fittingHours }) =>
          fittingHours === null ? 'not timed' : `${fittingHours.toFixed(1)} h`,
        ),
        ...(spec.form === 'short' ? [] : settingRows()),
      ],
      numeric: [],
    },
    ...setups.flatMap(({ photos, name }): Block[] =>
      photos.length === 0 ? [] : [text(name), { kind: 'photos', photos: [...photos] }],
    ),
  ];
}

export function ridden({ trial, runs: all, outings, system, verdict }: ReportData): Block[] {
  const counted = all.filter(({ run, apart }) => run.exclusion === null && apart === null);
  const days = outings.filter(({ id }) => counted.some(({ run }) => run.outing.id === id));
  const known = (read: (outing: ReportData['outings'][number]) => number | null): number[] =>
    days.flatMap((outing) => read(outing) ?? []);
  const [air, wind] = [known(({ airTemperatureC }) => airTemperatureC), known(({ windMps }) => windMps)];
  const courses = [...new Set(counted.map(({ run }) => run.course.name))];
  const left = all.filter(({ run }) => run.exclusion !== null);
  const apart = all.filter(({ run, apart: why }) => run.exclusion === null && why !== null);
  return [
    {
      kind: 'list',
      items: [
        `${count(counted.length, 'run')} on ${count(days.length, 'outing')}, from ${days.map(({ date }) => date).sort()[0] ?? '–'} to ${
          days
            .map(({ date }) => date)
            .sort()
            .at(-1) ?? '–'
        }`,
        `Courses: ${courses.join(', ') || '–'}`,
        `Ridden: ${ridingText(trial.heldRiding) || 'as each ride says'}${trial.heldEqual.length > 0 ? `; held equal: ${trial.heldEqual.join(', ')}` : ''}`,
        `Air: ${air.length > 0 ? spanOf(air, '°C', system) : 'not noted'}; wind: ${wind.length > 0 ? spanOf(wind, 'm/s', system) : 'not noted'}`,
        ...(trial.notes === '' ? [] : [trial.notes]),
      ],
    },
    ...(verdict.comparison ? [text(`Design: ${verdict.comparison.method.name}.`)] : []),
    ...(left.length > 0
      ? [
          {
            kind: 'table',
            caption: 'Left out by the tester',
            head: ['Setup', 'Outing', 'Reason'],
            rows: left.map(({ letter, run }) => [
              letter,
              `${run.outing.title} ${run.outing.date}`.trim(),
              run.exclusion!.reason,
            ]),
            numeric: [],
          } as const,
        ]
      : []),
    ...(apart.length > 0
      ? [
          {
            kind: 'table',
            caption: 'Do not count',
            head: ['Setup', 'Outing', 'Why'],
            rows: apart.map(({ letter, run, apart: why }) => [
              letter,
              `${run.outing.title} ${run.outing.date}`.trim(),
              why!,
            ]),
            numeric: [],
          } as const,
        ]
      : []),
  ];
}

export function figures({ verdict, setups, system }: ReportData): Block[] {
  const { comparison, figure } = verdict;
  if (!comparison) return [text(verdict.reason ?? verdict.headline)];
  return [
    {
      kind: 'table',
      caption: figure.label,
      head: ['Setup', 'Runs', 'Mean', '95 % interval of the mean', 'Scatter from run to run'],
      rows: comparison.setups.map(({ name, n, mean, intervalOfMean, coefficientOfVariation }, k) => [
        `${setups[k]?.letter ?? ''} ${name}`.trim(),
        String(n),
        writeQuantity(mean, figure.unit, system),
        intervalOfMean
          ? `${writeQuantity(intervalOfMean.lower, figure.unit, system)} to ${writeQuantity(intervalOfMean.upper, figure.unit, system)}`
          : 'too few runs',
        coefficientOfVariation === undefined ? '–' : `${(100 * coefficientOfVariation).toFixed(1)} %`,
      ]),
      numeric: [1, 2, 3, 4],
    },
    ...verdict.further.map(({ label, pairs, reason }): Block =>
      text(`${label}: ${reason ?? pairs.map(({ sentence }) => sentence).join(' ')}`),
    ),
  ];
}

const STATES: Readonly<Partial<Record<Check['state'], string>>> = {
  failed: 'failed',
  open: 'cannot check',
  waived: 'waived',
};

export function checks({ setups, tellsNames }: ReportData): Block[] {
  const rows = setups.flatMap(({ letter, name, revision, checks: own }) =>
    own.flatMap((check): string[][] => {
      const state = STATES[check.state];
      if (!state) return [];
      const mark = revision.marks.find(({ id }) => id === check.id);
      return [
        [`${letter} ${name}`, check.title, state, mark ? `${mark.reason}${tellsNames ? ` (${mark.by})` : ''}` : '–'],
      ];
    }),
  );
  if (rows.length === 0) return [text('All checks passed.')];
  return [
    {
      kind: 'table',
      caption: 'Checks that did not pass',
      head: ['Setup', 'Check', 'State', 'Reason'],
      rows,
      numeric: [],
    },
  ];
}

export function limits({ trial, runs: all, setups, verdict }: ReportData): Block[] {
  const counted = all.filter(({ run, apart }) => run.exclusion === null && apart === null);
  const courses = [...new Set(counted.map(({ run }) => run.course.name))];
  const kinds = [...new Set(counted.map(({ run }) => run.testKind))];
  const days = new Set(counted.map(({ run }) => run.outing.date)).size;
  return [
    {
      kind: 'list',
      items: [
        `The answer holds for ${courses.length === 1 ? `the course ${courses[0]!}` : 'these courses'} ridden as said, on ${count(days, 'day')}; another hill, load or season may give another.`,
        `Tested: ${kinds.map((kind) => kind.replaceAll('-', ' ')).join(', ') || 'nothing'}. What was not tested is not said.`,
        `One of each setup was ridden: another piece of the same kit may differ.`,
        ...(verdict.runsWithoutFigure > 0
          ? [
              `${count(verdict.runsWithoutFigure, 'run')} did not give ${DECIDING_FIGURES[trial.decidingFigure].label.toLowerCase()}.`,
            ]
          : []),
        ...setups
          .filter(({ letter }) => !counted.some((one) => one.letter === letter))
          .map(({ name }) => `${name} has no run that counts.`),
      ],
    },
  ];
}

export function methods({ methods: used, verdict }: ReportData): Block[] {
  return [
    {
      kind: 'table',
      caption: 'By which the figures were made',
      head: ['Method', 'Version', 'Runs'],
      rows: used.map(({ name, version, runs: number }) => [name, version, String(number)]),
      numeric: [2],
    },
    ...(verdict.comparison
      ? [text(`Resampling began from seed ${verdict.comparison.seed}, so that the same runs give the same answer.`)]
      : []),
  ];
}

export function cautions({ setups }: ReportData): Block[] {
  const open = setups.filter(({ checks: own }) =>
    own.some(({ state, severity }) => severity === 'stop' && (state === 'failed' || state === 'open')),
  );
  return [
    ...open.map(({ name }): Block => ({
      kind: 'caution',
      text: `${name} has checks that can hurt someone and have not passed.`,
    })),
    {
      kind: 'caution',
      text: 'Check your local rules before riding a converted bike on the road, and have work on brakes, frame and battery looked at by someone licensed to do it.',
    },
  ];
}

export function runs({ runs: all, trial, system }: ReportData): Block[] {
  const { label, unit } = DECIDING_FIGURES[trial.decidingFigure];
  return [
    {
      kind: 'table',
      caption: `${label}, run by run`,
      head: ['Day', 'Outing', 'Setup', 'Course', label, 'Counts'],
      rows: all.map(({ letter, apart, run }) => {
        const figure = figureOf(run, trial.decidingFigure);
        return [
          run.outing.date,
          run.outing.title,
          letter,
          run.course.name,
          figure ? writeFigure(figure.value, figure.standardUncertainty, unit, system) : '–',
          run.exclusion ? `left out: ${run.exclusion.reason}` : (apart ?? 'yes'),
        ];
      }),
      numeric: [0, 4],
    },
  ];
}
