import { rollUp, type Check } from '@ebrix/core/bench';
import {
  assessClaim,
  DECIDING_FIGURES,
  figureVocabulary,
  pairSentences,
  ridingText,
  smallestDifferenceText,
  type VerdictVoice,
} from '@ebrix/core/compare';
import { criterionWords } from '@ebrix/core/decision';
import { EXPERIENCE_KEYS, EXPERIENCE_SCALES, summariseRatings } from '@ebrix/core/experience';
import { convertUnitDifference, displayUnit } from '@ebrix/core/units';
import type { PairDto, ReportSection } from '@ebrix/contract';
import { toFacts } from '../setups/revision-facts.js';
import type { ReportData, SetupOfReport } from './report-data.js';
import type { Block, Section, Strip } from './report-model.js';
import { ownWords } from './render-report.js';
import { count, inHundred, spanOf, writeFigure, writeMoney, writeQuantity } from './write-quantity.js';

const TITLES: Readonly<Record<ReportSection, string>> = {
  answer: 'Question and answer',
  setups: 'What was compared',
  verdict: 'How sure',
  uses: 'Which one for which use',
  money: 'What it costs',
  claims: 'Claimed and found',
  felt: 'How it felt',
  ridden: 'What was ridden, and how',
  figures: 'Figures',
  checks: 'Checks failed or waived',
  limits: 'What was not tested',
  methods: 'Methods',
  cautions: 'Before you ride',
  runs: 'Every run',
};
const BUILDERS: Readonly<Record<ReportSection, (data: ReportData) => Block[]>> = {
  answer,
  setups: setupBlocks,
  verdict: verdictBlocks,
  uses,
  money,
  claims,
  felt,
  ridden,
  figures,
  checks,
  limits,
  methods,
  cautions,
  runs,
};

/** The sections of a report in the order that was wanted; what has nothing to tell says so in a line. */
export function buildReport(data: ReportData): Section[] {
  return data.spec.parts.map((part): Section => {
    if (part.kind === 'text')
      return { key: 'text', title: 'Own words', blocks: [{ kind: 'own', html: ownWords(part.markdown) }] };
    return { key: part.section, title: TITLES[part.section], blocks: BUILDERS[part.section](data) };
  });
}

const text = (words: string): Block => ({ kind: 'text', text: words });

function voice({ trial, system, verdict }: ReportData): VerdictVoice {
  const { label, unit, better } = DECIDING_FIGURES[trial.decidingFigure];
  return {
    words: figureVocabulary(trial.decidingFigure, label, better, system),
    smallestDifference: trial.smallestDifference,
    unit,
    system,
    isSoFar: verdict.look?.isLast === false,
  };
}

function answer(data: ReportData): Block[] {
  const { trial, verdict, isMadeUp, runs: all } = data;
  const simulated = all.filter(({ run }) => run.isSimulated).length;
  return [
    ...(isMadeUp
      ? [
          {
            kind: 'caution',
            text: 'Everything in this report is a made-up example: no such kits were ridden.',
          } as const,
        ]
      : []),
    ...(simulated > 0
      ? [
          {
            kind: 'caution',
            text: `${count(simulated, 'run')} of this trial ${simulated === 1 ? 'was' : 'were'} simulated, not ridden${trial.countsSimulated ? ', and count' : '; they do not count'}.`,
          } as const,
        ]
      : []),
    text(trial.question),
    ...(verdict.comparison
      ? pairSentences(verdict.comparison.pairs, voice(data)).map((words): Block => ({ kind: 'lead', text: words }))
      : [{ kind: 'lead', text: verdict.reason ?? verdict.headline } as const]),
    text(
      `Decided by ${DECIDING_FIGURES[trial.decidingFigure].label.toLowerCase()}; less than ${smallestDifferenceText(voice(data))} does not matter to the question.`,
    ),
  ];
}

function setupBlocks({ setups, system, spec }: ReportData): Block[] {
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

function costText({ conversion, home, unpriced, unrated }: SetupOfReport['costs']['sums']): string {
  const left = unpriced.length + unrated.length;
  if (left > 0 && conversion === 0) return 'prices not known';
  return `${left > 0 ? 'at least ' : ''}${writeMoney(conversion, home)}`;
}

const VERDICTS: Readonly<Record<PairDto['verdict'], string>> = {
  'better-and-matters': 'differs, and it matters',
  'better-may-not-matter': 'differs, may not matter',
  'no-difference-that-matters': 'no difference that matters',
  'cannot-tell': 'cannot tell',
};

function verdictBlocks(data: ReportData): Block[] {
  const { verdict, trial, system } = data;
  const { comparison } = verdict;
  if (!comparison) return [text(verdict.reason ?? verdict.headline)];
  const { kind, value } = comparison.smallestDifference;
  const { unit } = verdict.figure;
  const shown = displayUnit(unit, system);
  const letterOf = new Map(comparison.setups.map(({ name }, k) => [name, trial.setups[k]!.letter]));
  const meanOf = new Map(comparison.setups.map(({ name, mean }) => [name, mean]));
  const turn = (difference: number): number => convertUnitDifference(difference, unit, shown);
  const strips = comparison.pairs.flatMap(({ a, b, difference, verdict: said }): Strip[] => {
    if (!difference) return [];
    const band = turn(kind === 'absolute' ? value : value * Math.abs(meanOf.get(b) ?? 0));
    return [
      {
        label: `${a} less ${b}`,
        letters: [letterOf.get(a) ?? 'A', letterOf.get(b) ?? 'B'],
        estimate: turn(difference.estimate),
        lower: turn(difference.lower),
        upper: turn(difference.upper),
        band: [-band, band],
        says: VERDICTS[said],
      },
    ];
  });
  const { look, withExcluded } = verdict;
  return [
    ...(strips.length > 0
      ? [
          {
            kind: 'strips',
            caption: `Differences in ${verdict.figure.label.toLowerCase()}`,
            unit: shown === '1' ? '' : shown,
            strips,
          } as const,
        ]
      : []),
    ...(data.spec.form === 'short' ? [] : [text(`Analysis: ${comparison.method.name}. ${comparison.method.reason}`)]),
    ...(look
      ? [
          text(
            `Look ${look.number}${look.of === null ? '' : ` of ${look.of}`} at the runs; ${count(look.countedRuns, 'run')} counted.`,
          ),
        ]
      : []),
    ...(withExcluded && !withExcluded.isSame
      ? [text(`With the runs that were left out the answer would be another: ${withExcluded.sentences.join(' ')}`)]
      : []),
    ...comparison.notes.map(text),
  ];
}

function uses({ weighed, spec }: ReportData): Block[] {
  if (weighed.length === 0) return [text('No use was weighed.')];
  if (spec.form === 'short')
    return [
      { kind: 'list', items: weighed.map(({ use, answer: { weighed: found } }) => `${use.name}: ${found.words}`) },
    ];
  return weighed.flatMap(({ use, answer: { weighed: found, mustHaves } }): Block[] => [
    { kind: 'lead', text: `${use.name}: ${found.words}` },
    ...(use.notes === '' ? [] : [text(use.notes)]),
    {
      kind: 'table',
      caption: `${use.name}: shares of 4 000 draws of what is known and how well`,
      head: [
        'Setup',
        'Best, in 100',
        ...(mustHaves.length > 0 ? ['Keeps every bound, in 100', 'Misses'] : []),
        'Worth, 0 to 100',
      ],
      rows: found.setups.map(({ name, isBest, meetsAll, breaks, worth }) => [
        name,
        inHundred(isBest),
        ...(mustHaves.length > 0 ? [inHundred(meetsAll), breaks.map(({ label }) => label).join(', ') || '–'] : []),
        `${Math.round(100 * worth.mean)} (${Math.round(100 * worth.low)} to ${Math.round(100 * worth.high)})`,
      ]),
      numeric: [1],
    },
    ...(found.leftOut.length > 0
      ? [
          text(
            `Not weighed, since something that counts is not known of them: ${found.leftOut.map(({ name }) => name).join(', ')}.`,
          ),
        ]
      : []),
    text(
      `What counts, by weight: ${use.criteria.map(({ key, weight }) => `${criterionWords(key).label.toLowerCase()} ${weight}`).join(', ')}.`,
    ),
  ]);
}

function money({ setups }: ReportData): Block[] {
  return [
    {
      kind: 'table',
      caption: 'Cost',
      head: ['Setup', 'Conversion', '100 km', 'For a usable Wh'],
      rows: setups.map(({ name, costs: { sums, running, perUsableWh } }) => [
        name,
        costText(sums),
        running ? `${running.value.toFixed(2)} ± ${running.standardUncertainty.toFixed(2)} ${sums.home}` : 'not known',
        perUsableWh ? writeMoney(perUsableWh.value, sums.home) : 'not known',
      ]),
      numeric: [1, 2, 3],
    },
    ...setups.flatMap(({ name, costs: { running, reason, payback } }): Block[] => [
      ...(running ? [text(`${name}: 100 km from ${running.basis}.`)] : reason ? [text(`${name}: ${reason}`)] : []),
      ...(payback.length > 0
        ? [{ kind: 'list', items: payback.map(({ words }) => `${name}: ${words}`) } as const]
        : []),
    ]),
  ];
}

const CLAIMS = [
  { key: 'rangeKm', label: 'Range', unit: 'km', figure: 'rangeToCutoff' },
  { key: 'speedKmh', label: 'Speed', unit: 'km/h', figure: 'twoWayTopSpeed' },
] as const;
const CLAIM_WORDS = { met: 'met', 'not-met': 'not met', 'cannot-tell': 'cannot tell' } as const;

function claims({ setups, runs: all, system }: ReportData): Block[] {
  const rows = setups.flatMap(({ letter, name, revision }) =>
    [revision.parts.kit, ...revision.parts.packs].flatMap((part) =>
      CLAIMS.flatMap(({ key, label, unit, figure }): string[][] => {
        const claimed = part?.claims?.[key] ?? null;
        if (part === null || claimed === null) return [];
        const own = all.filter((one) => one.letter === letter && one.run.exclusion === null && !one.run.isSimulated);
        const found = own.flatMap(({ run }) => {
          const value = figureOf(run, figure);
          return value ? [{ ...value, outing: run.outing.id }] : [];
        });
        const outcome = assessClaim({ claimed, isAtLeast: true, runs: found, sharedUncertainty: 0.01 });
        return [
          [
            `${letter} ${name}: ${part.name}`,
            label,
            writeQuantity(claimed, unit, system),
            outcome.ok
              ? `${writeQuantity(outcome.value.lower, unit, system)} to ${writeQuantity(outcome.value.upper, unit, system)} in ${count(outcome.value.runs, 'run')}`
              : 'not measured in this trial',
            outcome.ok ? CLAIM_WORDS[outcome.value.verdict] : '–',
          ],
        ];
      }),
    ),
  );
  if (rows.length === 0) return [text('No claims of sellers are written down for these setups.')];
  return [
    {
      kind: 'table',
      caption: 'Claims of sellers beside what was found, as these rides were ridden',
      head: ['Of', 'What', 'Claimed', 'Found', 'Claim'],
      rows,
      numeric: [2],
    },
  ];
}

function figureOf(
  run: ReportData['runs'][number]['run'],
  key: string,
): { value: number; standardUncertainty: number } | undefined {
  const listed = (run.figures as Readonly<Record<string, { value: number; standardUncertainty: number } | undefined>>)[
    key
  ];
  return listed ?? (run.headline?.key === key ? run.headline : undefined);
}

function felt({ setups, ratings, tellsNames }: ReportData): Block[] {
  const rated = setups.map(({ revision }) =>
    summariseRatings(ratings.filter(({ revisionId }) => revisionId === revision.id)),
  );
  const keys = EXPERIENCE_KEYS.filter((key) => rated.some((scales) => scales.some((scale) => scale.key === key)));
  if (keys.length === 0) return [text('No rider has rated these setups.')];
  const riders = [...new Set(ratings.map(({ rider }) => rider.trim()))];
  return [
    {
      kind: 'table',
      caption: 'Steps from 1 to 5 with words, 5 the better: the riders’ median, and from the lowest to the highest',
      head: ['Scale', ...setups.map(({ letter, name }) => `${letter} ${name}`)],
      rows: keys.map((key) => [
        EXPERIENCE_SCALES[key].label,
        ...rated.map((scales) => {
          const scale = scales.find((one) => one.key === key);
          return scale ? `${scale.median} (${scale.lowest} to ${scale.highest}; ${count(scale.riders, 'rider')})` : '–';
        }),
      ]),
      numeric: [],
    },
    text(`Words are no measurement.${tellsNames ? ` Riders: ${riders.join(', ')}.` : ''}`),
  ];
}

function ridden({ trial, runs: all, outings, system, verdict }: ReportData): Block[] {
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

function figures({ verdict, setups, system }: ReportData): Block[] {
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
function checks({ setups, tellsNames }: ReportData): Block[] {
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

function limits({ trial, runs: all, setups, verdict }: ReportData): Block[] {
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

function methods({ methods: used, verdict }: ReportData): Block[] {
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

function cautions({ setups }: ReportData): Block[] {
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

function runs({ runs: all, trial, system }: ReportData): Block[] {
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
