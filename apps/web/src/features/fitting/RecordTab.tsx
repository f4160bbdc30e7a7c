import { packsToTry, type FittingRecord } from '@ebrix/core/bench';
import { Button, Form, Input, Select } from 'antd';
import { useMemo, useState } from 'react';
import {
  fittingRecordSchema,
  storedFittingRecordSchema,
  type Fitting,
  type SetupDetail,
  type StoredFittingRecord,
} from '@ebrix/contract';
import { ConflictChoice, storedMeanwhile } from '../../shared/ui/ConflictChoice.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { Problem, QueryView } from '../../shared/ui/QueryView.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { useGetFittingQuery, useGetFittingRecordQuery, useSaveFittingRecordMutation } from './api.js';
import { CoolingSection } from './CoolingSection.js';
import { Lines, Section } from '../../shared/ui/Lines.js';
import { BoxSays, ClockSays } from './RecordSays.js';
import {
  BOX_CHOICES,
  DIFFICULTY_CHOICES,
  recordDifferences,
  SOURCE_CHOICES,
  TRIAL_CHOICES,
  WIRE_CHOICES,
} from './record-lines.js';

/** What is noted around a fitting: the box, the wires, the tools, and what the display said. */
export default function RecordTab({ setup }: { readonly setup: SetupDetail }) {
  const query = useGetFittingRecordQuery(setup.id, { refetchOnMountOrArgChange: true });
  const { data: fitting } = useGetFittingQuery(setup.id);
  return (
    <QueryView query={query}>
      {(stored) => <RecordForm key={setup.id} setup={setup} stored={stored} fitting={fitting} />}
    </QueryView>
  );
}

interface FormProps {
  readonly setup: SetupDetail;
  readonly stored: StoredFittingRecord;
  readonly fitting: Fitting | undefined;
}
function RecordForm({ setup, stored, fitting }: FormProps) {
  const [form] = Form.useForm<FittingRecord>();
  // What this window began from: what comes in from elsewhere must not move it.
  const [base, setBase] = useState(stored);
  const draft = useDraft(`fitting-record.${setup.id}`, form);
  const [save, saving] = useSaveFittingRecordMutation();
  const [isSaved, setSaved] = useState(false);
  const values = Form.useWatch((all) => all, { form, preserve: true });
  const record = useMemo(() => readRecord(values ?? base.record), [values, base]);
  const meanwhile = storedFittingRecordSchema.safeParse(storedMeanwhile(saving.error));
  const { kit, packs, addOns } = setup.revisions[0]!.parts;
  const store = async (version: number): Promise<void> => {
    const read = fittingRecordSchema.safeParse(cleaned(form.getFieldsValue(true) as object));
    if (!read.success) {
      form.setFields(read.error.issues.map(({ path, message }) => ({ name: path as never, errors: [message] })));
      form.scrollToField([...read.error.issues[0]!.path] as (string | number)[]);
      return;
    }
    const { data } = await save({ setupId: setup.id, version, record: read.data });
    if (!data) return;
    draft.clear();
    setBase(data);
    setSaved(true);
  };
  /** Adds to a list what it does not name yet. */
  const fill = <T extends object>(name: keyof FittingRecord, key: keyof T, lines: readonly T[]): void => {
    const there = (form.getFieldValue(name) ?? []) as T[];
    const named = new Set(there.map((line) => line[key]));
    form.setFieldValue(name, [...there, ...lines.filter((line) => !named.has(line[key]))]);
    draft.keep();
    setSaved(false);
  };
  const toTry = packsToTry(packs, record);
  return (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      initialValues={base.record}
      onValuesChange={() => {
        draft.keep();
        setSaved(false);
      }}
      onFinish={() => void store(base.version)}
      className="max-w-980"
    >
      <Section title="The box">
        <div className="field-grid">
          <Form.Item name="seller" label="Bought from">
            <Input maxLength={120} />
          </Form.Item>
          <Form.Item name="orderedOn" label="Ordered on">
            <Input type="date" />
          </Form.Item>
          <Form.Item name="arrivedOn" label="Arrived on">
            <Input type="date" />
          </Form.Item>
          <Form.Item name="warrantyMonths" label="Warranty, months" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
        </div>
        <BoxSays record={record} />
        <Lines
          name="box"
          label="In the box"
          first={{ what: '', state: 'received', note: '' }}
          add="Add a thing"
          cells={[
            { name: 'what', label: 'What' },
            { name: 'state', label: 'State', choices: BOX_CHOICES },
            { name: 'note', label: 'Note' },
          ]}
          more={
            kit !== null &&
            kit.box.length > 0 && (
              <Button
                onClick={() =>
                  fill(
                    'box',
                    'what',
                    kit.box.map(({ what }) => ({ what, state: 'received', note: '' })),
                  )
                }
              >
                List what the kit should hold
              </Button>
            )
          }
        />
      </Section>
      <Section title="Guess and tools">
        <div className="field-grid">
          <Form.Item name="guessedHours" label="Guessed time for the fitting" rules={[readableNumber]}>
            <QuantityInput unit="h" />
          </Form.Item>
          <Form.Item name="guessedDifficulty" label="Guessed difficulty">
            <Select allowClear options={DIFFICULTY_CHOICES} aria-label="Guessed difficulty" />
          </Form.Item>
          <Form.Item name="ratedDifficulty" label="Difficulty as it was">
            <Select allowClear options={DIFFICULTY_CHOICES} aria-label="Difficulty as it was" />
          </Form.Item>
        </div>
        <ClockSays record={record} steps={fitting?.steps ?? []} />
        <Lines
          name="tools"
          label="Tools"
          first={{ tool: '', source: 'own' }}
          add="Add a tool"
          cells={[
            { name: 'tool', label: 'Tool' },
            { name: 'source', label: 'From where', choices: SOURCE_CHOICES },
          ]}
          more={
            <Button
              disabled={!fitting}
              onClick={() =>
                fill(
                  'tools',
                  'tool',
                  [...new Set((fitting?.steps ?? []).flatMap(({ tools }) => tools))]
                    .sort()
                    .map((tool) => ({ tool, source: 'own' })),
                )
              }
            >
              List the tools of the steps
            </Button>
          }
        />
      </Section>
      <Section
        title="Connectors"
        say="Which wire goes to which, as whoever opens it next needs to know. It prints on the toolbox sheet. Joints only with the battery away."
      >
        <Lines
          name="connectors"
          label="Connectors"
          first={{ from: '', to: '', state: 'as-came', note: '' }}
          add="Add a connection"
          cells={[
            { name: 'from', label: 'Wire' },
            { name: 'to', label: 'Goes to' },
            { name: 'state', label: 'What was done', choices: WIRE_CHOICES },
            { name: 'note', label: 'Note' },
          ]}
        />
      </Section>
      {packs.length > 1 && (
        <Section title="Packs, each alone and then together">
          {toTry.length > 0 ? (
            <p className="problem mb-12" role="note">
              Run each pack alone on the stand before joining them: {toTry.join(', ')}. Join them only at the same rest
              voltage; unequal packs drive a current into one another that nothing limits.
            </p>
          ) : (
            <p className="quiet mb-12">Each ran alone. Measure the rest voltages again just before they are joined.</p>
          )}
          <Lines
            name="packsTried"
            label="Packs alone"
            first={{ pack: '', alone: 'not-tried', restV: null, loadV: null }}
            add="Add a pack"
            cells={[
              { name: 'pack', label: 'Pack' },
              { name: 'alone', label: 'By itself', choices: TRIAL_CHOICES },
              { name: 'restV', label: 'At rest', unit: 'V' },
              { name: 'loadV', label: 'Motor running', unit: 'V' },
            ]}
            more={
              <Button
                onClick={() =>
                  fill(
                    'packsTried',
                    'pack',
                    packs.map(({ name }) => ({ pack: name, alone: 'not-tried', restV: null, loadV: null })),
                  )
                }
              >
                List the packs
              </Button>
            }
          />
          <Form.Item name="ranTogether" label="Both together" className="max-w-320 mt-12">
            <Select
              allowClear
              aria-label="Both together"
              options={[
                { value: true, label: 'Ran, none got warm' },
                { value: false, label: 'Did not run, or one got warm' },
              ]}
            />
          </Form.Item>
        </Section>
      )}
      <CoolingSection addOns={addOns} record={record} />
      <Section title="Error codes seen">
        <Lines
          name="errors"
          label="Error codes"
          first={{ code: '', isAfterVoltageStep: false, meaning: '', cure: '' }}
          add="Add a code"
          cells={[
            { name: 'code', label: 'Code' },
            {
              name: 'isAfterVoltageStep',
              label: 'When',
              choices: [
                { value: false, label: 'At any time' },
                { value: true, label: 'After a step up in voltage' },
              ],
            },
            { name: 'meaning', label: 'What it means' },
            { name: 'cure', label: 'What cured it' },
          ]}
        />
      </Section>
      {meanwhile.success ? (
        <ConflictChoice
          what="The record of the fitting was changed elsewhere while you worked here."
          differences={recordDifferences(meanwhile.data.record, record)}
          keepLabel="Overwrite with mine"
          takeLabel="Use the saved version"
          isBusy={saving.isLoading}
          onKeepMine={() => void store(meanwhile.data.version)}
          onTakeTheirs={() => {
            draft.clear();
            setBase(meanwhile.data);
            form.setFieldsValue(meanwhile.data.record);
            saving.reset();
          }}
        />
      ) : (
        saving.error !== undefined && <Problem error={saving.error} />
      )}
      <div className="actions mt-12">
        <Button type="primary" htmlType="submit" loading={saving.isLoading}>
          Save
        </Button>
        {isSaved && <span role="status">Saved.</span>}
      </div>
    </Form>
  );
}

/** Emptied fields are unknown, not empty words. */
function cleaned(values: object): Record<string, unknown> {
  const { orderedOn, arrivedOn, ...rest } = values as Record<string, unknown>;
  return JSON.parse(
    JSON.stringify(
      { ...rest, orderedOn: orderedOn || null, arrivedOn: arrivedOn || null },
      (_key, value: unknown) => value ?? null,
    ),
  ) as Record<string, unknown>;
}
/** As far as it can be read while one is still typing. */
function readRecord(values: object): FittingRecord {
  const all = cleaned(values);
  const read = fittingRecordSchema.safeParse(all);
  if (read.success) return read.data;
  const wrong = new Set(read.error.issues.map(({ path }) => path[0]));
  return fittingRecordSchema.parse(Object.fromEntries(Object.entries(all).filter(([name]) => !wrong.has(name))));
}
