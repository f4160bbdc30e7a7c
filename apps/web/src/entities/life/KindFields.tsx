import type { Symptom } from '@ebrix/core/bench';
import {
  FOLLOW_UP_KEYS,
  FOLLOW_UP_SCALES,
  LIFE_PART_KEYS,
  LIFE_PARTS,
  REPLACED_BECAUSE,
  wearOf,
  type FaultEffect,
  type LifePartKey,
  type ReplacedBecause,
} from '@ebrix/core/life';
import { Checkbox, Input } from 'antd';
import { OptionalNumber } from '../../shared/ui/NumberInput.js';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';
import { useLogbookSettingsQuery } from './api.js';
import type { EntryDraft } from './entry-draft.js';
import { Labelled, PlainSelect } from './fields.js';

interface Props {
  readonly draft: EntryDraft;
  readonly set: (by: Partial<EntryDraft>) => void;
  readonly id: string;
  readonly symptoms: readonly Symptom[];
  readonly effects: Readonly<Record<FaultEffect, string>>;
}
const PART_CHOICES = LIFE_PART_KEYS.map((value) => ({ value, label: LIFE_PARTS[value].label }));
const MEASURED = PART_CHOICES.filter(({ value }) => wearOf(value) !== undefined);
const OTHER_PARTS = PART_CHOICES.filter(({ value }) => wearOf(value) === undefined);
const choicesOf = <K extends string>(record: Readonly<Record<K, string>>): { value: K; label: string }[] =>
  (Object.keys(record) as K[]).map((value) => ({ value, label: record[value] }));

/** What one kind of entry asks for beside day and distance. */
export function KindFields(props: Props) {
  const { draft, set, id } = props;
  switch (draft.kind) {
    case 'odometer':
      return <Odometer {...props} />;
    case 'charge':
      return (
        <>
          <Labelled label="At the socket">
            <OptionalNumber label="At the socket" value={draft.kWh} suffix="kWh" onChange={(kWh) => set({ kWh })} />
          </Labelled>
          <Labelled label="Took">
            <OptionalNumber label="Took" value={draft.hours} suffix="h" onChange={(hours) => set({ hours })} />
          </Labelled>
          <PlainSelect
            label="How far"
            value={draft.extent}
            options={[
              { value: 'full', label: 'to full' },
              { value: 'part', label: 'in part' },
            ]}
            onChange={(extent) => set({ extent: extent as EntryDraft['extent'] })}
          />
        </>
      );
    case 'fault':
      return <Fault {...props} />;
    case 'replacement':
      return (
        <>
          <PartSelect draft={draft} set={set} />
          <PlainSelect
            label="Because"
            value={draft.why}
            options={choicesOf<ReplacedBecause>(REPLACED_BECAUSE)}
            onChange={(why) => set({ why: why as ReplacedBecause })}
          />
          <Words draft={draft} set={set} id={id} label="With what" />
        </>
      );
    case 'service':
      return <ServiceItems draft={draft} set={set} id={id} />;
    case 'inspection':
      return <Inspection draft={draft} set={set} id={id} />;
    case 'follow-up':
      return <FollowUp draft={draft} set={set} id={id} />;
    case 'fitted':
      return (
        <>
          <Labelled label="For what use" for={`${id}-use`}>
            <Input
              id={`${id}-use`}
              value={draft.use}
              maxLength={80}
              onChange={({ target }) => set({ use: target.value })}
            />
          </Labelled>
          <Words draft={draft} set={set} id={id} label="Words" />
        </>
      );
    case 'accident':
    case 'note':
    case 'taken-off':
      return <Words draft={draft} set={set} id={id} label={draft.kind === 'accident' ? 'What happened' : 'Words'} />;
  }
}

type Part = Pick<Props, 'draft' | 'set'>;
function PartSelect({ draft, set }: Part) {
  return (
    <PlainSelect
      label="Part"
      value={draft.part}
      options={PART_CHOICES}
      onChange={(part) => set({ part: part as LifePartKey })}
    />
  );
}

function Words({ draft, set, id, label }: Part & { readonly id: string; readonly label: string }) {
  return (
    <Labelled label={label} for={`${id}-words`} isWide>
      <Input.TextArea
        id={`${id}-words`}
        value={draft.words}
        autoSize={{ minRows: 1, maxRows: 6 }}
        maxLength={2000}
        onChange={({ target }) => set({ words: target.value })}
      />
    </Labelled>
  );
}

function Odometer({ draft, set }: Part) {
  return (
    <>
      <PlainSelect
        label="Way"
        value={draft.way}
        options={[
          { value: 'reading', label: 'shows now' },
          { value: 'trip', label: 'ridden, to be added' },
          { value: 'rebase', label: 'counts otherwise from here' },
        ]}
        onChange={(way) => set({ way: way as EntryDraft['way'] })}
      />
      <Labelled label="Distance">
        <QuantityInput aria-label="Distance" unit="km" value={draft.km} onChange={(km) => set({ km })} />
      </Labelled>
      {draft.way === 'rebase' && (
        <Labelled label="True ÷ shown, where known">
          <OptionalNumber
            label="True ÷ shown, where known"
            value={draft.wheelFactor}
            onChange={(wheelFactor) => set({ wheelFactor })}
          />
        </Labelled>
      )}
    </>
  );
}

function Fault({ draft, set, id, symptoms, effects }: Props) {
  return (
    <>
      <PartSelect draft={draft} set={set} />
      <PlainSelect
        label="What it did"
        value={draft.effect}
        options={choicesOf<FaultEffect>(effects)}
        onChange={(effect) => set({ effect: effect as FaultEffect })}
      />
      <PlainSelect
        label="Symptom"
        value={draft.symptom ?? ''}
        options={[
          { value: '', label: 'in own words' },
          ...symptoms.map((symptom) => ({ value: symptom.id, label: symptom.name })),
        ]}
        onChange={(symptom) => set({ symptom: symptom === '' ? null : symptom })}
      />
      <Words draft={draft} set={set} id={id} label="What happened" />
      <Labelled label="Off the road">
        <OptionalNumber
          label="Off the road"
          value={draft.daysOff}
          suffix="days"
          onChange={(daysOff) => set({ daysOff })}
        />
      </Labelled>
      <Labelled label="Cause" for={`${id}-cause`}>
        <Input id={`${id}-cause`} value={draft.cause} onChange={({ target }) => set({ cause: target.value })} />
      </Labelled>
      <Labelled label="Cure" for={`${id}-cure`}>
        <Input id={`${id}-cure`} value={draft.cure} onChange={({ target }) => set({ cure: target.value })} />
      </Labelled>
      <Checkbox
        className="entry-check"
        checked={draft.underWarranty}
        onChange={({ target }) => set({ underWarranty: target.checked })}
      >
        Under warranty
      </Checkbox>
      {draft.effect === 'danger' && (
        <p className="caution wide">Do not ride it until the cause is found and cured by someone who knows how.</p>
      )}
    </>
  );
}

function ServiceItems({ draft, set, id }: Part & { readonly id: string }) {
  const { data } = useLogbookSettingsQuery();
  return (
    <>
      <div className="entry-field wide" role="group" aria-label="Done">
        <span>Done</span>
        <div className="entry-items">
          {(data?.items ?? []).map((item) => (
            <Checkbox
              key={item.id}
              checked={draft.items.includes(item.id)}
              onChange={({ target }) =>
                set({
                  items: target.checked ? [...draft.items, item.id] : draft.items.filter((one) => one !== item.id),
                })
              }
            >
              {item.what}
              {item.drive !== 'any' && (
                <span className="quiet"> ({item.drive === 'hub' ? 'hub motor' : 'mid motor'})</span>
              )}
            </Checkbox>
          ))}
        </div>
      </div>
      <Words draft={draft} set={set} id={id} label="Words" />
    </>
  );
}

function Inspection({ draft, set, id }: Part & { readonly id: string }) {
  const measure = wearOf(draft.part);
  return (
    <>
      <PlainSelect
        label="Part"
        value={draft.part}
        options={[...MEASURED, ...OTHER_PARTS]}
        onChange={(part) => set({ part: part as LifePartKey, value: null })}
      />
      {measure && (
        <Labelled label={`Reading: ${measure.what}`}>
          <OptionalNumber
            label={`Reading: ${measure.what}`}
            value={draft.value}
            suffix={measure.unit}
            onChange={(value) => set({ value })}
          />
        </Labelled>
      )}
      <Checkbox
        className="entry-check"
        checked={draft.isFine}
        onChange={({ target }) => set({ isFine: target.checked })}
      >
        Fine
      </Checkbox>
      <Words draft={draft} set={set} id={id} label="Words" />
    </>
  );
}

const STEPS = [1, 2, 3, 4, 5] as const;
function FollowUp({ draft, set, id }: Part & { readonly id: string }) {
  const { data } = useLogbookSettingsQuery();
  return (
    <>
      <PlainSelect
        label="Asked"
        value={draft.stage}
        options={(data?.stages ?? []).map((stage) => ({ value: stage.id, label: stage.label }))}
        onChange={(stage) => set({ stage })}
      />
      {FOLLOW_UP_KEYS.map((key) => {
        const { label, anchors } = FOLLOW_UP_SCALES[key];
        return (
          <div key={key} className="entry-field wide" role="group" aria-label={label}>
            <span>
              {label}{' '}
              <span className="quiet">
                1 {anchors[0]} … 3 {anchors[1]} … 5 {anchors[2]}
              </span>
            </span>
            <div className="entry-steps">
              {STEPS.map((step) => (
                <button
                  key={step}
                  type="button"
                  aria-pressed={draft.answers[key] === step}
                  aria-label={`${label}: ${step}`}
                  onClick={() => {
                    const { [key]: before, ...others } = draft.answers;
                    set({ answers: before === step ? others : { ...others, [key]: step } });
                  }}
                >
                  {step}
                </button>
              ))}
            </div>
          </div>
        );
      })}
      <Labelled label="What was changed since" for={`${id}-changed`} isWide>
        <Input id={`${id}-changed`} value={draft.changed} onChange={({ target }) => set({ changed: target.value })} />
      </Labelled>
      <Words draft={draft} set={set} id={id} label="In their own words" />
    </>
  );
}
