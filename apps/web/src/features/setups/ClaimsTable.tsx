import { useMemo } from 'react';
import { isEstimate, rollUp } from '@ebrix/core/bench';
import { assessRiddenClaim, byClaimedWay, impliedConsumption } from '@ebrix/core/compare';
import { assessCycleClaim, warrantyWords } from '@ebrix/core/life';
import { EFFORTS } from '@ebrix/core/ride-model';
import type { UnitName } from '@ebrix/core/units';
import type { RepeatedFigure, RunSummary, RevisionParts, SetupDetail } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatFigure, formatQuantity } from '../../shared/format/format-quantity.js';
import { useListRunsQuery, useRepeatedFiguresQuery, useThumbRules } from '../../entities/run/index.js';
import { factsOf } from '../../entities/setup/index.js';
import { useGetLifeQuery } from '../../entities/life/index.js';
import { useStandQuery } from '../../entities/stand/index.js';
import { estimateText } from './RollUpView.js';

const ROWS = [
  { key: 'rangeKm', label: 'Range', unit: 'km' },
  { key: 'speedKmh', label: 'Speed', unit: 'km/h' },
  { key: 'chargeTimeH', label: 'Charge time', unit: 'h' },
  { key: 'massKg', label: 'Mass of the kit', unit: 'kg' },
  { key: 'powerW', label: 'Power', unit: 'W' },
  { key: 'payloadKg', label: 'Payload', unit: 'kg' },
  { key: 'cycles', label: 'Full cycles', unit: 'level' },
  { key: 'warrantyMonths', label: 'Warranty, months', unit: 'level' },
] as const satisfies readonly { key: keyof Claims; label: string; unit: UnitName }[];
type Claims = NonNullable<RevisionParts['packs'][number]['claims']>;
type RowKey = (typeof ROWS)[number]['key'];

interface Found {
  readonly text: string;
  readonly assessment?: string;
}
/** Scales of a workshop agree to about this. */
const SCALE_DOUBT_KG = 0.05;
const ASSESSMENTS = { met: 'claim met', 'not-met': 'claim not met', 'cannot-tell': 'cannot tell' } as const;
const PLAUSIBILITY = {
  'motor-alone': 'the motor alone could do that',
  'rider-helps': 'needs a rider who helps',
  'rider-mostly': 'needs the rider to do most of the work',
  'hardly-possible': 'hardly possible on the level',
} as const;

/** What the sellers of kit and packs say beside what is measured or, failing that, expected; measured always says from what. */
export function ClaimsTable({ setup }: { readonly setup: SetupDetail }) {
  const { kit, packs } = setup.revisions[0]!.parts;
  return (
    <>
      {kit && <ClaimsOf setup={setup} name={kit.name} claims={kit.claims} massKg={kit.massKg} isKit />}
      {packs.map(({ id, name, claims, massKg }) => (
        <ClaimsOf key={id} setup={setup} name={name} claims={claims} massKg={massKg} isKit={false} />
      ))}
    </>
  );
}

interface Props {
  readonly setup: SetupDetail;
  readonly name: string;
  readonly claims: Claims | null;
  readonly massKg: number | null;
  readonly isKit: boolean;
}

function ClaimsOf({ setup, name, claims, massKg, isKit }: Props) {
  const system = useUnits();
  const revision = setup.revisions[0]!;
  const { currentData: runs } = useListRunsQuery(`revision=${revision.id}&pageSize=200`);
  const { currentData: repeated } = useRepeatedFiguresQuery(setup.id);
  const { currentData: stands } = useStandQuery(setup.id);
  const isOfLife = claims !== null && (claims.cycles !== null || claims.warrantyMonths !== null);
  const { currentData: life } = useGetLifeQuery({ kind: 'setup', id: setup.id }, { skip: !isOfLife });
  const facts = useMemo(() => factsOf(revision), [revision]);
  const rules = useThumbRules(setup.id, facts);
  if (!claims || ROWS.every(({ key }) => claims[key] === null)) return null;
  const sums = rollUp(facts, rules);
  const counted = (runs?.items ?? []).filter(({ exclusion, isSimulated }) => exclusion === null && !isSimulated);
  const noLoad = stands
    ?.find(({ revisionId }) => revisionId === revision.id)
    ?.figures.find(({ key }) => key === 'noLoadSpeed');
  const found = (key: RowKey): Found[] => {
    switch (key) {
      case 'rangeKm': {
        const ridden = byWay(
          counted.filter(({ figures }) => figures.rangeToCutoff !== undefined),
          claims.way,
        ).flatMap(({ way, own }) => assessRuns(way, own, claims.rangeKm!, ({ figures }) => figures.rangeToCutoff));
        if (ridden.length > 0) return ridden;
        const expected = sums.ranges.at(-1);
        return [
          { text: `${expected ? `expected ${estimateText(expected.range, system)}; ` : ''}${notRidden(claims.way)}` },
        ];
      }
      case 'speedKmh': {
        const ridden = byWay(
          counted.filter(({ testKind }) => testKind === 'top-speed'),
          claims.way,
        ).flatMap(({ way, own }) => assessRuns(way, own, claims.speedKmh!, ({ headline }) => headline));
        if (ridden.length > 0) return ridden;
        return [
          noLoad
            ? { text: `without load ${formatFigure(noLoad.value, noLoad.standardUncertainty, noLoad.unit, system)}` }
            : { text: `expected without load ${estimateText(sums.noLoadSpeed, system)}` },
        ];
      }
      case 'chargeTimeH': {
        const charged = measuredBy('battery', 'chargeTime').flatMap((own) =>
          assessValues('battery tests', own.runs, 'h', claims.chargeTimeH!, false),
        );
        if (charged.length > 0) return charged;
        return [
          {
            text: `expected ${estimateText(sums.chargeTime, system)}`,
            ...(isEstimate(sums.chargeTime) &&
              claims.chargeTimeH !== null &&
              sums.chargeTime.lower > claims.chargeTimeH && { assessment: 'claim not likely' }),
          },
        ];
      }
      case 'massKg':
        return [
          massKg === null
            ? { text: 'not weighed yet' }
            : {
                text: `on the scale ${formatQuantity(massKg, 'kg', system)}`,
                ...(claims.massKg !== null && {
                  assessment: massKg > claims.massKg + SCALE_DOUBT_KG ? 'claim not met' : 'claim met',
                }),
              },
        ];
      case 'payloadKg': {
        const loads = counted.flatMap(({ riding }) => riding.payloadKg ?? []);
        if (loads.length === 0) return [{ text: 'no run with its payload written down' }];
        const most = Math.max(...loads);
        return [
          {
            text: `carried ${formatQuantity(most, 'kg', system)} at most, in ${loads.filter((kg) => kg === most).length} of ${counted.length} runs`,
            assessment:
              most >= claims.payloadKg!
                ? 'ridden with it; see the checks for what it may carry'
                : ASSESSMENTS['cannot-tell'],
          },
        ];
      }
      case 'cycles': {
        const { words, verdict } = assessCycleClaim(claims.cycles!, life?.cycles ?? null, life?.ageing ?? null);
        return [{ text: words, assessment: ASSESSMENTS[verdict] }];
      }
      case 'warrantyMonths':
        return [
          {
            text: warrantyWords(
              claims.warrantyMonths!,
              life?.fittedOn ?? null,
              life?.faults ?? [],
              new Date().toLocaleDateString('sv'),
            ),
          },
        ];
      case 'powerW': {
        const drawn = measuredBy('hill-climb', 'meanPower').flatMap(({ way, course, runs: own }) =>
          assessValues(`${wayName(way)} up ${course.name}, out of the battery`, own, 'W', claims.powerW!, true),
        );
        return drawn.length > 0
          ? drawn.map(({ text, assessment }) =>
              // What the battery gives is more than what arrives at the wheel: it can only speak against a claim.
              assessment === ASSESSMENTS['not-met']
                ? { text, assessment: 'did not draw that there' }
                : { text, assessment: `${ASSESSMENTS['cannot-tell']}: part of it is lost before the wheel` },
            )
          : [{ text: 'needs two climbs with a log' }];
      }
    }
  };
  /** Runs of one way of riding against the claim: one-sided, the part that all runs share in the bounds. */
  const assessRuns = (
    way: string,
    own: readonly RunSummary[],
    claimed: number,
    figureOf: (run: RunSummary) => { value: number; standardUncertainty: number; unit: UnitName } | null | undefined,
  ): Found[] => {
    const figures = own.flatMap((run) => {
      const figure = figureOf(run);
      return figure ? [{ ...figure, outing: run.outing.id }] : [];
    });
    const courses = new Set(own.map(({ course }) => course.id)).size;
    return figures.length === 0
      ? []
      : assessValues(way, figures, figures[0]!.unit, claimed, true, courses > 1 ? ` on ${courses} courses` : '');
  };
  const assessValues = (
    what: string,
    runsOf: readonly { value: number; standardUncertainty: number; outing: string }[],
    unit: UnitName,
    claimed: number,
    isAtLeast: boolean,
    where = '',
  ): Found[] => {
    const outcome = assessRiddenClaim(claimed, isAtLeast, runsOf);
    if (!outcome.ok) return [];
    const { mean, lower, upper, runs: count, verdict } = outcome.value;
    return [
      {
        text: `${what}: measured ${formatQuantity(mean, unit, system)} (${formatQuantity(lower, unit, system)} to ${formatQuantity(upper, unit, system)}, ${count} runs${where})`,
        assessment: ASSESSMENTS[verdict],
      },
    ];
  };
  const measuredBy = (testKind: RepeatedFigure['testKind'], key: string): RepeatedFigure[] =>
    (repeated ?? []).filter(
      (one) => one.testKind === testKind && one.key === key && one.revisionNumbers.includes(revision.number),
    );
  const nominalWh =
    claims.energyWh ??
    sumOf(revision.parts.packs.map(({ capacityAh, nominalVoltageV }) => product(capacityAh, nominalVoltageV)));
  const implied =
    claims.rangeKm !== null && nominalWh !== null
      ? impliedConsumption({
          energyWh: nominalWh,
          rangeKm: claims.rangeToKm ?? claims.rangeKm,
          speedKmh: claims.atSpeedKmh ?? undefined,
          massKg: claims.riderMassKg === null ? undefined : claims.riderMassKg + BIKE_AND_KIT_KG,
        })
      : null;
  return (
    <>
      <h2 className="mt-22">{isKit ? 'Seller’s claims against what was found' : `Claims for ${name}`}</h2>
      {claims.source && <p className="quiet">Read: {claims.source}</p>}
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">Of</th>
            <th scope="col" className="number">
              Claimed
            </th>
            <th scope="col">Found</th>
          </tr>
        </thead>
        <tbody>
          {ROWS.filter(({ key }) => claims[key] !== null).map(({ key, label, unit }) => (
            <tr key={key}>
              <th scope="row" className="pair">
                {isKit ? label : label.replace(' of the kit', '')}
              </th>
              <td className="number">
                {formatQuantity(claims[key]!, unit, system)}
                {key === 'rangeKm' &&
                  claims.rangeToKm !== null &&
                  ` to ${formatQuantity(claims.rangeToKm, unit, system)}`}
              </td>
              <td>
                {found(key).map(({ text, assessment }) => (
                  <div key={text}>
                    {text}
                    {assessment && <strong>: {assessment}</strong>}
                  </div>
                ))}
                {key === 'rangeKm' && implied && (
                  <div className="quiet">
                    The claim means {formatQuantity(implied.whPerKm, 'Wh/km', system)}:{' '}
                    {PLAUSIBILITY[implied.plausibility]}.
                  </div>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

const BIKE_AND_KIT_KG = 28;

/** Runs by how they were ridden, with the way's name. */
function byWay(runs: readonly RunSummary[], claimed: Claims['way']): { way: string; own: readonly RunSummary[] }[] {
  return byClaimedWay(runs, claimed).map(({ way, own }) => ({ way: wayName(way), own }));
}

function wayName(way: Claims['way']): string {
  return way === null ? 'way of riding not written down' : EFFORTS[way].label.toLowerCase();
}

function notRidden(way: Claims['way']): string {
  return way === null
    ? 'not ridden often enough'
    : `not ridden often enough like that (${EFFORTS[way].label.toLowerCase()})`;
}
function product(a: number | null, b: number | null): number | null {
  return a === null || b === null ? null : a * b;
}
function sumOf(values: readonly (number | null)[]): number | null {
  return values.length === 0 || values.includes(null) ? null : values.reduce<number>((sum, value) => sum + value!, 0);
}
