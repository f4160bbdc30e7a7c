import { EXPERIENCE_KEYS, EXPERIENCE_SCALES, summariseRatings, type ExperienceKey } from '@ebrix/core/experience';
import { Button, Checkbox, Input, Select } from 'antd';
import { useState } from 'react';
import { ratingInputSchema, type RatingDto, type SetupDetail } from '@ebrix/contract';
import { formatDay } from '../../shared/format/format-quantity.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { Problem, QueryView } from '../../shared/ui/QueryView.js';
import { useListPartsQuery } from '../../entities/part/index.js';
import {
  AGREEMENTS,
  useAddRatingMutation,
  useRatingsOfSetupQuery,
  useRemoveRatingMutation,
} from '../../entities/experience/index.js';

const STEPS = [1, 2, 3, 4, 5] as const;

/** How a setup is to live with, on anchored steps, by several riders, expected and felt. */
export default function ExperienceTab({ setup }: { readonly setup: SetupDetail }) {
  const query = useRatingsOfSetupQuery(setup.id);
  const [isRating, setRating] = useState(false);
  return (
    <QueryView query={query}>
      {(ratings) => (
        <>
          <p className="quiet max-w-760 mb-12">
            Words on steps from 1 to 5, 5 the better. They stand beside the figures and are never mixed into them. Ask
            each rider before the first ride what to expect, and after it what was felt; best without telling which
            setup it is.
          </p>
          {isRating ? (
            <RatingForm setup={setup} onDone={() => setRating(false)} />
          ) : (
            <Button type="primary" onClick={() => setRating(true)}>
              Rate it
            </Button>
          )}
          <Summary ratings={ratings} />
          <Said ratings={ratings} />
        </>
      )}
    </QueryView>
  );
}

function Summary({ ratings }: { readonly ratings: readonly RatingDto[] }) {
  const scales = summariseRatings(ratings);
  if (scales.length === 0) return <p className="quiet mt-16">No rider has said yet how it felt.</p>;
  return (
    <section className="section mt-16" aria-label="How it felt">
      <h2 className="mb-8">How it felt</h2>
      <div className="scroll-x">
        <table className="rows max-w-980">
          <thead>
            <tr>
              <th scope="col">Scale</th>
              <th scope="col">Median</th>
              <th scope="col">Riders</th>
              <th scope="col">They had expected</th>
            </tr>
          </thead>
          <tbody>
            {scales.map(({ key, median, lowest, highest, riders, blindRiders, agreement, expected }) => (
              <tr key={key}>
                <td>{EXPERIENCE_SCALES[key].label}</td>
                <td>
                  <span className="figures">{median}</span> <span className="quiet">{anchorOf(key, median)}</span>
                </td>
                <td>
                  {riders > 1 && `${riders} riders: `}
                  {AGREEMENTS[agreement]}
                  {highest > lowest && <span className="quiet">, {`${lowest} to ${highest}`}</span>}
                  {blindRiders > 0 && <span className="quiet">, {blindRiders} without knowing which</span>}
                </td>
                <td className="figures">{expected ?? '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** The words of the anchor that a step is nearest to. */
function anchorOf(key: ExperienceKey, step: number): string {
  const { anchors } = EXPERIENCE_SCALES[key];
  const [low, high] = step < 3 ? [anchors[0], anchors[1]] : [anchors[1], anchors[2]];
  if (step === 1 || step === 3) return low;
  return step === 5 ? high : `between “${low}” and “${high}”`;
}

function Said({ ratings }: { readonly ratings: readonly RatingDto[] }) {
  const [remove] = useRemoveRatingMutation();
  const notices = useNotices();
  if (ratings.length === 0) return null;
  return (
    <section className="section" aria-label="What was said">
      <h2 className="mb-8">What was said</h2>
      <ul className="list-plain m-0 p-0 max-w-980">
        {ratings.map((rating) => (
          <li key={rating.id} className="pt-9 pb-9 line-below">
            <strong>{rating.rider}</strong>, {formatDay(rating.day)},{' '}
            {rating.phase === 'before' ? 'expected before riding' : 'after riding'}
            {rating.isBlind && ', without knowing which'}
            {rating.revisionNumber > 1 && `, revision ${rating.revisionNumber}`}
            <div className="quiet">
              {EXPERIENCE_KEYS.flatMap((key) =>
                rating.values[key] === undefined ? [] : `${EXPERIENCE_SCALES[key].label} ${rating.values[key]}`,
              ).join(', ')}
            </div>
            {rating.note && <div>{rating.note}</div>}
            <Button
              size="small"
              className="mt-4"
              aria-label={`Take back what ${rating.rider} said on ${formatDay(rating.day)}`}
              onClick={() => void remove(rating.id).then(notices.failure)}
            >
              Take back
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function RatingForm({ setup, onDone }: { readonly setup: SetupDetail; readonly onDone: () => void }) {
  const { data: riders } = useListPartsQuery('riders');
  const [add, { error, isLoading }] = useAddRatingMutation();
  const [rider, setRider] = useState('');
  const [phase, setPhase] = useState<'after' | 'before'>('after');
  const [isBlind, setBlind] = useState(false);
  const [values, setValues] = useState<Partial<Record<ExperienceKey, number>>>({});
  const [note, setNote] = useState('');
  const [lacking, setLacking] = useState<string>();
  const store = async (): Promise<void> => {
    const parsed = ratingInputSchema.safeParse({
      revisionId: setup.revisions[0]!.id,
      rider,
      day: new Date().toLocaleDateString('sv-SE'),
      phase,
      isBlind,
      values,
      note,
    });
    setLacking(parsed.success ? undefined : parsed.error.issues[0]!.message);
    if (!parsed.success) return;
    const result = await add({ setupId: setup.id, input: parsed.data });
    if (!('error' in result)) onDone();
  };
  return (
    <section className="sheet section" aria-label="Rate it">
      <div className="plan-rules mb-12">
        <label className="stacked">
          Rider
          <Input value={rider} maxLength={80} list="riders" onChange={({ target }) => setRider(target.value)} />
          <datalist id="riders">
            {(riders ?? []).map(({ id, name }) => (
              <option key={id} value={name} />
            ))}
          </datalist>
        </label>
        <label className="stacked">
          When
          <Select
            aria-label="When"
            value={phase}
            onChange={setPhase}
            options={[
              { value: 'after', label: 'After riding: what was felt' },
              { value: 'before', label: 'Before riding: what is expected' },
            ]}
          />
        </label>
        <Checkbox checked={isBlind} onChange={({ target }) => setBlind(target.checked)} className="self-end">
          The rider did not know which setup it was
        </Checkbox>
      </div>
      {EXPERIENCE_KEYS.map((key) => (
        <fieldset key={key} className="rating">
          <legend>{EXPERIENCE_SCALES[key].label}</legend>
          <div className="rating-steps">
            {STEPS.map((step) => (
              <label key={step}>
                <input
                  type="radio"
                  name={key}
                  checked={values[key] === step}
                  onChange={() => setValues({ ...values, [key]: step })}
                />
                <span className="figures">{step}</span>{' '}
                <span className="quiet">{step % 2 === 1 ? EXPERIENCE_SCALES[key].anchors[(step - 1) / 2] : ''}</span>
              </label>
            ))}
          </div>
        </fieldset>
      ))}
      <label className="stacked mt-10">
        In own words
        <Input.TextArea rows={2} maxLength={1000} value={note} onChange={({ target }) => setNote(target.value)} />
      </label>
      {lacking && (
        <p role="alert" className="problem">
          {lacking}
        </p>
      )}
      {error !== undefined && <Problem error={error} />}
      <div className="actions mt-10">
        <Button type="primary" loading={isLoading} onClick={() => void store()}>
          Keep it
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </section>
  );
}
