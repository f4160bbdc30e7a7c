import { Button, Form, Input, Modal } from 'antd';
import { exclusionInputSchema, type RunDetail } from '@ebrix/contract';
import { errorMessage } from '../../shared/api/base-api.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { useExcludeRunMutation } from '../../entities/run/index.js';

interface Props {
  readonly run: RunDetail;
  readonly onDone: (excluded: RunDetail | undefined) => void;
}

/** Leaves a run out of comparisons; the reason is kept with it and shown wherever the run is. */
export function ExcludeForm({ run, onDone }: Props) {
  const [form] = Form.useForm<{ reason: string }>();
  const draft = useDraft(`exclude.${run.id}`, form);
  const [exclude, { isLoading, error }] = useExcludeRunMutation();
  const save = async ({ reason }: { reason: string }): Promise<void> => {
    const result = await exclude({ id: run.id, version: run.version, reason });
    if (!('data' in result) || !result.data) return;
    draft.clear();
    onDone(result.data);
  };
  return (
    <Modal open title="Leave this run out" footer={null} onCancel={() => onDone(undefined)}>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        onValuesChange={draft.keep}
        onFinish={(values) => void save(values)}
      >
        <p className="mb-12">It stays saved and is drawn hollow; verdicts are shown with and without it.</p>
        <Form.Item
          name="reason"
          label="Why"
          extra="For example: pack not full at the start."
          rules={[{ validator: (_r, value: unknown) => check(value) }]}
        >
          <Input.TextArea rows={3} autoFocus />
        </Form.Item>
        {error !== undefined && (
          <p role="alert" className="problem">
            {errorMessage(error)}
          </p>
        )}
        <div className="actions mt-16">
          <Button type="primary" htmlType="submit" loading={isLoading}>
            Leave out
          </Button>
          <Button onClick={() => onDone(undefined)}>Cancel</Button>
        </div>
      </Form>
    </Modal>
  );
}

function check(value: unknown): Promise<void> {
  const parsed = exclusionInputSchema.shape.reason.safeParse(value ?? '');
  return parsed.success ? Promise.resolve() : Promise.reject(new Error(parsed.error.issues[0]!.message));
}
