import { useMemo } from 'react';
import { isEstimate, packEnergy, thumbRange, type ThumbRule } from '@ebrix/core/bench';
import type { UnitSystem } from '@ebrix/core/units';
import type { LETTERS, SetupDetail } from '@ebrix/contract';
import { useThumbRules } from '../../entities/run/index.js';
import { factsOf, useGetSetupQuery } from '../../entities/setup/index.js';
import { formatQuantity, showQuantity } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';

interface Props {
  readonly setupId: string;
  readonly letter: (typeof LETTERS)[number];
  readonly reserveShare: number;
}

/** Quick and plain beside the forecast: pack ÷ consumption of an ordinary ride, without the way that is asked about. */
export function ThumbPart(props: Props) {
  const { currentData: setup } = useGetSetupQuery(props.setupId);
  return setup ? <Rules {...props} setup={setup} /> : null;
}

function Rules({ setup, letter, reserveShare }: Props & { readonly setup: SetupDetail }) {
  const system = useUnits();
  const facts = useMemo(() => factsOf(setup.revisions[0]!), [setup]);
  const rules = useThumbRules(setup.id, facts);
  const { usable } = packEnergy(facts.packs);
  if (rules.length === 0) return null;
  return (
    <div className="mt-6">
      <SetupMark letter={letter} label={setup.name} />
      {isEstimate(usable) ? (
        <ul className="thumb-ranges">
          {rules.map((rule) => {
            const range = thumbRange(facts, rule, reserveShare);
            return (
              <li key={rule.name}>
                {isEstimate(range) && (
                  <>
                    <strong className="figures">{formatQuantity(range.value, 'km', system, 2)}</strong> (
                    {showQuantity(range.lower, 'km', system, 2)} to {showQuantity(range.upper, 'km', system, 2)}),{' '}
                    {thumbWords(rule, usable.value, reserveShare, system)}
                  </>
                )}
              </li>
            );
          })}
        </ul>
      ) : (
        <p className="quiet">Needs {usable.missing.join(', ')}.</p>
      )}
    </div>
  );
}

/** "throttle only, near 30 km/h: 452 Wh less 10 % ÷ 14 Wh/km, from six own rides". */
export function thumbWords(
  { name, whPerKm, basis }: ThumbRule,
  usableWh: number,
  reserveShare: number,
  system: UnitSystem,
): string {
  const inUnits = name.replace(/(\d+) km\/h/, (_all, speed: string) =>
    formatQuantity(Number(speed), 'km/h', system, 2),
  );
  const kept = reserveShare > 0 ? ` less ${Math.round(reserveShare * 100)} %` : '';
  const taken = formatQuantity(whPerKm, 'Wh/km', system, 2);
  return `${inUnits}: ${formatQuantity(usableWh, 'Wh', system, 3)}${kept} ÷ ${taken}, ${basis ?? 'your own rule'}`;
}
