import { Button, Form, Input, Modal, Select } from 'antd';
import { outingInputSchema, type Outing } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { useSaveOutingMutation } from './api.js';

const WIND_FROM = ['north', 'north-east', 'east', 'south-east', 'south', 'south-west', 'west', 'north-west'].map(
  (label, k) => ({ value: 45 * k, label }),
);

interface Props {
  /** An outing to correct; a new one without. */
  readonly outing?: Outing;
  readonly onDone: (outing: Outing | undefined) => void;
}

/** A trip out with its weather. */
export function OutingForm({ outing, onDone }: Props) {
  const [form] = Form.useForm<Record<string, unknown>>();
  const draft = useDraft(`outing.${outing?.id ?? 'new'}`, form);
  const [save, { isLoading, error }] = useSaveOutingMutation();
  const submit = async (): Promise<void> => {
    const values = form.getFieldsValue(true) as Record<string, unknown>;
    const parsed = outingInputSchema.safeParse({
      title: values['title'] ?? '',
      date: values['date'] ?? '',
      airTemperatureC: values['airTemperatureC'] ?? null,
      airPressureHpa: values['airPressureHpa'] ?? null,
      relativeHumidity: values['relativeHumidity'] ?? null,
      windMps: values['windMps'] ?? null,
      windFromDeg: values['windFromDeg'] ?? null,
      notes: values['notes'] ?? '',
    });
    if (!parsed.success) {
      form.setFields(parsed.error.issues.map(({ path, message }) => ({ name: path as string[], errors: [message] })));
      return;
    }
    const result = await save({ input: parsed.data, ...(outing && { stored: outing }) });
    if (!('data' in result) || !result.data) return;
    draft.clear();
    onDone(result.data);
  };
  return (
    <Modal
      open
      title={outing ? 'Edit outing' : 'New outing'}
      footer={null}
      onCancel={() => onDone(undefined)}
      width={460}
    >
      {/* Within the import's form in React, so its own submit must not bubble there. */}
      <Form
        form={form}
        component={false}
        layout="vertical"
        requiredMark={false}
        initialValues={outing ?? {}}
        onValuesChange={draft.keep}
      >
        <Form.Item name="date" label="Day">
          <Input type="date" autoFocus />
        </Form.Item>
        <Form.Item name="title" label="Title" extra="For example Level round, morning 3">
          <Input />
        </Form.Item>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', columnGap: 16 }}>
          <Form.Item name="airTemperatureC" label="Air temperature" rules={[readableNumber]}>
            <QuantityInput unit="°C" />
          </Form.Item>
          <Form.Item name="windMps" label="Wind" rules={[readableNumber]}>
            <QuantityInput unit="m/s" />
          </Form.Item>
          <Form.Item name="windFromDeg" label="Wind from">
            <Select allowClear placeholder="not noted" options={[...WIND_FROM]} />
          </Form.Item>
          <Form.Item name="airPressureHpa" label="Air pressure, hPa" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item name="relativeHumidity" label="Humidity" rules={[readableNumber]}>
            <QuantityInput unit="1" shownAs="%" />
          </Form.Item>
        </div>
        <Form.Item name="notes" label="Notes">
          <Input.TextArea rows={2} />
        </Form.Item>
        {error !== undefined && <Problem error={error} />}
        <div className="actions">
          <Button type="primary" loading={isLoading} onClick={() => void submit()}>
            Save outing
          </Button>
          <Button onClick={() => onDone(undefined)}>Cancel</Button>
        </div>
      </Form>
    </Modal>
  );
}
