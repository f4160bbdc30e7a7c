import {
  CRITERION_KEYS,
  criterionWords,
  isFigureCriterion,
  type CriterionKey,
  type WeighedForUse,
} from '@ebrix/core/decision';
import { Button, Select, Slider } from 'antd';
import { useState } from 'react';
import type { WeighUp } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { scaleOf, type DraftCriterion, type DraftUse } from './live-use.js';
import { WorthCurve, WorthEditor } from './WorthEditor.js';

interface Props {
  readonly draft: DraftUse;
  readonly answer: WeighUp;
  readonly weighed: WeighedForUse | undefined;
  readonly onChange: (part: Partial<DraftUse>) => void;
}
const HEAVIEST = 10;

/** What counts: its weight, how the setups stand in it, and what that is worth. */
export function Criteria({ draft, answer, weighed, onChange }: Props) {
  const system = useUnits();
  const [opened, setOpened] = useState<CriterionKey>();
  const { criteria } = draft;
  const set = (key: CriterionKey, part: Partial<DraftCriterion>): void =>
    onChange({ criteria: criteria.map((one) => (one.key === key ? { ...one, ...part } : one)) });
  return (
    <>
      <ul className="criteria">
        {criteria.map(({ key, weight, worth }) => {
          const known = answer.criteria.find((one) => one.key === key);
          const { label, unit } = criterionWords(key);
          const scale = scaleOf(unit, system, answer.currency);
          const points = worth ?? known?.worth;
          const isOpen = opened === key;
          return (
            <li key={key}>
              <div className="criterion">
                <div>
                  <strong>{label}</strong>
                  {known?.basis && <span className="quiet">{known.basis}</span>}
                </div>
                <label className="criterion-weight">
                  <span className="quiet">weight</span>
                  <Slider
                    min={0}
                    max={HEAVIEST}
                    step={0.5}
                    value={weight}
                    onChange={(value: number) => set(key, { weight: value })}
                    ariaLabelForHandle={`Weight of ${label}`}
                  />
                  <span className="figures">{weight}</span>
                </label>
                <div className="criterion-act">
                  {points && (
                    <button
                      type="button"
                      className="curve-button"
                      aria-expanded={isOpen}
                      aria-label={`What ${label} is worth`}
                      onClick={() => setOpened(isOpen ? undefined : key)}
                    >
                      <WorthCurve points={points} />
                    </button>
                  )}
                  <Button
                    size="small"
                    aria-label={`Remove ${label}`}
                    onClick={() => onChange({ criteria: criteria.filter((one) => one.key !== key) })}
                  >
                    Remove
                  </Button>
                </div>
              </div>
              <ul className="standings">
                {answer.setups.map(({ letter, name, standings }) => {
                  const standing = standings[key];
                  const part = weighed?.setups.find((setup) => setup.name === name)?.parts[key];
                  return (
                    <li key={letter}>
                      <SetupMark letter={letter} />{' '}
                      {standing ? (
                        <>
                          <span className="figures">
                            {scale.withDoubt(standing.value, standing.standardUncertainty)}
                          </span>
                          {part !== undefined && <span className="quiet figures"> worth {Math.round(100 * part)}</span>}
                        </>
                      ) : (
                        <span className="quiet">not known</span>
                      )}
                    </li>
                  );
                })}
              </ul>
              {isOpen && points && (
                <WorthEditor
                  label={label}
                  points={points}
                  isUsual={worth === null}
                  scale={scale}
                  setups={answer.setups.flatMap(({ letter, standings }) => {
                    const standing = standings[key];
                    return standing ? [{ letter, value: standing.value }] : [];
                  })}
                  onChange={(changed) => set(key, { worth: changed })}
                />
              )}
            </li>
          );
        })}
      </ul>
      <Select<CriterionKey>
        className="add-criterion"
        showSearch
        value={null}
        placeholder="Add something that counts"
        aria-label="Add something that counts"
        optionFilterProp="label"
        options={choices(criteria.map(({ key }) => key))}
        onChange={(key) => onChange({ criteria: [...criteria, { key, weight: 1, worth: null }] })}
      />
    </>
  );
}

/** What may be added, by what it is read from. */
export function choices(
  taken: readonly CriterionKey[],
): { label: string; options: { value: CriterionKey; label: string }[] }[] {
  const groups = new Map<string, { value: CriterionKey; label: string }[]>();
  for (const key of CRITERION_KEYS) {
    if (taken.includes(key)) continue;
    const group = key.startsWith('felt.')
      ? 'As riders felt it'
      : isFigureCriterion(key)
        ? 'Figures of runs'
        : 'Parts, money and fitting';
    groups.set(group, [...(groups.get(group) ?? []), { value: key, label: criterionWords(key).label }]);
  }
  return [...groups].map(([label, options]) => ({ label, options }));
}
