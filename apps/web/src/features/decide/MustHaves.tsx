import { criterionWords, isFigureCriterion, type CriterionKey, type WeighedForUse } from '@ebrix/core/decision';
import { Button, Select } from 'antd';
import type { Course, WeighUp } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { OptionalNumber } from '../../shared/ui/NumberInput.js';
import { choices } from './Criteria.js';
import { boundKey, inHundred, scaleOf, type DraftMustHave, type DraftUse } from './live-use.js';

interface Props {
  readonly draft: DraftUse;
  readonly answer: WeighUp;
  readonly weighed: WeighedForUse | undefined;
  readonly courses: readonly Course[];
  readonly onChange: (part: Partial<DraftUse>) => void;
}
const ANY_COURSE = 'any';

/** Bounds: what breaks one is out, however well it does otherwise. */
export function MustHaves({ draft, answer, weighed, courses, onChange }: Props) {
  const system = useUnits();
  const { mustHaves } = draft;
  const set = (k: number, part: Partial<DraftMustHave>): void =>
    onChange({ mustHaves: mustHaves.map((one, j) => (j === k ? { ...one, ...part } : one)) });
  return (
    <>
      {mustHaves.length === 0 && <p className="quiet mb-8">No bounds: nothing is ruled out.</p>}
      <ul className="must-haves">
        {mustHaves.map(({ key, atLeast, atMost, courseId }, k) => {
          const { label, unit } = criterionWords(key);
          const scale = scaleOf(unit, system, answer.currency);
          const ownKey = boundKey(key, courseId);
          const broken = weighed?.setups.flatMap(({ name, breaks }) => {
            const found = breaks.find((one) => one.key === ownKey);
            return found ? [`${name} misses it in ${inHundred(found.share)} of 100`] : [];
          });
          return (
            <li key={`${key} ${k}`}>
              <strong>{label}</strong>
              <label>
                <span className="quiet">at least</span>
                <OptionalNumber
                  value={atLeast === null ? null : scale.toShown(atLeast)}
                  suffix={scale.unit}
                  label={`${label} at least`}
                  onChange={(typed) => set(k, { atLeast: typed === null ? null : scale.fromShown(typed) })}
                />
              </label>
              <label>
                <span className="quiet">at most</span>
                <OptionalNumber
                  value={atMost === null ? null : scale.toShown(atMost)}
                  suffix={scale.unit}
                  label={`${label} at most`}
                  onChange={(typed) => set(k, { atMost: typed === null ? null : scale.fromShown(typed) })}
                />
              </label>
              {isFigureCriterion(key) ? (
                <label>
                  <span className="quiet">on</span>
                  <Select
                    value={courseId ?? ANY_COURSE}
                    aria-label={`Course for ${label}`}
                    options={[
                      { value: ANY_COURSE, label: 'where all were ridden' },
                      ...courses.map(({ id, name }) => ({ value: id, label: name })),
                    ]}
                    onChange={(value) => set(k, { courseId: value === ANY_COURSE ? null : value })}
                  />
                </label>
              ) : (
                <span />
              )}
              <Button
                size="small"
                aria-label={`Remove bound ${k + 1}`}
                onClick={() => onChange({ mustHaves: mustHaves.filter((_, j) => j !== k) })}
              >
                Remove
              </Button>
              <span className="quiet says">
                {atLeast === null && atMost === null
                  ? 'Say how much.'
                  : broken && broken.length > 0
                    ? `${broken.join('; ')}.`
                    : 'Kept by all.'}
              </span>
            </li>
          );
        })}
      </ul>
      <Select<CriterionKey>
        className="add-criterion"
        showSearch
        value={null}
        placeholder="Add a bound"
        aria-label="Add a bound"
        optionFilterProp="label"
        options={choices([])}
        onChange={(key) =>
          onChange({ mustHaves: [...mustHaves, { key, atLeast: null, atMost: null, courseId: null }] })
        }
      />
      <p className="quiet mt-6">
        A setup that keeps every bound may still be barred where you ride: check your local rules.
      </p>
    </>
  );
}
