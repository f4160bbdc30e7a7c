import { Button, Drawer, Form, Input, Select } from 'antd';
import { useNavigate } from 'react-router';
import { newSetupSchema, type PartKind, type RevisionInput, type Setup } from '@ebrix/contract';
import { Problem } from '../../shared/ui/Answer.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { useAddRevisionMutation, useAddSetupMutation, useListPartsQuery } from './api.js';

interface Values extends RevisionInput {
  readonly name?: string;
}
interface Props {
  /** A revision of this setup; a new setup without one. */
  readonly setup?: Setup;
  readonly onDone: () => void;
}

/** Parts and settings of a setup; for one that exists, a new revision that says what changed. */
export function RevisionForm({ setup, onDone }: Props) {
  const navigate = useNavigate();
  const [form] = Form.useForm<Values>();
  const draft = useDraft(`revision.${setup?.id ?? 'new'}`, form);
  const [add, adding] = useAddSetupMutation();
  const [addRevision, revising] = useAddRevisionMutation();
  const latest = setup?.revisions[0];
  const error = adding.error ?? revising.error;
  const submit = async (values: Values): Promise<void> => {
    const typed: Partial<Values['settings']> = values.settings ?? {};
    const settings = {
      assistLevel: typed.assistLevel ?? '',
      speedLimitKmh: typed.speedLimitKmh ?? null,
      note: typed.note ?? '',
    };
    const revision = { ...values, settings, change: values.change || (setup ? '' : 'As first fitted') };
    const parsed = newSetupSchema.safeParse({
      name: setup?.name ?? values.name ?? '',
      notes: setup?.notes ?? '',
      revision: {
        bikeId: revision.bikeId,
        kitId: revision.kitId,
        packIds: revision.packIds ?? [],
        settings: revision.settings,
        change: revision.change,
      },
    });
    if (!parsed.success) {
      form.setFields(
        parsed.error.issues.map(({ path, message, code }) => ({
          name: path.filter((part) => part !== 'revision') as never,
          errors: [code === 'invalid_type' ? 'Choose one.' : message],
        })),
      );
      return;
    }
    const result = await (setup ? addRevision({ id: setup.id, revision: parsed.data.revision }) : add(parsed.data));
    if (!('data' in result) || !result.data) return;
    draft.clear();
    onDone();
    if (!setup) void navigate(`/bench/setups/${result.data.id}`);
  };
  return (
    <Drawer open title={setup ? `New revision of ${setup.name}` : 'New setup'} onClose={onDone} size={430}>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        onValuesChange={draft.keep}
        onFinish={(values) => void submit(values)}
        initialValues={
          latest
            ? {
                bikeId: latest.bike.id,
                kitId: latest.kit.id,
                packIds: latest.packs.map(({ id }) => id),
                settings: latest.settings,
              }
            : {}
        }
      >
        {!setup && (
          <Form.Item
            name="name"
            label="Name"
            extra="As it should stand in verdicts, for example Corvane R2, 36 V rear hub"
          >
            <Input />
          </Form.Item>
        )}
        <Form.Item name="bikeId" label="Bike">
          <PartSelect kind="bikes" />
        </Form.Item>
        <Form.Item name="kitId" label="Kit">
          <PartSelect kind="kits" />
        </Form.Item>
        <Form.Item name="packIds" label="Packs" extra="Several are ridden in parallel">
          <PartSelect kind="packs" isMultiple />
        </Form.Item>
        <Form.Item name={['settings', 'assistLevel']} label="Assist level as tested">
          <Input />
        </Form.Item>
        <Form.Item
          name={['settings', 'speedLimitKmh']}
          label="Speed limit set"
          rules={[readableNumber]}
          extra="Check your local rules"
        >
          <QuantityInput unit="km/h" />
        </Form.Item>
        <Form.Item name={['settings', 'note']} label="Other settings">
          <Input.TextArea rows={2} />
        </Form.Item>
        <Form.Item name="change" label={setup ? 'What changed, and why' : 'What this first fitting is'}>
          <Input placeholder={setup ? 'For example: new tyres' : 'As first fitted'} />
        </Form.Item>
        {error !== undefined && <Problem error={error} />}
        <div className="actions" style={{ marginTop: 12 }}>
          <Button type="primary" htmlType="submit" loading={adding.isLoading || revising.isLoading}>
            Save
          </Button>
          <Button onClick={onDone}>Cancel</Button>
        </div>
      </Form>
    </Drawer>
  );
}

interface SelectProps {
  readonly kind: PartKind;
  readonly isMultiple?: boolean;
  readonly id?: string;
  readonly value?: string | string[];
  readonly onChange?: (value: string | string[]) => void;
}

function PartSelect({ kind, isMultiple = false, ...rest }: SelectProps) {
  const { data: parts } = useListPartsQuery(kind);
  return (
    <Select
      {...rest}
      {...(isMultiple && { mode: 'multiple' as const })}
      showSearch={{ optionFilterProp: 'label' }}
      options={(parts ?? [])
        .filter(({ archivedAt }) => archivedAt === null)
        .map(({ id, name }) => ({ value: id, label: name }))}
      notFoundContent="None yet: add one on the bench first."
    />
  );
}
