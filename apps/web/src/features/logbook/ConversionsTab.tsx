import { Button, Form, Input, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { conversionInputSchema, conversionSchema, type Conversion, type ConversionInput } from '@ebrix/contract';
import {
  LifeView,
  useAddConversionMutation,
  useArchiveConversionMutation,
  useChangeConversionMutation,
  useListConversionsQuery,
} from '../../entities/life/index.js';
import { MOTOR_KINDS } from '../../entities/part/index.js';
import { formatDay, formatQuantity } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { ConflictChoice, storedMeanwhile } from '../../shared/ui/ConflictChoice.js';
import { Problem, QueryView } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { Wide } from '../../shared/ui/Wide.js';

const EMPTY: ConversionInput = {
  name: '',
  kit: '',
  motorKind: null,
  pack: '',
  use: '',
  fittedOn: null,
  km: null,
  kmOn: null,
  notes: '',
};

/** Fleets and customers' bikes: one line each, so that every conversion out there counts with its kilometres. */
export function ConversionsTab({ id }: { readonly id: string | undefined }) {
  const query = useListConversionsQuery();
  return (
    <QueryView query={query}>
      {(all) => {
        const chosen = all.find((one) => one.id === id);
        return chosen ? <OneConversion key={chosen.id} conversion={chosen} /> : <AllConversions all={all} />;
      }}
    </QueryView>
  );
}

function AllConversions({ all }: { readonly all: readonly Conversion[] }) {
  const system = useUnits();
  const [isAdding, setAdding] = useState(false);
  const shown = all.filter(({ archivedAt }) => archivedAt === null);
  return (
    <>
      <p className="quiet max-w-760">
        Bikes that you or others fitted and that nobody tests. A line each is enough: which kit, since when, how far.
        Without them only the faults would be counted, and never the kilometres on which nothing happened.
      </p>
      {shown.length > 0 && (
        <Wide label="Conversions">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Bike</th>
                <th scope="col">Kit</th>
                <th scope="col">Pack</th>
                <th scope="col">Use</th>
                <th scope="col">Fitted</th>
                <th scope="col" className="number">
                  Ridden
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.map(({ id, name, kit, pack, use, fittedOn, km, kmOn }) => (
                <tr key={id}>
                  <th scope="row" className="pair">
                    <Link to={`/logbook/conversions/${id}`}>{name}</Link>
                  </th>
                  <td>{kit || '–'}</td>
                  <td>{pack || '–'}</td>
                  <td>{use || '–'}</td>
                  <td className="figures">{fittedOn === null ? '–' : formatDay(fittedOn)}</td>
                  <td className="number">
                    {km === null || kmOn === null
                      ? '–'
                      : `${formatQuantity(km, 'km', system, 5)} by ${formatDay(kmOn)}`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Wide>
      )}
      <div className="section">
        {isAdding ? (
          <ConversionForm onDone={() => setAdding(false)} />
        ) : (
          <Button type="primary" onClick={() => setAdding(true)}>
            Add a conversion
          </Button>
        )}
      </div>
    </>
  );
}

function OneConversion({ conversion }: { readonly conversion: Conversion }) {
  const [isChanging, setChanging] = useState(false);
  const [archive] = useArchiveConversionMutation();
  const notices = useNotices();
  return (
    <>
      <div className="life-head">
        <h2>{conversion.name}</h2>
        <span className="quiet">{[conversion.kit, conversion.pack, conversion.use].filter(Boolean).join(', ')}</span>
        <Link to="/logbook/conversions">All out of sight</Link>
        <Button size="small" onClick={() => setChanging(!isChanging)}>
          Change
        </Button>
        <Button
          size="small"
          onClick={() =>
            void archive({ stored: conversion, archived: conversion.archivedAt === null }).then((result) => {
              if (!notices.failure(result))
                notices.success(
                  conversion.archivedAt === null ? 'Put away; it still counts among the faults.' : 'Brought back.',
                );
            })
          }
        >
          {conversion.archivedAt === null ? 'Put away' : 'Bring back'}
        </Button>
      </div>
      {isChanging && <ConversionForm stored={conversion} onDone={() => setChanging(false)} />}
      <LifeView subject={{ kind: 'conversion', id: conversion.id }} />
    </>
  );
}

function ConversionForm({ stored, onDone }: { readonly stored?: Conversion; readonly onDone: () => void }) {
  const [form] = Form.useForm<ConversionInput>();
  const [add, adding] = useAddConversionMutation();
  const [change, changing] = useChangeConversionMutation();
  const { success } = useNotices();
  const error = adding.error ?? changing.error;
  const meanwhile = conversionSchema.safeParse(storedMeanwhile(error));
  const store = async (version: number | undefined): Promise<void> => {
    const values = form.getFieldsValue();
    const blank = (text: string | null | undefined): string | null => (text ? text : null);
    const read = conversionInputSchema.safeParse({
      ...EMPTY,
      ...values,
      motorKind: values.motorKind ?? null,
      fittedOn: blank(values.fittedOn),
      kmOn: blank(values.kmOn),
      km: values.km ?? null,
    });
    if (!read.success) {
      form.setFields(read.error.issues.map(({ path, message }) => ({ name: path as never, errors: [message] })));
      return;
    }
    const { data } =
      stored && version !== undefined
        ? await change({ stored: { id: stored.id, version }, change: read.data })
        : await add(read.data);
    if (!data) return;
    success('Saved.');
    onDone();
  };
  return (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      className="conversion-form"
      initialValues={stored ?? EMPTY}
      onFinish={() => void store(stored?.version)}
    >
      <Form.Item name="name" label="Bike or customer's name for it">
        <Input maxLength={80} />
      </Form.Item>
      <Form.Item name="kit" label="Kit">
        <Input maxLength={80} />
      </Form.Item>
      <Form.Item name="motorKind" label="Kind of motor">
        <Select allowClear options={[...MOTOR_KINDS]} />
      </Form.Item>
      <Form.Item name="pack" label="Pack">
        <Input maxLength={80} />
      </Form.Item>
      <Form.Item name="use" label="Use">
        <Input maxLength={80} />
      </Form.Item>
      <Form.Item name="fittedOn" label="Fitted on">
        <Input type="date" />
      </Form.Item>
      <Form.Item name="km" label="Ridden since" rules={[readableNumber]}>
        <QuantityInput unit="km" />
      </Form.Item>
      <Form.Item name="kmOn" label="… by the day">
        <Input type="date" />
      </Form.Item>
      <Form.Item name="notes" label="Notes" className="wide">
        <Input.TextArea autoSize={{ minRows: 1, maxRows: 5 }} maxLength={4000} />
      </Form.Item>
      {meanwhile.success ? (
        <ConflictChoice
          what="This line was saved there since you opened it."
          differences={(['name', 'kit', 'pack', 'use', 'km', 'kmOn', 'notes'] as const)
            .map((key) => ({
              label: key,
              theirs: String(meanwhile.data[key] ?? '–'),
              mine: String(form.getFieldValue(key) ?? '–'),
            }))
            .filter(({ theirs, mine }) => theirs !== mine)}
          keepLabel="Overwrite with mine"
          takeLabel="Use the saved version"
          onKeepMine={() => void store(meanwhile.data.version)}
          onTakeTheirs={() => {
            form.setFieldsValue(meanwhile.data);
            changing.reset();
            onDone();
          }}
        />
      ) : (
        error !== undefined && <Problem error={error} />
      )}
      <div className="actions wide">
        <Button type="primary" htmlType="submit" loading={adding.isLoading || changing.isLoading}>
          Save
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </Form>
  );
}
