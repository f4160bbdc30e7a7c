import { STAND_METHOD, totalMass } from '@ebrix/core/bench';
import { Button, Form, Input, Radio } from 'antd';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { standRecordSchema, type SetupDetail, type StandRecord } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatFigure, formatQuantity, formatShare } from '../../shared/format/format-quantity.js';
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { ConflictChoice, storedMeanwhile, type Difference } from '../../shared/ui/ConflictChoice.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { rememberedName, rememberName } from '../../shared/ui/remembered-name.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { Derivation } from '../../entities/run/index.js';
import { useSaveStandMutation, useStandQuery } from '../../entities/stand/index.js';
import { readStand, toStandValues, type StandValues } from './stand-values.js';
import { TroubleList } from './TroubleList.js';

const ANSWERS = [
  { value: true, label: 'Yes' },
  { value: false, label: 'No' },
];
const LOOKS = [
  { name: 'directionRight', label: 'Wheel turns the right way' },
  { name: 'spinsFreely', label: 'Spins freely, nothing rubs or binds' },
  { name: 'brakeCuts', label: 'Each brake lever stops the motor' },
] as const;
const READINGS = [
  { name: 'rollOutTurns', label: 'Roll-out, turns', unit: 'level', help: 'Ten turns with the rider on the bike' },
  { name: 'rollOutM', label: 'Roll-out, distance', unit: 'm' },
  { name: 'rollOutLimitMm', label: 'Reading ±', unit: 'mm', help: 'Blank: 5 mm at each end' },
  { name: 'displaySpeedKmh', label: 'Display shows', unit: 'km/h', help: 'At a steady speed on the stand' },
  { name: 'timedTurns', label: 'Turns counted', unit: 'level' },
  { name: 'timedS', label: 'Time for those turns', unit: 's' },
  { name: 'noLoadSpeedKmh', label: 'No-load speed', unit: 'km/h' },
  { name: 'noLoadCurrentA', label: 'No-load current', unit: 'A' },
  { name: 'frontKg', label: 'Front wheel weight', unit: 'kg' },
  { name: 'rearKg', label: 'Rear wheel weight', unit: 'kg' },
  { name: 'scaleLimitKg', label: 'Scale ±', unit: 'kg', help: 'Blank: 0.1 kg' },
] as const;

/** The stand test of the newest revision, its figures, and what was found when something was wrong. */
export default function StandTab({ setup }: { readonly setup: SetupDetail }) {
  const query = useStandQuery(setup.id);
  const latest = setup.revisions[0]!;
  return (
    <div className="grid gap-26">
      <QueryView query={query}>
        {(records) => {
          const record = records.find(({ revisionId }) => revisionId === latest.id);
          return (
            <div className="columns">
              <StandForm key={record?.version ?? 0} setup={setup} record={record} />
              <section>
                <Figures record={record} />
                <WeighedAgainstSum record={record} setup={setup} />
                {records
                  .filter((one) => one !== record)
                  .map((one) => (
                    <details key={one.revisionId} className="mt-12">
                      <summary>
                        Revision {one.revisionNumber}, {one.day}
                      </summary>
                      <Figures record={one} />
                    </details>
                  ))}
              </section>
            </div>
          );
        }}
      </QueryView>
      <TroubleList setup={setup} />
    </div>
  );
}

/** The scale against the sum of the parts: what was forgotten or stated too light shows here. */
function WeighedAgainstSum({
  record,
  setup,
}: {
  readonly record: StandRecord | undefined;
  readonly setup: SetupDetail;
}) {
  const system = useUnits();
  const weighed = record?.figures.find(({ key }) => key === 'mass');
  if (!weighed) return null;
  const { parts, settings, fit } = setup.revisions[0]!;
  const { fittedKg, missing } = totalMass({ ...parts, settings, fit });
  const unknown = missing.filter((what) => what !== 'rider');
  const difference = weighed.value - fittedKg;
  return (
    <p className="mt-8">
      The parts add up to {formatQuantity(fittedKg, 'kg', system, 4)}
      {unknown.length > 0 && ` without ${unknown.join(', ')}`}: the scale shows{' '}
      {formatQuantity(Math.abs(difference), 'kg', system, 2)} {difference >= 0 ? 'more' : 'less'}.
    </p>
  );
}

function Figures({ record }: { readonly record: StandRecord | undefined }) {
  const system = useUnits();
  const [open, setOpen] = useState<string>();
  if (!record || record.figures.length === 0)
    return (
      <>
        <h2>Figures</h2>
        <p className="quiet">Once saved, your readings become figures with their uncertainty here.</p>
      </>
    );
  const shown = record.figures.find(({ key }) => key === open);
  return (
    <>
      <h2>Figures of revision {record.revisionNumber}</h2>
      <table className="rows">
        <tbody>
          {record.figures.map((figure) => (
            <tr key={figure.key}>
              <th scope="row" className="pair">
                {figure.label}
              </th>
              <td className="number">
                <button
                  type="button"
                  className="figure-button"
                  aria-expanded={open === figure.key}
                  onClick={() => setOpen(open === figure.key ? undefined : figure.key)}
                >
                  {figure.unit === '1'
                    ? formatShare(figure.value, figure.standardUncertainty)
                    : formatFigure(figure.value, figure.standardUncertainty, figure.unit, system)}
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {shown && <Derivation figure={shown} method={STAND_METHOD} onClose={() => setOpen(undefined)} />}
      {record.note && <p className="mt-8">{record.note}</p>}
      <p className="quiet mt-8">
        {record.by}, {record.day}
      </p>
    </>
  );
}

function StandForm({ setup, record }: { readonly setup: SetupDetail; readonly record: StandRecord | undefined }) {
  const revision = setup.revisions[0]!;
  const [form] = Form.useForm<StandValues>();
  const draft = useDraft(`stand.${revision.id}`, form);
  const [save, { isLoading, error, reset }] = useSaveStandMutation();
  const today = useMemo(() => new Date().toLocaleDateString('sv-SE'), []);
  const meanwhile = standRecordSchema.safeParse(storedMeanwhile(error));
  const submit = async (version: number): Promise<void> => {
    const read = readStand(form.getFieldsValue(true) as StandValues, version);
    if (!read.ok) {
      form.setFields(read.problems.map(({ name, message }) => ({ name: name as never, errors: [message] })));
      form.scrollToField(read.problems[0]!.name);
      return;
    }
    rememberName(read.input.by);
    const { data } = await save({ revisionId: revision.id, input: read.input });
    if (data) draft.clear();
  };
  return (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      initialValues={toStandValues(record, today, rememberedName())}
      onValuesChange={draft.keep}
      onFinish={() => void submit(record?.version ?? 0)}
    >
      <h2>Stand test of revision {revision.number}</h2>
      <p className="caution mb-12">
        Wheel off the ground, bike held, hands and laces clear of spokes and chain. Lowest level first.
      </p>
      <div className="field-grid">
        {LOOKS.map(({ name, label }) => (
          <Form.Item key={name} name={name} label={label}>
            <Radio.Group optionType="button" options={ANSWERS} aria-label={label} />
          </Form.Item>
        ))}
        {READINGS.map(({ name, label, unit, ...more }) => (
          <Form.Item
            key={name}
            name={['readings', name]}
            label={label}
            rules={[readableNumber]}
            {...('help' in more && { extra: more.help })}
          >
            <QuantityInput unit={unit} />
          </Form.Item>
        ))}
        <Form.Item
          name={['readings', 'spinDownS']}
          label="Spin-down times, s"
          extra="Motor off, from the same speed; several tries, for example 6.1 6.4 6.2"
        >
          <Input />
        </Form.Item>
        <Form.Item name="day" label="Day">
          <Input type="date" />
        </Form.Item>
        <Form.Item name="by" label="By">
          <Input />
        </Form.Item>
      </div>
      <Form.Item name="note" label="Note">
        <Input.TextArea rows={2} />
      </Form.Item>
      {meanwhile.success ? (
        <ConflictChoice
          what={`${meanwhile.data.by} saved a stand test of this revision meanwhile.`}
          differences={differencesOf(meanwhile.data, form.getFieldsValue(true) as StandValues)}
          keepLabel="Overwrite with mine"
          takeLabel="Use the saved version"
          isBusy={isLoading}
          onKeepMine={() => void submit(meanwhile.data.version)}
          onTakeTheirs={() => {
            draft.clear();
            form.setFieldsValue(toStandValues(meanwhile.data, today, ''));
            reset();
          }}
        />
      ) : (
        error !== undefined && <Problem error={error} />
      )}
      {!meanwhile.success && (
        <div className="actions">
          <Button type="primary" htmlType="submit" loading={isLoading}>
            Save the stand test
          </Button>
          <Link to={`/bench/setups/${setup.id}/clearance`} className="self-center">
            On to “Before you ride”
          </Link>
        </div>
      )}
    </Form>
  );
}

function differencesOf(theirs: StandRecord, values: StandValues): Difference[] {
  const stored = toStandValues(theirs, '', '');
  const text = (value: unknown): string =>
    value === null || value === undefined || value === ''
      ? '–'
      : value === true
        ? 'Yes'
        : value === false
          ? 'No'
          : (value as string | number).toString();
  return [
    ...LOOKS.map(({ name, label }) => ({ label, theirs: text(stored[name]), mine: text(values[name]) })),
    ...[...READINGS, { name: 'spinDownS', label: 'Spin-down times, s' }].map(({ name, label }) => ({
      label,
      theirs: text(stored.readings?.[name]),
      mine: text(values.readings?.[name]),
    })),
    { label: 'Note', theirs: text(stored.note), mine: text(values.note) },
  ].filter((row) => row.theirs !== row.mine);
}
