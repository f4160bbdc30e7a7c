import {
  DECIDING_FIGURES,
  figureVocabulary,
  pairSentences,
  smallestDifferenceText,
  type VerdictVoice,
} from '@ebrix/core/compare';
import { criterionWords } from '@ebrix/core/decision';
import { EXPERIENCE_KEYS, EXPERIENCE_SCALES, summariseRatings } from '@ebrix/core/experience';
import { convertUnitDifference, displayUnit } from '@ebrix/core/units';
import type { PairDto } from '@ebrix/contract';
import type { ReportData, SetupOfReport } from './report-data.js';
import { text, type Block, type Strip } from './report-model.js';
import { count, inHundred, writeMoney } from './write-quantity.js';

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

export function answer(data: ReportData): Block[] {
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

const VERDICTS: Readonly<Record<PairDto['verdict'], string>> = {
  'better-and-matters': 'differs, and it matters',
  'better-may-not-matter': 'differs, may not matter',
  'no-difference-that-matters': 'no difference that matters',
  'cannot-tell': 'cannot tell',
};

export function verdictBlocks(data: ReportData): Block[] {
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
            interval: intervalName(look?.level),
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

/** Before the last look intervals are made wider, so that all looks together raise no more false alarms than one. */
function intervalName(level = 0.05): string {
  return level < 0.05 ? `${Number((100 * (1 - level)).toPrecision(4))} % interval, for an early look` : '95 % interval';
}

export function uses({ weighed, spec }: ReportData): Block[] {
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

export function costText({ conversion, home, unpriced, unrated }: SetupOfReport['costs']['sums']): string {
  const left = unpriced.length + unrated.length;
  if (left > 0 && conversion === 0) return 'prices not known';
  return `${left > 0 ? 'at least ' : ''}${writeMoney(conversion, home)}`;
}

export function money({ setups }: ReportData): Block[] {
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

export function figureOf(
  run: ReportData['runs'][number]['run'],
  key: string,
): { value: number; standardUncertainty: number } | undefined {
  const listed = (run.figures as Readonly<Record<string, { value: number; standardUncertainty: number } | undefined>>)[
    key
  ];
  return listed ?? (run.headline?.key === key ? run.headline : undefined);
}

export function felt({ setups, ratings, tellsNames }: ReportData): Block[] {
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
