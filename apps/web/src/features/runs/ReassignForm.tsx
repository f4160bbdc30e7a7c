import { Button, Form, Modal } from 'antd';
import type { RunDetail } from '@ebrix/contract';
import { Problem } from '../../shared/ui/Answer.js';
import { AssignmentFields, toAssignment, type AssignmentValues } from '../imports/index.js';
import { useAssignRunMutation } from './api.js';

/** Mends a run that was assigned to the wrong setup, course or outing; its figures are worked out again. */
export function ReassignForm({ run, onDone }: { readonly run: RunDetail; readonly onDone: () => void }) {
  const [form] = Form.useForm<AssignmentValues>();
  const [assign, { isLoading, error }] = useAssignRunMutation();
  const save = async (values: AssignmentValues): Promise<void> => {
    const { testKind, direction, slotId, hand, notes } = run;
    // What the form does not show stays as it is.
    const assignment = { ...toAssignment(values), testKind, direction, slotId, hand, notes };
    const result = await assign({ id: run.id, version: run.version, assignment });
    if (!('error' in result)) onDone();
  };
  return (
    <Modal open title="What was ridden" footer={null} onCancel={onDone} width={560}>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={{
          setupRevisionId: run.setup.revisionId,
          courseId: run.course.id,
          outingId: run.outing.id,
          riderId: run.rider?.id ?? null,
          loggerId: run.logger?.id ?? null,
          totalMassKg: run.totalMassKg,
          emptied: run.emptied,
          gauge: run.gauge,
          ruleOfThumbWhPerKm: run.ruleOfThumbWhPerKm,
        }}
        onFinish={(values) => void save(values)}
      >
        <AssignmentFields />
        {error !== undefined && <Problem error={error} />}
        <div className="actions">
          <Button type="primary" htmlType="submit" loading={isLoading}>
            Save and work it out again
          </Button>
          <Button onClick={onDone}>Leave as it is</Button>
        </div>
      </Form>
    </Modal>
  );
}
