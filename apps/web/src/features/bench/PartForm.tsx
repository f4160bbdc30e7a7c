import { Button, Drawer, Form, Input, Select } from 'antd';
import { partInputSchemas, type Part, type PartKind } from '@ebrix/contract';
import { Problem } from '../../shared/ui/Answer.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { useSavePartMutation } from './api.js';
import { PART_WORDS, type PartField } from './part-fields.js';

interface Props {
  readonly kind: PartKind;
  readonly part: Part | undefined;
  readonly onDone: (saved: Part | undefined) => void;
}

/** One form for bikes, kits, packs, riders and loggers: the fields come from a table, the rules from the contract. */
export function PartForm({ kind, part, onDone }: Props) {
  const [form] = Form.useForm<Record<string, unknown>>();
  const draft = useDraft(`${kind}.${part?.id ?? 'new'}`, form);
  const [save, { isLoading, error }] = useSavePartMutation();
  const words = PART_WORDS[kind];
  const submit = async (values: Record<string, unknown>): Promise<void> => {
    const filled = Object.fromEntries(
      words.fields.map(({ name, kind: field }) => [
        name,
        values[name] ?? (field === 'text' || field === 'notes' ? '' : null),
      ]),
    );
    const parsed = partInputSchemas[kind].safeParse(filled);
    if (!parsed.success) {
      form.setFields(parsed.error.issues.map(({ path, message }) => ({ name: path as string[], errors: [message] })));
      return;
    }
    const result = await save({ kind, input: parsed.data, ...(part && { stored: part }) });
    if (!('data' in result) || !result.data) return;
    draft.clear();
    onDone(result.data);
  };
  return (
    <Drawer open title={part ? part.name : `New ${words.one}`} onClose={() => onDone(undefined)} size={430}>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={part ?? {}}
        onValuesChange={draft.keep}
        onFinish={(values) => void submit(values)}
      >
        {words.fields.map((field) => (
          <Form.Item
            key={field.name}
            name={field.name}
            label={field.label}
            {...(field.help && { extra: field.help })}
            rules={field.kind === 'number' || field.kind === 'whole' ? [readableNumber] : []}
          >
            {inputOf(field)}
          </Form.Item>
        ))}
        {error !== undefined && <Problem error={error} />}
        <div className="actions" style={{ marginTop: 12 }}>
          <Button type="primary" htmlType="submit" loading={isLoading}>
            Save
          </Button>
          <Button
            onClick={() => {
              draft.clear();
              onDone(undefined);
            }}
          >
            Cancel
          </Button>
        </div>
      </Form>
    </Drawer>
  );
}

function inputOf({ kind, unit, choices, label }: PartField) {
  switch (kind) {
    case 'number':
    case 'whole':
      // Shares are stored as fractions and written in per cent.
      return unit === '%' ? <QuantityInput unit="1" shownAs="%" /> : <QuantityInput unit={unit ?? 'level'} />;
    case 'choice':
      return <Select options={[...(choices ?? [])]} aria-label={label} />;
    case 'notes':
      return <Input.TextArea rows={3} />;
    case 'text':
      return <Input />;
  }
}
