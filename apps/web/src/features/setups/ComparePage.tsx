import { countChecks, rollUp, type SetupFacts, type ThumbRule } from '@ebrix/core/bench';
import { Switch } from 'antd';
import { useMemo } from 'react';
import { Link, useSearchParams } from 'react-router';
import { LETTERS, type SetupDetail } from '@ebrix/contract';
import type { UnitSystem } from '@ebrix/core/units';
import { useUnits } from '../../shared/preferences/index.js';
import { plain } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { Page } from '../../shared/ui/Page.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { partRows } from '../../entities/part/index.js';
import { useThumbRules } from '../../entities/run/index.js';
import { factsOf, useGetSetupQuery } from '../../entities/setup/index.js';
import { countLabel } from './CheckList.js';
import { assess, NO_KIT } from './facts.js';
import { estimateText, massText, moneyText, partsWithoutMass, ruleName } from './RollUpView.js';
import { SETUP_FIELDS } from './setup-fields.js';
import { settingText } from './compose-values.js';

interface Row {
  readonly group: string;
  readonly label: string;
  readonly values: readonly string[];
}
const MAX_SHOWN = 3;

/** Two or three setups side by side; what is the same can be left out. The address says which. */
export default function ComparePage() {
  const [params, setParams] = useSearchParams();
  const ids = (params.get('with') ?? '')
    .split(',')
    .filter((id) => id !== '')
    .slice(0, MAX_SHOWN);
  // The number of queries never changes; a missing one is skipped.
  const queries = [useSetup(ids[0]), useSetup(ids[1]), useSetup(ids[2])];
  const isAll = params.get('all') === 'yes';
  const set = (all: boolean): void => setParams({ with: ids.join(','), ...(all && { all: 'yes' }) }, { replace: true });
  useShortcut('d', 'Differences only, or all', () => set(!isAll));
  const setups = queries.map(({ currentData }) => currentData).filter((one) => one !== undefined);
  const waiting = queries.find((query, k) => ids[k] !== undefined && query.currentData === undefined);
  return (
    <Page title="Compare setups" crumb={<Link to="/bench/setups">Bench</Link>}>
      {ids.length < 2 ? (
        <div className="teach">
          <p>Tick two or three setups on the bench, then compare them here.</p>
          <Link to="/bench/setups">To the setups</Link>
        </div>
      ) : waiting ? (
        <QueryView query={waiting}>{() => null}</QueryView>
      ) : (
        <>
          <label className="inline-flex gap-8 items-center mb-12">
            <Switch checked={!isAll} onChange={(isOnly) => set(!isOnly)} aria-label="Differences only" />
            Differences only
          </label>
          <SideBySide setups={setups} isAll={isAll} />
        </>
      )}
    </Page>
  );
}

function useSetup(id: string | undefined) {
  return useGetSetupQuery(id ?? '', { skip: id === undefined });
}

function useRulesOf(setup: SetupDetail | undefined): readonly ThumbRule[] {
  const facts = useMemo(() => setup && factsOf(setup.revisions[0]!), [setup]);
  return useThumbRules(setup?.id, facts);
}

function SideBySide({ setups, isAll }: { readonly setups: readonly SetupDetail[]; readonly isAll: boolean }) {
  const system = useUnits();
  const rules = [useRulesOf(setups[0]), useRulesOf(setups[1]), useRulesOf(setups[2])];
  const rows = compareRows(setups, system, rules);
  const shown = isAll ? rows : rows.filter(({ values }) => new Set(values).size > 1);
  const groups = [...new Set(shown.map(({ group }) => group))];
  return (
    <div className="scroll-x">
      <table className="rows side-by-side">
        <thead>
          <tr>
            <th scope="col">
              <span className="unseen">What</span>
            </th>
            {setups.map(({ id, name }, k) => (
              <th scope="col" key={id}>
                <SetupMark letter={LETTERS[k]!} /> <Link to={`/bench/setups/${id}`}>{name}</Link>
              </th>
            ))}
          </tr>
        </thead>
        {groups.map((group) => (
          <tbody key={group}>
            <tr>
              <th scope="colgroup" colSpan={setups.length + 1} className="group">
                {group}
              </th>
            </tr>
            {shown
              .filter((row) => row.group === group)
              .map(({ label, values }) => (
                <tr key={label}>
                  <th scope="row" className="pair">
                    {label}
                  </th>
                  {values.map((value, k) => (
                    <td key={setups[k]!.id}>{value}</td>
                  ))}
                </tr>
              ))}
          </tbody>
        ))}
      </table>
      {shown.length === 0 && <p>No differences in what you entered.</p>}
    </div>
  );
}

/** The way of riding of a rule: its name up to the speed. */
function wayName({ name }: ThumbRule): string {
  return name.split(',')[0]!;
}

/** Everything that is known of the newest revisions, row by row, in words. */
export function compareRows(
  setups: readonly SetupDetail[],
  system: UnitSystem,
  rules: readonly (readonly ThumbRule[])[] = [],
): Row[] {
  const assessment = setups.map(({ revisions }) => assess(revisions[0]!));
  const sums = assessment.map(({ facts }, k) => rollUp(facts, rules[k]));
  const ways = [...new Set(rules.flat().map(wayName))];
  const row = (group: string, label: string, values: readonly string[]): Row => ({ group, label, values });
  const names = (list: readonly { readonly name: string }[]): string => list.map(({ name }) => name).join(', ') || '–';
  const of = (read: (facts: SetupFacts) => string): string[] => assessment.map(({ facts }) => read(facts));
  const parts = setups.map(({ revisions }) => revisions[0]!.parts);
  return [
    row(
      'Parts',
      'Bike',
      of(({ bike }) => bike.name),
    ),
    row(
      'Parts',
      'Kit',
      of(({ kit }) => kit?.name ?? NO_KIT),
    ),
    row(
      'Parts',
      'Packs',
      of(({ packs }) => names(packs)),
    ),
    row(
      'Parts',
      'Charger',
      of(({ charger }) => charger?.name ?? '–'),
    ),
    row(
      'Parts',
      'Add-ons',
      of(({ addOns }) => names(addOns)),
    ),
    row(
      'Parts',
      'Limits',
      of(({ limits }) => limits?.name ?? '–'),
    ),
    row(
      'Sums',
      'Added to the bike',
      sums.map((one) => massText(one.mass.addedKg, partsWithoutMass(one), system)),
    ),
    row(
      'Sums',
      'All-up weight',
      sums.map(({ mass }) => massText(mass.totalKg, mass.missing, system)),
    ),
    row(
      'Sums',
      'On the front wheel',
      // Of a part of the weight it would be the share of something else.
      sums.map(({ axles, mass }) => (mass.missing.length > 0 ? '–' : `${plain(axles.frontShare * 100, 3)} %`)),
    ),
    row(
      'Sums',
      'Usable energy',
      sums.map(({ energy }) => estimateText(energy.usable, system)),
    ),
    ...ways.map((way) =>
      row(
        'Sums',
        `Range by rule of thumb, ${way}`,
        sums.map(({ ranges }) => {
          const own = ranges.find(({ rule }) => wayName(rule) === way);
          return own ? `${estimateText(own.range, system)}; ${ruleName(own.rule, system)}` : '–';
        }),
      ),
    ),
    row(
      'Sums',
      'No-load speed',
      sums.map(({ noLoadSpeed }) => estimateText(noLoadSpeed, system)),
    ),
    row(
      'Sums',
      'Time to charge',
      sums.map(({ chargeTime }) => estimateText(chargeTime, system)),
    ),
    row('Sums', 'Conversion', sums.map(moneyText)),
    row(
      'Checks and safety',
      'Checks',
      assessment.map(({ checks }) => countLabel(countChecks(checks))),
    ),
    row(
      'Checks and safety',
      'Failed or open',
      assessment.map(({ checks }) =>
        names(
          checks.filter(({ state }) => state === 'failed' || state === 'open').map(({ title }) => ({ name: title })),
        ),
      ),
    ),
    ...partRows(
      'kits',
      parts.map(({ kit }) => kit ?? undefined),
      system,
    ).map(([label, values]) => row('Kit', label, values)),
    ...partRows(
      'packs',
      parts.map(({ packs }) => packs[0]),
      system,
    ).map(([label, values]) => row('First pack', label, values)),
    ...partRows(
      'bikes',
      parts.map(({ bike }) => bike),
      system,
    ).map(([label, values]) => row('Bike', label, values)),
    ...SETUP_FIELDS.map((field) =>
      row(
        field.of === 'settings' ? 'Settings' : 'Fit',
        field.label,
        of((facts) => settingText(field, facts[field.of], system)),
      ),
    ),
  ];
}
