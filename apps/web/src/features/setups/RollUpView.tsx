import {
  CADENCE_RPM,
  isEstimate,
  rollUp,
  type EstimateOrReason,
  type RollUp,
  type SetupFacts,
} from '@ebrix/core/bench';
import type { UnitSystem } from '@ebrix/core/units';
import { displayUnit } from '@ebrix/core/units';
import { InputNumber } from 'antd';
import { useMemo, useState } from 'react';
import { useUnits } from '../../shared/preferences/index.js';
import { formatMoney, formatQuantity, plain, showQuantity } from '../../shared/format/format-quantity.js';
import { LateFold } from '../../shared/ui/LateFold.js';
import { FigureCells } from '../../shared/ui/FigureCells.js';
import { PLACES, choiceLabel } from '../../entities/part/index.js';
import { useThumbRules } from '../../entities/run/index.js';
import { thumbRulesForm } from './forms.js';

/** A value of theory with the span it may lie in, or what it needs. */
export function estimateText(one: EstimateOrReason, system: UnitSystem): string {
  if (!isEstimate(one)) return `needs ${one.missing.join(', ')}`;
  const span = (v: number): string => showQuantity(v, one.unit, system, 2);
  return `${formatQuantity(one.value, one.unit, system, 2)} (${span(one.lower)} to ${span(one.upper)})`;
}
/** A sum of which some things are not known is a lower bound. */
function atLeast(text: string, missing: readonly string[]): string {
  return missing.length === 0 ? text : `more than ${text}`;
}
/** Each name once, with how many parts have it: what is sketched from a notebook gives its name to all of them. */
export function namesOf(missing: readonly string[]): string {
  const counts = new Map<string, number>();
  for (const name of missing) counts.set(name, (counts.get(name) ?? 0) + 1);
  return [...counts].map(([name, count]) => (count === 1 ? name : `${name} (${count} parts)`)).join(', ');
}
/** A sum of which nothing is known is none. */
const isUnknown = (kg: number, missing: readonly string[]): boolean => kg === 0 && missing.length > 0;
/** A weight of which not everything is known is at least that. */
export function massText(kg: number, missing: readonly string[], system: UnitSystem): string {
  return isUnknown(kg, missing) ? '–' : atLeast(formatQuantity(kg, 'kg', system, 4), missing);
}
/** What lacks a mass among the parts. */
export const partsWithoutMass = ({ mass }: RollUp): readonly string[] => mass.missing.filter((one) => one !== 'rider');
export function moneyText({ money }: RollUp): string {
  if (money.totals.length === 0) return money.missing.length > 0 ? 'no prices yet' : '–';
  return atLeast(money.totals.map(formatMoney).join(' + '), money.missing);
}

const PART_NAMES = { bike: 'Bike', kit: 'Kit', pack: 'Packs', charger: 'Charger', 'add-on': 'Add-ons' } as const;
const placeName = (place: string): string =>
  place === 'bike' ? 'Bike' : place === 'rider' ? 'Rider' : choiceLabel(PLACES, place);

/** The sums of a setup in one strip: what a tester looks at while choosing parts. */
export function RollUpStrip({ facts }: { readonly facts: SetupFacts }) {
  const system = useUnits();
  const sums = useMemo(() => rollUp(facts), [facts]);
  const { mass, axles, energy } = sums;
  const kg = (value: number, missing: readonly string[]): string =>
    isUnknown(value, missing) ? '–' : formatQuantity(value, 'kg', system, 4);
  const partsMissing = partsWithoutMass(sums);
  const cells = [
    {
      label: 'Added to the bike',
      value: kg(mass.addedKg, partsMissing),
      note: isUnknown(mass.fittedKg, partsMissing)
        ? 'no masses yet'
        : `${massText(mass.fittedKg, partsMissing, system)} fitted`,
    },
    {
      label: 'All-up weight',
      value: kg(mass.totalKg, mass.missing),
      note:
        mass.missing.length > 0
          ? `without ${namesOf(mass.missing)}`
          : `front ${plain(axles.frontShare * 100, 2)} %, rear ${plain((1 - axles.frontShare) * 100, 2)} %`,
    },
    {
      label: 'Energy',
      value: energy.nominalWh === null ? '–' : formatQuantity(energy.nominalWh, 'Wh', system, 3),
      note: isEstimate(energy.usable)
        ? `usable ${estimateText(energy.usable, system)}`
        : `needs ${energy.usable.missing.join(', ')}`,
    },
    {
      label: 'Conversion',
      value: moneyText(sums),
      note: sums.money.missing.length > 0 ? `no price: ${namesOf(sums.money.missing)}` : 'excluding the bike',
    },
  ];
  return <FigureCells label="Sums of this setup" cells={cells} />;
}

/** All sums in full. */
export function RollUpTables({ setupId, facts }: { readonly setupId?: string; readonly facts: SetupFacts }) {
  const system = useUnits();
  const rules = useThumbRules(setupId, facts);
  const [cadence, setCadence] = useState(CADENCE_RPM);
  const sums = useMemo(() => rollUp(facts, rules, cadence), [facts, rules, cadence]);
  const { mass, axles, money, energy, ranges } = sums;
  const kg = (value: number): string => showQuantity(value, 'kg', system, 4);
  const masses = [
    ...mass.byPlace.map(({ place, massKg }) => [placeName(place), kg(massKg)] as const),
    ...(mass.missing.length > 0 ? ([[`Missing: ${namesOf(mass.missing)}`, '–']] as const) : []),
    ['Total', isUnknown(mass.totalKg, mass.missing) ? '–' : kg(mass.totalKg)] as const,
  ];
  const expected: readonly (readonly [string, string])[] = [
    [
      'Rated energy',
      energy.nominalWh === null ? 'needs capacity and voltage' : formatQuantity(energy.nominalWh, 'Wh', system, 4),
    ],
    ['Usable energy', estimateText(energy.usable, system)],
    ...ranges.map(
      ({ rule, range }) => [`Range by rule of thumb, ${ruleName(rule, system)}`, estimateText(range, system)] as const,
    ),
    ['No-load speed', estimateText(sums.noLoadSpeed, system)],
    [
      'Assist ends at',
      sums.helpEndsKmh === null
        ? 'needs the speed limit set, or limits'
        : formatQuantity(sums.helpEndsKmh, 'km/h', system),
    ],
    ['Time to charge', estimateText(sums.chargeTime, system)],
    [
      'Cost per charge',
      'missing' in sums.chargeCost
        ? `needs ${sums.chargeCost.missing.join(', ')}`
        : `${formatMoney(sums.chargeCost)} (${plain(sums.chargeCost.lower, 2)} to ${plain(sums.chargeCost.upper, 2)})`,
    ],
  ];
  return (
    <div className="columns">
      <section>
        {facts.kit !== null && (
          <>
            <h2>Expected, before measuring</h2>
            <Pairs rows={expected} />
            {rules[0]?.basis !== undefined && (
              <p className="quiet mt-8 mb-0 mx-0">
                Rules of thumb: {[...new Set(rules.map(({ basis }) => basis))].join('; ')}.
              </p>
            )}
            <LateFold
              key={JSON.stringify(rules)}
              className="mt-8"
              summary="Edit the rules of thumb for all setups"
              bring={thumbRulesForm.bring}
            >
              <thumbRulesForm.Part rules={rules} />
            </LateFold>
          </>
        )}
        <h2 className={facts.kit === null ? '' : 'mt-22'}>
          Gears at{' '}
          <InputNumber
            aria-label="Cadence, rpm"
            size="small"
            min={20}
            max={140}
            value={cadence}
            className="w-66"
            onChange={(value) => setCadence(value ?? CADENCE_RPM)}
          />{' '}
          rpm
        </h2>
        {sums.gears.length === 0 ? (
          <p className="quiet">Needs chainring and cog teeth, and the wheel circumference.</p>
        ) : (
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Ring : cog</th>
                <th scope="col" className="number">
                  Speed, {displayUnit('km/h', system)}
                </th>
                <th scope="col" className="number">
                  Cadence where assist ends, rpm
                </th>
              </tr>
            </thead>
            <tbody>
              {sums.gears.map(({ ring, cog, speedKmh, cadenceAtLimitRpm }) => (
                <tr key={`${ring}:${cog}`}>
                  <td className="figures">
                    {ring} : {cog}
                  </td>
                  <td className="number">{showQuantity(speedKmh, 'km/h', system, 3)}</td>
                  <td className="number">{cadenceAtLimitRpm === null ? '–' : Math.round(cadenceAtLimitRpm)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
      <section>
        <h2>Mass, {displayUnit('kg', system)}</h2>
        <Pairs rows={masses} isTotalLast />
        {!isUnknown(mass.totalKg, mass.missing) && (
          <p className="quiet mt-8 mb-0 mx-0">
            On the wheels{mass.missing.length > 0 && ', of what is known'}: front {kg(axles.frontKg)}, rear{' '}
            {kg(axles.rearKg)}
            {axles.trailerKg > 0 && `, trailer ${kg(axles.trailerKg)}`} {displayUnit('kg', system)}.
            {axles.assumptions.length > 0 && ` Assumed: ${axles.assumptions.join('; ')}.`}
          </p>
        )}
        <h2 className="mt-22">Money</h2>
        {money.items.length === 0 ? (
          <p className="quiet">No prices yet.</p>
        ) : (
          <Pairs
            rows={[
              ...money.byPart.map((sum) => [PART_NAMES[sum.part], formatMoney(sum)] as const),
              ['Conversion, excluding the bike', moneyText(sums)] as const,
            ]}
            isTotalLast
          />
        )}
      </section>
    </div>
  );
}

/** "moderate pedalling, near 23 km/h" names a speed: it is said in the person's units. */
export function ruleName(
  { name, whPerKm }: { readonly name: string; readonly whPerKm: number },
  system: UnitSystem,
): string {
  const inUnits = name.replace(/(\d+) km\/h/, (_all, speed: string) =>
    formatQuantity(Number(speed), 'km/h', system, 2),
  );
  return `${inUnits}, ${formatQuantity(whPerKm, 'Wh/km', system, 2)}`;
}

function Pairs({
  rows,
  isTotalLast = false,
}: {
  readonly rows: readonly (readonly [string, string])[];
  readonly isTotalLast?: boolean;
}) {
  return (
    <table className="rows">
      <tbody>
        {rows.map(([label, value], k) => (
          <tr key={label} style={isTotalLast && k === rows.length - 1 ? { fontWeight: 700 } : {}}>
            <th scope="row" className="pair">
              {label}
            </th>
            {/* What it needs is words, and may be long. */}
            <td className={value.startsWith('needs ') ? 'needs' : 'number'}>{value}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
