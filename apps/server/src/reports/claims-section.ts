import { assessRiddenClaim, byClaimedWay } from '@ebrix/core/compare';
import { assessCycleClaim, warrantyWords } from '@ebrix/core/life';
import { EFFORTS } from '@ebrix/core/ride-model';
import type { UnitName } from '@ebrix/core/units';
import type { RepeatedFigure, RevisionParts } from '@ebrix/contract';
import { figureOf } from './answer-sections.js';
import type { ReportData, SetupOfReport } from './report-data.js';
import { text, type Block } from './report-model.js';
import { count, writeQuantity } from './write-quantity.js';

type Claims = NonNullable<RevisionParts['packs'][number]['claims']>;
interface Found {
  readonly found: string;
  readonly claim: string;
}
/** What a claim is looked for in. */
interface Asked {
  readonly data: ReportData;
  readonly setup: SetupOfReport;
  readonly claims: Claims;
  readonly claimed: number;
  /** On the scale. */
  readonly massKg: number | null;
}

const WORDS = { met: 'met', 'not-met': 'not met', 'cannot-tell': 'cannot tell' } as const;
/** Scales of a workshop agree to about this. */
const SCALE_DOUBT_KG = 0.05;

const ROWS: readonly {
  readonly key: keyof Claims;
  readonly label: string;
  readonly unit: UnitName;
  readonly look: (asked: Asked) => Found[];
}[] = [
  { key: 'rangeKm', label: 'Range', unit: 'km', look: (asked) => ridden(asked, 'rangeToCutoff', 'km') },
  { key: 'speedKmh', label: 'Speed', unit: 'km/h', look: (asked) => ridden(asked, 'twoWayTopSpeed', 'km/h') },
  { key: 'chargeTimeH', label: 'Charge time', unit: 'h', look: charged },
  { key: 'massKg', label: 'Mass', unit: 'kg', look: weighed },
  { key: 'powerW', label: 'Power', unit: 'W', look: drawn },
  { key: 'payloadKg', label: 'Payload', unit: 'kg', look: carried },
  { key: 'cycles', label: 'Full cycles', unit: 'level', look: cycled },
  { key: 'warrantyMonths', label: 'Warranty, months', unit: 'level', look: warranted },
];

/** What sellers of kit and packs say beside what was found: judged where runs can, told where they cannot. */
export function claims(data: ReportData): Block[] {
  const { setups, system } = data;
  const rows = setups.flatMap((setup) =>
    [setup.revision.parts.kit, ...setup.revision.parts.packs].flatMap((part) =>
      ROWS.flatMap(({ key, label, unit, look }): string[][] => {
        const claimed = (part?.claims?.[key] ?? null) as number | null;
        if (!part?.claims || claimed === null) return [];
        const start = [`${setup.letter} ${setup.name}: ${part.name}`, label, writeQuantity(claimed, unit, system)];
        return look({ data, setup, claims: part.claims, claimed, massKg: part.massKg }).map(({ found, claim }) => [
          ...start,
          found,
          claim,
        ]);
      }),
    ),
  );
  if (rows.length === 0) return [text('No claims of sellers are written down for these setups.')];
  return [
    {
      kind: 'table',
      caption: 'Claims of sellers beside what was found, ridden as they say where they say it',
      head: ['Of', 'What', 'Claimed', 'Found', 'Claim'],
      rows,
      numeric: [2],
    },
  ];
}

/** How it was ridden, as a claim or a run says it. */
function wayText(way: keyof typeof EFFORTS | null): string {
  return way === null ? 'way of riding not written down' : EFFORTS[way].label.toLowerCase();
}

/** By the runs of this trial. */
function ridden({ data, setup, claims: { way: said }, claimed }: Asked, figure: string, unit: UnitName): Found[] {
  const measured = data.runs.flatMap(({ letter, run }) =>
    letter === setup.letter && run.exclusion === null && !run.isSimulated && figureOf(run, figure) ? [run] : [],
  );
  const found = byClaimedWay(measured, said).flatMap(({ way, own }) =>
    assessed(
      data,
      claimed,
      true,
      own.map((run) => ({ ...figureOf(run, figure)!, outing: run.outing.id })),
      unit,
      wayText(way),
    ),
  );
  return found.length > 0
    ? found
    : [unknown(said === null ? 'not measured in this trial' : `not measured in this trial ${wayText(said)}`)];
}

function charged({ data, setup, claimed }: Asked): Found[] {
  const found = repeatedOf(setup, 'battery', 'chargeTime').flatMap(({ runs }) =>
    assessed(data, claimed, false, runs, 'h', 'battery tests'),
  );
  return found.length > 0 ? found : [unknown('needs two battery tests with a charge')];
}

/** What the battery gives is more than what arrives at the wheel: it can only speak against a claim. */
function drawn({ data, setup, claimed }: Asked): Found[] {
  const found = repeatedOf(setup, 'hill-climb', 'meanPower').flatMap(({ way, course, runs }) =>
    assessed(data, claimed, true, runs, 'W', `out of the battery up ${course.name}, ${wayText(way)}`),
  );
  return found.length === 0
    ? [unknown('needs two climbs with a log')]
    : found.map((one) => ({
        ...one,
        claim: one.claim === WORDS['not-met'] ? 'did not draw that there' : WORDS['cannot-tell'],
      }));
}

function weighed({ data, claimed, massKg }: Asked): Found[] {
  if (massKg === null) return [unknown('not weighed')];
  const claim = massKg > claimed + SCALE_DOUBT_KG ? WORDS['not-met'] : WORDS.met;
  return [{ found: `${writeQuantity(massKg, 'kg', data.system)} on the scale`, claim }];
}

function carried({ data, setup, claimed }: Asked): Found[] {
  const loads = data.runs.flatMap(({ letter, run }) =>
    letter === setup.letter && run.exclusion === null && !run.isSimulated ? (run.riding.payloadKg ?? []) : [],
  );
  if (loads.length === 0) return [unknown('no run with its payload written down')];
  const most = Math.max(...loads);
  return [
    {
      found: `${writeQuantity(most, 'kg', data.system)} carried at most`,
      claim: most >= claimed ? 'ridden with it; see the checks for what it may carry' : WORDS['cannot-tell'],
    },
  ];
}

function cycled({ setup: { life }, claimed }: Asked): Found[] {
  const { words, verdict } = assessCycleClaim(claimed, life.cycles, life.ageing);
  return [{ found: words, claim: WORDS[verdict] }];
}

function warranted({ data, setup: { life }, claimed }: Asked): Found[] {
  return [{ found: warrantyWords(claimed, life.fittedOn, life.faults, data.today), claim: '–' }];
}

const unknown = (found: string): Found => ({ found, claim: '–' });

function repeatedOf({ repeated, revision }: SetupOfReport, kind: RepeatedFigure['testKind'], key: string) {
  return repeated.filter(
    (one) => one.testKind === kind && one.key === key && one.revisionNumbers.includes(revision.number),
  );
}

function assessed(
  { system }: ReportData,
  claimed: number,
  isAtLeast: boolean,
  values: readonly { readonly value: number; readonly standardUncertainty: number; readonly outing: string }[],
  unit: UnitName,
  how: string,
): Found[] {
  const outcome = assessRiddenClaim(claimed, isAtLeast, values);
  if (!outcome.ok) return [];
  const { lower, upper, runs, verdict } = outcome.value;
  const span = `${writeQuantity(lower, unit, system)} to ${writeQuantity(upper, unit, system)}`;
  return [{ found: `${span} in ${count(runs, 'run')}, ${how}`, claim: WORDS[verdict] }];
}
