import { Button, Form, Modal } from 'antd';
import type { RunDetail } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { AssignmentFields, ReadingsFields, toAssignment, type AssignmentValues } from '../../entities/run/index.js';
import { useAssignRunMutation } from '../../entities/run/index.js';

/** Mends a run that was assigned to the wrong setup, course or outing; its figures are worked out again. */
export function ReassignForm({ run, onDone }: { readonly run: RunDetail; readonly onDone: () => void }) {
  const [form] = Form.useForm<AssignmentValues>();
  const kind = Form.useWatch('testKind', form) ?? run.testKind;
  const [assign, { isLoading, error }] = useAssignRunMutation();
  const save = async (values: AssignmentValues): Promise<void> => {
    const { notes, logSpan } = run;
    // What the form does not show stays as it is.
    const assignment = { ...toAssignment(values), notes, logSpan };
    const result = await assign({ id: run.id, version: run.version, assignment });
    if (!('error' in result)) onDone();
  };
  return (
    <Modal open title="Ride details" footer={null} onCancel={onDone} width={560}>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={{
          testKind: run.testKind,
          setupRevisionId: run.setup.revisionId,
          courseId: run.course.id,
          outingId: run.outing.id,
          riderId: run.rider?.id ?? null,
          loggerId: run.logger?.id ?? null,
          direction: run.direction,
          slotId: run.slotId,
          riding: run.riding,
          tyrePressureBar: run.tyrePressureBar,
          perceivedEffort: run.perceivedEffort,
          wheelFactor: run.wheelFactor,
          totalMassKg: run.totalMassKg,
          emptied: run.emptied,
          isPartWay: run.isPartWay,
          gauge: run.gauge,
          ruleOfThumbWhPerKm: run.ruleOfThumbWhPerKm,
          manualReadings: run.manualReadings,
        }}
        onFinish={(values) => void save(values)}
      >
        <AssignmentFields />
        <details className="mb-12" open={run.manualReadings !== null}>
          <summary>Read by hand</summary>
          <Form.Item name="manualReadings" noStyle>
            <ReadingsFields kind={kind} />
          </Form.Item>
        </details>
        {error !== undefined && <Problem error={error} />}
        <div className="actions">
          <Button type="primary" htmlType="submit" loading={isLoading}>
            Save and recalculate
          </Button>
          <Button onClick={onDone}>Cancel</Button>
        </div>
      </Form>
    </Modal>
  );
}
