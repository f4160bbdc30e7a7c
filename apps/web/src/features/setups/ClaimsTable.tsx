import { describeSample } from '@ebrix/core/statistics';
import { isEstimate, rollUp } from '@ebrix/core/bench';
import type { UnitName } from '@ebrix/core/units';
import type { Claims } from '@ebrix/core/bench';
import type { SetupDetail } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatFigure, formatQuantity } from '../../shared/format/format-quantity.js';
import { useListRunsQuery } from '../../entities/run/index.js';
import { useStandQuery } from '../../entities/stand/index.js';
import { useThumbRulesQuery } from '../../entities/setup/index.js';
import { factsOf } from './facts.js';
import { estimateText } from './RollUpView.js';

const ROWS = [
  { key: 'rangeKm', label: 'Range', unit: 'km' },
  { key: 'speedKmh', label: 'Speed', unit: 'km/h' },
  { key: 'chargeTimeH', label: 'Charge time', unit: 'h' },
  { key: 'massKg', label: 'Mass of the kit', unit: 'kg' },
  { key: 'powerW', label: 'Power', unit: 'W' },
] as const satisfies readonly { key: keyof Claims; label: string; unit: UnitName }[];

interface Found {
  readonly text: string;
  readonly assessment?: '' | 'claim not likely' | 'claim not met';
}
/** Scales of a workshop agree to about this. */
const SCALE_DOUBT_KG = 0.05;

/** What the seller says beside what is measured or, failing that, expected; measured always says from what. */
export function ClaimsTable({ setup }: { readonly setup: SetupDetail }) {
  const system = useUnits();
  const revision = setup.revisions[0]!;
  const { claims, massKg } = revision.parts.kit;
  const { currentData: runs } = useListRunsQuery(`revision=${revision.id}&pageSize=100`);
  const { currentData: stands } = useStandQuery(setup.id);
  const { data: rules } = useThumbRulesQuery();
  if (!claims || ROWS.every(({ key }) => claims[key] === null)) return null;
  const sums = rollUp(factsOf(revision), rules);
  const ranges = (runs?.items ?? [])
    .filter(({ exclusion }) => exclusion === null)
    .map(({ figures }) => figures['rangeToCutoff']?.value)
    .filter((value) => value !== undefined);
  const courses = new Set(
    (runs?.items ?? []).filter(({ exclusion }) => exclusion === null).map(({ course }) => course.id),
  ).size;
  const noLoad = stands
    ?.find(({ revisionId }) => revisionId === revision.id)
    ?.figures.find(({ key }) => key === 'noLoadSpeed');
  const found = (key: keyof Claims): Found => {
    switch (key) {
      case 'rangeKm': {
        if (ranges.length < 2)
          return { text: `expected ${estimateText(sums.ranges.at(-1)!.range, system)}; not ridden often enough` };
        const { mean, intervalOfMean } = describeSample(ranges);
        const [lower, upper] = [intervalOfMean!.lower, intervalOfMean!.upper];
        return {
          text: `measured ${formatQuantity(mean, 'km', system)} (${formatQuantity(lower, 'km', system)} to ${formatQuantity(upper, 'km', system)}, ${ranges.length} runs${courses > 1 ? ` on ${courses} courses` : ''})`,
          assessment: claims.rangeKm !== null && upper < claims.rangeKm ? 'claim not met' : '',
        };
      }
      case 'speedKmh':
        return noLoad
          ? { text: `without load ${formatFigure(noLoad.value, noLoad.standardUncertainty, noLoad.unit, system)}` }
          : { text: `expected without load ${estimateText(sums.noLoadSpeed, system)}` };
      case 'chargeTimeH':
        return {
          text: `expected ${estimateText(sums.chargeTime, system)}`,
          assessment:
            isEstimate(sums.chargeTime) && claims.chargeTimeH !== null && sums.chargeTime.lower > claims.chargeTimeH
              ? 'claim not likely'
              : '',
        };
      case 'massKg':
        return massKg === null
          ? { text: 'not weighed yet' }
          : {
              text: `on the scale ${formatQuantity(massKg, 'kg', system)}`,
              assessment: claims.massKg !== null && massKg > claims.massKg + SCALE_DOUBT_KG ? 'claim not met' : '',
            };
      case 'powerW':
        return { text: 'needs a hill or heating test' };
    }
  };
  return (
    <>
      <h2 className="mt-22">Seller’s claims against what was found</h2>
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
          {ROWS.filter(({ key }) => claims[key] !== null).map(({ key, label, unit }) => {
            const { text, assessment } = found(key);
            return (
              <tr key={key}>
                <th scope="row" className="pair">
                  {label}
                </th>
                <td className="number">{formatQuantity(claims[key]!, unit, system)}</td>
                <td>
                  {text}
                  {assessment && <strong>: {assessment}</strong>}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}
